import { Problem } from '@longheron/core/shared';
import { handOver, type HandoverRequest } from '@longheron/operations/handover';
import { type Command } from './command';

export const trajectory: Command = {
  options: {
    ...{ in: 'string', crs: 'string', heights: 'string', geoid: 'string', rate: 'string', out: 'string' },
    ...{ geographic: 'boolean', bicubic: 'boolean' },
  },
  async run(o) {
    const source = o.must('in');
    const geoidPath = o.text('geoid');
    const heights = (o.text('heights') ?? (geoidPath ? 'geoid' : 'project')) as HandoverRequest['heights'];
    if (!['ellipsoidal', 'project', 'geoid'].includes(heights))
      throw new Problem(`--heights is "${heights}"; ellipsoidal, project and geoid are known.`, {
        code: 'option',
        remedy: 'See --help.',
      });
    o.must('out');
    const { report, rows } = await handOver({
      ...{ trajectoryPath: source, crs: o.must('crs'), heights, geoidPath },
      plan: o.flag('geographic') ? 'geographic' : 'grid',
      interpolation: o.flag('bicubic') ? 'bicubic' : 'bilinear',
      rateHz: o.number('rate', 0.001, 10000),
      outPath: o.output('out', geoidPath ? [source, geoidPath] : [source])!,
    });
    return { report, lines: [`${rows} rows, heights ${String(report.heights)}.`] };
  },
};
