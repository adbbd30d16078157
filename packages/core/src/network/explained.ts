import { Cholesky } from '../numeric/cholesky';
import { type Unknowns } from './equations';
import { rowsOf, type NetworkObservation } from './observations';
import { type Solved } from './solved';

/** What an error common to several observations explains. */
export interface Explained {
  /** By how much the weighted sum of squares falls with it, chi-square of as many degrees of freedom. */
  square: number;
  degrees: number;
  /** Sizes of the errors, in the units of their columns, and 1 SD. */
  sizes: number[];
  sdOfSizes: number[];
}

/**
 * An error of one size: by how much it changes each scalar observation that it touches, by their numbers in the list, or what
 * is given of a held point, north, east, down.
 */
export type Effect = ReadonlyArray<
  readonly [observation: number, by: number] | readonly [held: string, by: readonly [number, number, number]]
>;

/** Errors of which residuals show less than this share are not looked for. */
const LEAST_SHOWN = 1e-4;

/** The test of an alternative hypothesis of several dimensions (Teunissen 2006, 4). */
export function explained(
  { rows, groups, groupOf, weights, factor, unknowns, observations }: Solved,
  weighted: Float64Array,
  firstRow: readonly number[],
  effects: readonly Effect[],
): Explained | undefined {
  const size = effects.length;
  // of each effect: what it changes, and that weighted; by rows
  const changes = effects.map((e) => changesOf(unknowns, observations, firstRow, e));
  const pulls = changes.map((change) => {
    const out = new Map<number, number>();
    for (const [r, v] of change) {
      const g = groupOf[r];
      const own = groups[g].rows;
      const at = own.indexOf(r);
      own.forEach((q, i) => out.set(q, (out.get(q) ?? 0) + weights[g][i * own.length + at] * v));
    }
    return out;
  });
  const says = Float64Array.from(changes, (c) => [...c].reduce((s, [r, v]) => s - v * weighted[r], 0));
  // what the unknowns take of each effect
  const solved = pulls.map((pull) => {
    const taken = new Float64Array(unknowns.columns);
    for (const [r, v] of pull) {
      const { columns, values } = rows[r];
      for (let k = 0; k < columns.length; k++) taken[columns[k]] += v * values[k];
    }
    return factor.solve(taken);
  });
  const told = new Float64Array(size * size);
  for (let a = 0; a < size; a++)
    for (let b = 0; b < size; b++) {
      let sum = 0;
      for (const [r, v] of pulls[a]) {
        sum += v * (changes[b].get(r) ?? 0);
        const { columns, values } = rows[r];
        for (let k = 0; k < columns.length; k++) sum -= v * values[k] * solved[b][columns[k]];
      }
      told[a * size + b] = sum;
    }
  for (let a = 0; a < size; a++) {
    // next to nothing of it would show
    const alone = [...changes[a]].reduce((s, [r, v]) => s + v * pulls[a].get(r)!, 0);
    if (!(told[a * size + a] > LEAST_SHOWN * alone)) return undefined;
  }
  const small = Cholesky.of(told, size);
  if (!small) return undefined;
  const sizes = [...small.solve(says)];
  const found = small.inverse();
  // nor what only another of them could be told from
  for (let a = 0; a < size; a++) if (!(told[a * size + a] * found[a * size + a] < 1 / LEAST_SHOWN)) return undefined;
  return {
    square: sizes.reduce((s, v, a) => s + v * says[a], 0),
    degrees: size,
    sizes,
    sdOfSizes: sizes.map((_, a) => Math.sqrt(found[a * size + a])),
  };
}

function changesOf(
  { points, axes }: Unknowns,
  observations: NetworkObservation[],
  firstRow: readonly number[],
  effect: Effect,
): Map<number, number> {
  const out = new Map<number, number>();
  const put = (row: number, by: number) => void (by === 0 || out.set(row, (out.get(row) ?? 0) + by));
  for (const one of effect) {
    if (typeof one[0] === 'number') {
      put(firstRow[one[0]], one[1] as number);
      continue;
    }
    const by = one[1] as readonly [number, number, number];
    let row = observations.reduce((n, o) => n + rowsOf(o), 0);
    points.forEach(({ name, heldM }, i) => {
      if (!heldM) return;
      if (name === one[0])
        for (let k = 0; k < 3; k++) put(row + k, by[0] * axes[i][k] + by[1] * axes[i][3 + k] + by[2] * axes[i][6 + k]);
      row += 3;
    });
  }
  return out;
}
