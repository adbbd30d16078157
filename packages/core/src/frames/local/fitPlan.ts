import { Problem } from '../../shared/problem';
import { outstanding } from './disagree';
import { toLocalPlan, type PlanSimilarity } from './similarity';

export type Plan = readonly [eastingM: number, northingM: number];

/** What a fit in plan may do; a shift is always free. */
export interface PlanFreedom {
  turn: 'free' | 'none';
  /** Local length over length in the projection: found, or as it is said. */
  scale: 'free' | number;
}

export interface PlanFit extends PlanSimilarity {
  /** Computed less given, metres. */
  residuals: Array<{ eM: number; nM: number; allM: number }>;
  /** By how much each mark would be missed were it not used itself; null where the others do not do. */
  missesM: Array<number | null>;
  /** The mark that does not go with the others. */
  outstanding?: number;
  redundancy: number;
  /** 1 SD of a coordinate, by what is left over; null where nothing is. */
  sdM: number | null;
  /** 1 SD of shift (in the middle of the marks), turn and scale; null as `sdM`. */
  sdShiftM: number | null;
  sdTurnRad: number | null;
  sdScale: number | null;
}

const square = (v: number) => v * v;

/**
 * A local system's plan by marks that are known in both: least squares over all coordinates alike, in closed form.
 * @param from easting, northing in the projection; @param to in the local system, metres.
 * @throws Problem when the marks are too few, or lie at one place.
 */
export function fitPlan(from: readonly Plan[], to: readonly Plan[], freedom: PlanFreedom): PlanFit {
  const unknowns = 2 + (freedom.turn === 'free' ? 1 : 0) + (freedom.scale === 'free' ? 1 : 0);
  const fit = solve(from, to, freedom);
  const residuals = residualsOf(fit, from, to);
  const sum = residuals.reduce((s, r) => s + square(r.allM), 0);
  const missesM: PlanFit['missesM'] = [];
  const without: Array<number | null> = [];
  from.forEach((_, k) => {
    const others = <T>(list: readonly T[]) => list.filter((_, i) => i !== k);
    try {
      const part = solve(others(from), others(to), freedom);
      missesM.push(residualsOf(part, [from[k]], [to[k]])[0].allM);
      without.push(residualsOf(part, others(from), others(to)).reduce((s, r) => s + square(r.allM), 0));
    } catch {
      missesM.push(null);
      without.push(null);
    }
  });
  const redundancy = 2 * from.length - unknowns;
  const sdM = redundancy > 0 ? Math.sqrt(sum / redundancy) : null;
  const reachM = Math.sqrt(from.reduce((s, p) => s + square(p[0] - fit.fromM[0]) + square(p[1] - fit.fromM[1]), 0));
  return {
    ...fit,
    residuals,
    missesM,
    outstanding: outstanding(sum, without, 2, redundancy),
    redundancy,
    sdM,
    sdShiftM: sdM && sdM / Math.sqrt(from.length),
    sdTurnRad: freedom.turn === 'free' ? sdM && sdM / (fit.scale * reachM) : 0,
    sdScale: freedom.scale === 'free' ? sdM && sdM / reachM : 0,
  };
}

function residualsOf(s: PlanSimilarity, from: readonly Plan[], to: readonly Plan[]): PlanFit['residuals'] {
  const out = new Float64Array(2);
  return from.map(([e, n], i) => {
    toLocalPlan(s, e, n, out);
    const [eM, nM] = [out[0] - to[i][0], out[1] - to[i][1]];
    return { eM, nM, allM: Math.hypot(eM, nM) };
  });
}

const middle = (list: readonly Plan[]): [number, number] => [
  list.reduce((s, p) => s + p[0], 0) / list.length,
  list.reduce((s, p) => s + p[1], 0) / list.length,
];

function solve(from: readonly Plan[], to: readonly Plan[], { turn, scale }: PlanFreedom): PlanSimilarity {
  const least = turn === 'free' || scale === 'free' ? 2 : 1;
  if (from.length < least)
    throw new Problem(
      `A fit in plan ${least === 2 ? 'with turn or scale takes two marks' : 'takes a mark'} known in both systems.`,
      {
        code: 'site-marks',
        remedy:
          least === 2 ? 'Add marks, or hold turn and scale.' : 'Give the same names to the same marks in both lists.',
      },
    );
  const [fromM, toM] = [middle(from), middle(to)];
  let [along, across, reach] = [0, 0, 0];
  from.forEach((p, i) => {
    const [x, y] = [p[0] - fromM[0], p[1] - fromM[1]];
    const [u, v] = [to[i][0] - toM[0], to[i][1] - toM[1]];
    along += x * u + y * v;
    across += y * u - x * v;
    reach += x * x + y * y;
  });
  if (least === 2 && !(reach > 1e-6))
    throw new Problem('The marks lie at one place in plan.', {
      code: 'site-marks',
      remedy: 'Add marks around the site.',
    });
  const turnRad = turn === 'free' ? Math.atan2(across, along) : 0;
  const found = (along * Math.cos(turnRad) + across * Math.sin(turnRad)) / reach;
  return { fromM, toM, turnRad, scale: scale === 'free' ? found : scale };
}
