import declaration from '@longheron/contract/operations/stops';
import { computation, placed } from '../computation/types';
import { fileFacts } from '@longheron/formats/format';
import { factsOf } from '../shared/inspect';
import { crsFrom, namesOf } from '../shared/words';
import { marksFromStops } from './stops';

export { marksFromStops } from './stops';

const mm = (m: number) => `${(1000 * m).toFixed(1)} mm`;

/** Marks from the stops of an antenna. */
export default computation(declaration, async ({ trajectory, occupations, known }, settings, context, out) => {
  const crs = crsFrom(context);
  let made!: Awaited<ReturnType<typeof marksFromStops>>;
  const csv = await out.file('marks', 'marks', async (outPath) => {
    made = await marksFromStops({
      trajectoryPath: trajectory.path,
      occupationsPath: occupations?.path,
      crs,
      settings,
      outPath,
      known: known.flatMap((k) => k.marks),
      names: namesOf([trajectory, occupations]),
    });
  });
  const { report, marks } = made;
  const name = declaration.resultName;
  return {
    content: {
      object: csv.sha256,
      facts: out.keeps ? await factsOf(out.store.path(csv.sha256), name) : fileFacts(name, csv.bytes, 'marks'),
      marks: marks.map((m) => m.mark),
      crs,
      stops: marks.map(({ stop, mark, near }) => ({ ...stop, name: mark.name, near: near ?? null })),
    },
    hash: csv.sha256,
    report: { ...report, notices: placed(report.notices) },
    log: [`${marks.length} marks.`],
    lines: marks.map(({ mark, stop, near }) => {
      const off = near ? `, off ${near.name} by ${near.differenceM.map((d) => mm(d)).join(', ')} (E, N, H)` : '';
      return `${mark.name}: ${stop.solution}, ${stop.used} of ${stop.epochs} epochs, E ${mark.eastingM.toFixed(4)} N ${mark.northingM.toFixed(4)} H ${mark.heightM.toFixed(4)}, 1 SD ${mm(mark.sdEM!)}, ${mm(mark.sdNM!)}, ${mm(mark.sdHM!)}${off}`;
    }),
  };
});
