import { type AdjustmentFigures, type ParameterFigures } from '@longheron/contract/kinds/adjustment';
import { percent } from '../shared/words';

const mm = (v: number | null) => (v === null ? '–' : `${(1000 * v).toFixed(1)} mm`);
const isAngle = (p: ParameterFigures) => ['roll', 'pitch', 'heading'].includes(p.name);

function found(p: ParameterFigures): string {
  const value = (v: number) => (isAngle(p) ? `${v.toFixed(4)}°` : mm(v));
  return `${p.head}, ${p.name}: ${value(p.before)} → ${value(p.after)}, 1 SD ${p.sd === null ? 'unknown' : value(p.sd)}`;
}

/** What the command prints. */
export function linesOf(f: AdjustmentFigures): string[] {
  const all = f.returns_in_strips + f.returns_outside + f.left_out.reduce((s, p) => s + p.points, 0);
  return [
    `${f.strips.length} strips with ${percent(f.returns_in_strips / Math.max(1, all))} of the returns, ${f.patches} differences in cells of ${f.cell_m.toFixed(1)} m.`,
    `Differences between strips: RMS ${mm(f.before_m)} before, ${mm(f.after_m)} after; the scatter of the points lets ${mm(f.noise_m)} expect.`,
    ...(f.plan_before_m === null
      ? []
      : [
          `In plan, on slopes in ${f.plan_places} places: RMS ${mm(f.plan_before_m)} before, ${mm(f.plan_after_m)} after.`,
        ]),
    ...f.parameters.filter((p) => p.solved).map(found),
    ...f.held.map((h) => `Held: ${h.what} (${h.reason}).`),
    ...f.control.map((m) =>
      m.strips
        ? `Control ${m.name}: points less mark ${mm(m.before_m)} before, ${mm(m.after_m)} after${m.used ? '' : ', left out'}`
        : `Control ${m.name}: no planar ground found`,
    ),
  ];
}
