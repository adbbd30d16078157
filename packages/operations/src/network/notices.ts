import { type Adjustment, type Loop } from '@longheron/core/network';
import { type ReportBuilder } from '../shared/report';
import { type ComputedVector } from './types';

/** Standardised residual that one observation in a thousand exceeds by chance (Baarda 1968). */
export const TEST_LIMIT = 3.29;
/** A loop that leaves over more of its deviations than this is said. */
const LOOP_LIMIT = 3.5;
/** A held point that moves by more of its deviations than this is said. */
const MOVED_LIMIT = 3;

const mm = (m: number) => `${(1000 * m).toFixed(0)} mm`;
const label = (o: { from: string; to: string }) => `${o.from} to ${o.to}`;

/** What speaks against a network, most telling first. */
export function networkNotices(
  builder: ReportBuilder,
  vectors: ComputedVector[],
  { observations, points, freedom, varianceFactor, expected, scale }: Adjustment,
  loops: Loop[],
): void {
  for (const v of vectors.filter((x) => x.mean.solution !== 'fixed'))
    builder.notice({
      code: 'network-float',
      severity: 'warning',
      place: label(v),
      text: `The vector ${label(v)} is not fixed (${(100 * v.mean.fixedShare).toFixed(0)} % of its epochs are).`,
      effect: 'It is good to decimetres at best, and counts for that much.',
      remedy: 'Record longer, or use a nearer station.',
    });
  const unchecked = points.filter((p) => !p.checked);
  if (unchecked.length)
    builder.notice({
      code: 'network-unchecked',
      severity: 'warning',
      place: unchecked.map((p) => p.name).join(', '),
      text: `Nothing checks ${unchecked.map((p) => p.name).join(', ')}: only a single vector carries each.`,
      effect: 'A wrong antenna height or a wrong mark would not be seen.',
      remedy: 'Add a vector to another held point, another session, or a levelled height.',
    });
  if (freedom > 0 && varianceFactor > expected[1])
    builder.notice({
      code: 'network-variance',
      severity: 'warning',
      text: `Residuals are larger than the stated deviations allow: variance factor ${varianceFactor.toFixed(2)}, at most ${expected[1].toFixed(2)} expected.`,
      effect: `Deviations of the points are multiplied with ${scale.toFixed(2)}.`,
      remedy: 'Look at the largest residual and at the held coordinates: another frame or epoch shows like this.',
    });
  const worst = observations.reduce((a, b) => (b.test > (a?.test || 0) ? b : a), observations[0]);
  if (worst && worst.test > TEST_LIMIT)
    builder.notice({
      code: 'network-residual',
      severity: 'warning',
      place: label(worst.observation),
      text: `The ${worst.observation.kind} ${label(worst.observation)} is ${worst.test.toFixed(1)} deviations off.`,
      remedy: 'Check antenna height and mark at both ends; leave it out and adjust again to see.',
    });
  for (const p of points) {
    const moved = p.movedM;
    if (!moved) continue;
    const k = [0, 1, 2].find((i) => Math.abs(moved[i]) > MOVED_LIMIT * Math.max(p.heldSdM![i], 1e-3));
    if (k !== undefined)
      builder.notice({
        code: 'network-held-moves',
        severity: 'warning',
        place: p.name,
        text: `The held point ${p.name} is drawn ${mm(moved[k])} ${k === 2 ? 'in height' : 'in plan'} from its coordinates.`,
        effect: 'Its coordinates disagree with the others: another frame, another epoch, or a wrong mark.',
      });
  }
  for (const l of loops) {
    const k = [0, 1, 2].find((i) => Math.abs(l.misclosureM[i]) > LOOP_LIMIT * l.sdM[i]);
    if (k === undefined) continue;
    builder.notice({
      code: 'network-loop',
      severity: 'warning',
      place: l.names.join(', '),
      text: `The loop ${l.names.join(' – ')} leaves over ${mm(Math.abs(l.misclosureM[k]))} ${k === 2 ? 'in height' : 'in plan'}.`,
      remedy: 'One of its vectors, or one of its held points, is wrong.',
    });
  }
}
