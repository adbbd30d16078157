import { type AdjustmentFigures } from '@longheron/contract/kinds/adjustment';
import { KNOT_SIZE, type Adjustment } from '@longheron/core/laser';
import { type Notice } from '@longheron/core/shared';
import { centimetres, millimetres, percent } from '../shared/words';

/** After the adjustment lines may differ by so many times what the scatter of points lets expect. */
const STILL_APART = 1.5;
const MANY_DOWN_WEIGHTED = 0.15;

/** What a surveyor should know before the result is used. */
export function noticesOf(a: Adjustment, f: AdjustmentFigures, heads: readonly string[]): Notice[] {
  return [...ofMounting(a, f, heads), ...ofLines(a, f), ...ofControl(f)];
}

function ofMounting(a: Adjustment, f: AdjustmentFigures, heads: readonly string[]): Notice[] {
  const out: Notice[] = [];
  for (const h of a.contradicted)
    out.push({
      code: 'strips-contradicted',
      severity: 'warning',
      text: `The boresight of ${heads[h]} is not what the mounting says, by more than both deviations explain.`,
      effect: 'The mounting’s deviations were set aside; the lines alone determine it.',
      remedy: 'Ask when the instrument was last moved; keep the calibrated mounting for its next sessions.',
    });
  for (const held of f.held.filter((h) => h.unit !== ''))
    out.push({
      code: 'strips-held',
      severity: 'warning',
      text: `${held.what[0].toUpperCase()}${held.what.slice(1)} is held: ${held.reason}.`,
      effect:
        held.sd === null
          ? 'It stays as the mounting says.'
          : `Lines alone would tell it to ${held.unit === '°' ? `${held.sd.toFixed(4)}°` : millimetres(held.sd)} (1 SD); it stays as the mounting says.`,
      remedy: 'Next time add a line across the others, or lines both ways over roofs and banks.',
    });
  return out;
}

const COMPONENTS = ['north', 'east', 'height', 'roll', 'pitch', 'heading'];

function ofLines(a: Adjustment, f: AdjustmentFigures): Notice[] {
  const out: Notice[] = [];
  const worse = COMPONENTS.flatMap((name, c) =>
    a.knots.worse[c] > 1 ? [`${name} ${a.knots.worse[c].toFixed(1)} times`] : [],
  );
  if (worse.length)
    out.push({
      code: 'strips-trajectory-sd',
      severity: 'info',
      text: `The trajectory errs by more than it states, as the strips show: ${worse.join(', ')}.`,
      effect: 'Its deviations entered multiplied by that, so that those of the mounting hold.',
      remedy: 'Computed again with the right grade of the inertial unit, a trajectory states better what it is worth.',
    });
  a.knots.loose.forEach((by, l) => {
    if (by <= 1) return;
    const { first } = a.knots;
    let most = 0;
    for (let k = first[l]; k < first[l + 1]; k++) {
      const v = a.errors.value[KNOT_SIZE * k + 2];
      if (Math.abs(v) > Math.abs(most)) most = v;
    }
    out.push({
      code: 'strips-drift',
      severity: 'warning',
      text: `The trajectory of strip ${l + 1} is up to ${centimetres(Math.abs(most))} too ${most > 0 ? 'high' : 'low'}, more than its deviations explain.`,
      effect: 'Its heights follow the other strips, not its own deviations.',
      remedy: 'Look at its satellites and at the solution of these minutes; compute the trajectory again if you can.',
    });
  });
  const seen = new Set(f.overlaps.flatMap((p) => [p.first.strip, p.second.strip]));
  for (const s of f.strips.filter((strip) => strip.points > 0 && !seen.has(strip.id)))
    out.push({
      code: 'strips-alone',
      severity: 'warning',
      text: `Strip ${s.id} shares no planar ground with another.`,
      effect: 'It gets the calibrated mounting, but its own errors stay unseen.',
      remedy: 'Lengthen strips so that they overlap, or lower the shortest strip.',
    });
  // besides their points' scatter, patches are not quite planes
  const expected = Math.hypot(f.noise_m, Math.SQRT2 * f.patch_sd_m);
  if (f.after_m > STILL_APART * expected)
    out.push({
      code: 'strips-apart',
      severity: 'warning',
      text: `Strips still differ by ${millimetres(f.after_m)} RMS; the scatter of points and surfaces lets ${millimetres(expected)} expect.`,
      effect: 'Something is left that mounting and trajectory do not explain.',
      remedy: 'Look at the worst pairs; solve for drift as well, or leave a bad strip out.',
    });
  if (f.down_weighted_share > MANY_DOWN_WEIGHTED)
    out.push({
      code: 'strips-outliers',
      severity: 'info',
      text: `${percent(f.down_weighted_share)} of the patches count for less than half.`,
      effect: 'Vegetation, vehicles or moved things lie in the overlaps.',
    });
  return out;
}

function ofControl(f: AdjustmentFigures): Notice[] {
  const out: Notice[] = [];
  const off = f.control.filter((m) => m.strips > 0 && !m.used);
  for (const m of off)
    out.push({
      code: 'strips-mark-left-out',
      severity: 'warning',
      text: `Control mark ${m.name} does not fit: the points lie ${centimetres(m.before_m ?? 0)} from it before, ${centimetres(m.after_m ?? 0)} after.`,
      effect: 'It was left out.',
      remedy: 'Check its height, its unit and its place.',
    });
  const lost = f.control.filter((m) => m.strips === 0);
  if (lost.length)
    out.push({
      code: 'strips-mark-not-found',
      severity: 'info',
      text: `No planar ground was found at ${lost.length === 1 ? 'control mark' : 'control marks'} ${lost.map((m) => m.name).join(', ')}.`,
      effect: 'Did not enter.',
    });
  return out;
}
