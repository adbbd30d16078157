import { writeFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import { type DifferenceFigures, type LineCheckFigures } from '@longheron/contract/kinds/line-check';
import declaration from '@longheron/contract/operations/line-check';
import { part, Problem, type Notice } from '@longheron/core/shared';
import { compareLines, OrderCounts, soundingSpacingM, type LineDifferences } from '@longheron/core/sonar';
import { computation } from '../computation/types';
import { soundingsOf } from '../depths/soundings';
import { ReportBuilder } from '../shared/report';
import { jsonHash } from '../shared/store';
import { centimetres, finite } from '../shared/words';
import { lineCheckChapter } from './chapter';

const CELLS_A_SPACING = 4;
const SMALLEST_CELL_M = 1;
/** So many must keep an order. */
const SHARE = 0.95;

const csv = ({ figures }: Contents['line-check']) =>
  `a,b,cells,mean_m,sd_m\n${figures.by_pair.map((p) => `${p.a},${p.b},${p.cells},${p.mean_m.toFixed(4)},${p.sd_m.toFixed(4)}\n`).join('')}`;

/** Lines of soundings against each other. */
export default computation(
  declaration,
  async ({ cloud }, settings, _context, out, watch) => {
    const builder = new ReportBuilder('line-check', settings);
    const { soundings: s, line, angleDeg, sdPlanM, system } = await soundingsOf(cloud, part(watch, 0, 0.6));
    if (!line.some((l) => l !== line[0]))
      throw new Problem('The soundings are of one line alone.', {
        code: 'line-check-one',
        file: cloud.name,
        remedy: 'Choose a cloud of several lines that overlap or cross.',
      });
    const spacing = soundingSpacingM(s);
    const cellM = settings.cellM ?? Math.max(SMALLEST_CELL_M, CELLS_A_SPACING * spacing);
    const count = s.eastingM.length;
    const compared = compareLines(
      { count, x: about(s.eastingM), y: about(s.northingM), h: s.heightM, line, angleDeg },
      cellM,
    );
    if (!compared.cells)
      throw new Problem(`No two lines share a cell of ${cellM.toFixed(2)} m.`, {
        code: 'line-check-apart',
        file: cloud.name,
        remedy: 'Choose lines that overlap, or a larger cell.',
      });
    const orders = new OrderCounts();
    if (s.sdHM && sdPlanM)
      for (let i = 0; i < count; i++) orders.add(settings.datumM - s.heightM[i], s.sdHM[i], sdPlanM[i]);
    else
      builder.notice({
        code: 'line-check-sd',
        severity: 'warning',
        file: cloud.name,
        text: 'The soundings state no deviations: orders of survey cannot be counted.',
      });
    const known = orders.counts.filter((o) => o.soundings > 0);
    const figures: LineCheckFigures = {
      soundings: count,
      cell_m: cellM,
      cells: compared.cells,
      wild: compared.wild,
      all: named(compared.all),
      by_angle: compared.byAngle.map((b) => ({ from_deg: b.fromDeg, to_deg: b.toDeg, ...named(b) })),
      by_line: compared.byLine.map((l) => ({ line: l.line, ...named(l) })),
      by_pair: compared.byPair.map((p) => ({
        a: p.a,
        b: p.b,
        cells: p.cells,
        mean_m: p.meanM,
        sd_m: finite(p.sdM) ?? 0,
      })),
      bends: compared.bends.map((b) => ({ line: b.line, outer_m: b.outerM, sd_m: b.sdM })),
      orders: known.map(({ order, ...counts }) => ({ order: order.name, ...counts })),
      kept: known.find((o) => o.both >= SHARE * o.soundings)?.order.name ?? null,
    };
    for (const n of noticesOf(figures)) builder.notice(n);
    const content = { figures };
    if (out.wanted('table')) await out.file('table', 'csv', (path) => writeFile(path, csv(content)));
    const { all } = figures;
    return {
      content,
      hash: jsonHash(content),
      report: builder.finish(system?.label ?? (cloud.crs || null), figures),
      log: [`${figures.cells} cells shared by lines.`],
      lines: [
        `Lines differ by ${centimetres(all.mean_m)} on the mean, SD ${centimetres(all.sd_m)}, 95 % within ${centimetres(all.p95_m)} (${figures.cells} cells of ${cellM.toFixed(2)} m).`,
        ...figures.orders.map(
          (o) =>
            `IHO S-44 edition 6, ${o.order}: ${((100 * o.both) / o.soundings).toFixed(1)} % of ${o.soundings} soundings keep it.`,
        ),
        ...figures.bends.map((b) => bendSaid(b)),
      ],
    };
  },
  { chapter: lineCheckChapter, exports: { pairs: csv } },
);

/** About the first: sums of large numbers lose digits. */
const about = (v: Float64Array) => v.map((x) => x - v[0]);

const named = (d: LineDifferences): DifferenceFigures => ({
  n: d.n,
  mean_m: d.meanM,
  sd_m: finite(d.sdM) ?? 0,
  rms_m: d.rmsM,
  p95_m: d.p95M,
});

const bendSaid = ({ line, outer_m }: LineCheckFigures['bends'][number]) =>
  `Line ${line}: its outer beams lie ${centimetres(Math.abs(outer_m))} too ${outer_m > 0 ? 'high (a smile)' : 'low (a frown)'} against the other lines.`;

function noticesOf(f: LineCheckFigures): Notice[] {
  return f.bends.map((b) => ({
    code: 'line-bends',
    severity: 'warning' as const,
    text: bendSaid(b),
    effect: 'Outer beams err by the water: its speed of sound was another than the cast says.',
    remedy: 'Reduce the line with a cast of its own time and place, or reject its outer beams.',
  }));
}
