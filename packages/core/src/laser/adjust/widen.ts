import { knotSd, type Knots, KNOT_SIZE } from './knots';

/** A line whose height errs by this many stated deviations drifts; the deviation is then multiplied. */
const DRIFTS_FROM = 2.5;
const LOOSEN = 4;
const MAX_LOOSE = 64;

/** Lets heights of lines go that err by more than their deviations. @returns whether any was. */
export function loosen(knots: Knots, unknown: Float64Array, globals: number): boolean {
  let any = false;
  for (let l = 0; l < knots.loose.length; l++) {
    // a line without points has one moment, and follows the line before
    const empty = !(knots.timeS[knots.first[l + 1] - 1] > knots.timeS[knots.first[l]]);
    if (empty || knots.loose[l] >= MAX_LOOSE) continue;
    let worst = 0;
    for (let k = knots.first[l]; k < knots.first[l + 1]; k++) {
      const at = KNOT_SIZE * k + 2;
      worst = Math.max(worst, Math.abs(unknown[globals + at]) / knotSd(knots, k, 2));
    }
    if (worst > DRIFTS_FROM) {
      knots.loose[l] *= LOOSEN;
      any = true;
    }
  }
  return any;
}

/** A component whose errors are larger than stated by this, in variance, is said to be worse: chance does less over seven lines. */
const WORSE_FROM = 2.5;
const MOST_WORSE = 20;
/** Share of a component's variance that lines must have determined before they judge it. */
const JUDGED_FROM = 0.1;

/**
 * Multiplies the deviations of components of the trajectory by what their estimated errors show them to be, if that is
 * more: an estimate scatters by its deviation less what is left of it (variance components, after Förstner 1979). What
 * lines tell too little of takes the factor of its group: a filter that is too sure of roll is too sure of heading.
 * @returns whether any was.
 */
export function worsen(
  knots: Knots,
  unknown: Float64Array,
  covariance: Float64Array,
  globals: number,
  n: number,
): boolean {
  let any = false;
  const judged = new Set<number>();
  for (let c = 0; c < KNOT_SIZE; c++) {
    let [found, expected, prior] = [0, 0, 0];
    for (let k = 0; k < knots.count; k++) {
      if (c === 2 && knots.loose[knots.line[k] - 1] > 1) continue;
      const p = globals + KNOT_SIZE * k + c;
      const sd = knotSd(knots, k, c);
      found += unknown[p] ** 2;
      expected += sd * sd - covariance[p * n + p];
      prior += sd * sd;
    }
    if (!(expected > JUDGED_FROM * prior)) continue;
    judged.add(c);
    if (found < WORSE_FROM * expected) continue;
    const by = Math.min(Math.sqrt(found / expected), MOST_WORSE / knots.worse[c]);
    if (by < 1.01) continue;
    knots.worse[c] *= by;
    any = true;
  }
  for (const group of [
    [0, 1, 2],
    [3, 4, 5],
  ]) {
    const most = Math.max(1, ...group.filter((c) => judged.has(c)).map((c) => knots.worse[c]));
    for (const c of group) if (!judged.has(c)) knots.worse[c] = Math.max(knots.worse[c], most);
  }
  return any;
}
