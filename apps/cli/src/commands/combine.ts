import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { type MergedStrips } from '@longheron/formats/las';
import { mergeClouds, reprojectCloud } from '@longheron/operations/combine';
import { ReportBuilder } from '@longheron/operations/shared';
import { type Command } from './command';

const STRIPS: MergedStrips[] = ['same', 'apart', 'by time'];

/** Several clouds of one system as one. */
export const merge: Command = {
  options: { in: 'string', out: 'string', strips: 'string' },
  async run(o, watch) {
    const strips = o.text('strips');
    if (strips && !STRIPS.includes(strips as MergedStrips))
      throw new Problem(`"${strips}" says nothing of strips.`, {
        code: 'option',
        remedy: `Known are ${STRIPS.join(', ')}.`,
      });
    const inputs = o.list('in');
    if (inputs.length < 2)
      throw new Problem('Two clouds at least are needed.', { code: 'option', remedy: 'Give --in A,B.' });
    o.must('out');
    const out = o.output('out', inputs)!;
    const builder = new ReportBuilder('merge', {});
    for (const path of inputs) await builder.input(path);
    const files = inputs.map((path) => ({ path, name: path }));
    const made = await mergeClouds(files, out, new Date(), strips as MergedStrips | undefined, watch);
    const lines = [`${made.written} points of ${inputs.length} clouds, point format ${made.pointFormat}.`];
    made.stripsMovedBy.forEach((by, i) => by && lines.push(`Strips of ${inputs[i]} were moved up by ${by}.`));
    if (made.lost.length) lines.push(`Not carried over: ${made.lost.join('; ')}.`);
    return { report: builder.finish('', { points: made.written, not_carried_over: made.lost }), lines };
  },
};

/** A cloud in another coordinate system. */
export const reproject: Command = {
  options: { in: 'string', out: 'string', to: 'string', from: 'string' },
  async run(o, watch) {
    const path = o.must('in');
    o.must('out');
    const out = o.output('out', [path])!;
    const to = parseSystem(o.must('to'));
    const stated = o.text('from');
    const builder = new ReportBuilder('reproject', { to: to.label, from: stated });
    await builder.input(path);
    const made = await reprojectCloud(path, out, to, stated ? parseSystem(stated) : undefined, watch);
    const lines = [`${made.written} points carried from ${made.from.label} to ${to.label}, without a shift of datum.`];
    return { report: builder.finish(to.label, { points: made.written }), lines };
  },
};
