import { positionEvents } from '@longheron/operations/events';
import { type Command } from './command';

export const events: Command = {
  options: {
    ...{ trajectory: 'string', events: 'string', mount: 'string', sensor: 'string', out: 'string' },
    ...{ 'trajectory-crs': 'string', 'leave-out-strays': 'boolean' },
  },
  async run(o, watch) {
    const inputs = [o.must('trajectory'), o.must('events')];
    const mount = o.text('mount');
    o.must('out');
    const { report } = await positionEvents(
      {
        trajectoryPath: inputs[0],
        eventsPath: inputs[1],
        mountingPath: mount,
        sensor: o.text('sensor'),
        leaveOutStrays: o.flag('leave-out-strays'),
        trajectoryCrs: o.text('trajectory-crs'),
        outPath: o.output('out', mount ? [...inputs, mount] : inputs)!,
      },
      watch,
    );
    const arm = report.lever_arm_applied ? 'its lever arm applied' : 'no lever arm applied';
    const lines = [
      `${report.positions} of ${report.events} events, at ${report.point}, ${arm}.`,
      ...report.notices.map((n) => `${n.severity}: ${n.text} ${n.effect ?? ''} ${n.remedy ?? ''}`.trim()),
    ];
    return { report, lines };
  },
};
