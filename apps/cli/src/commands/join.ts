import { Problem } from '@longheron/core/shared';
import { joinSessions } from '@longheron/operations/join';
import { type Command } from './command';

export const join: Command = {
  options: { in: 'string', out: 'string' },
  async run(o) {
    const inputs = o.list('in');
    if (inputs.length < 2)
      throw new Problem('Two trajectories at least are needed.', { code: 'option', remedy: 'Give --in A,B.' });
    o.must('out');
    const { report, trajectory } = await joinSessions(inputs, o.output('out', inputs)!);
    const lines = [`${trajectory.sow.length} epochs of ${inputs.length} sessions.`];
    return { report, lines };
  },
};
