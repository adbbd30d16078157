import { keyOf } from './fixedPosition';
import { type FloatFilter } from './floatFilter';
import { integerLeastSquares } from './lambda';
import { type Single } from './single';

/** Integers by satellite and band, each relative to the datum of its system and band. */
export type Integers = Map<number, number>;

export interface FixSettings {
  /** Second best squared distance over best. */
  ratio: number;
  /** Probability of right rounding. */
  successRate: number;
  /** Ambiguities of satellites below this are not searched for. */
  minSinEl: number;
}

export const FIX_DEFAULTS: FixSettings = { ratio: 3, successRate: 0.999, minSinEl: Math.sin((12 * Math.PI) / 180) };

const FEWEST = 6;
/** A set that a later search contradicts this often is given up. */
const MOST_CONFLICTS = 2;

/**
 * Keeps the integers that searches agreed on. An integer is held only when two searches at different times found the
 * same, and is let go when later searches contradict it: a wrong set rarely survives a change of geometry.
 */
export class IntegerKeeper {
  readonly held: Integers = new Map();
  private previous: Integers = new Map();
  private groupOf = new Map<number, number>();
  private conflicts = 0;
  /** Of the last search. */
  ratio = Number.NaN;
  successRate = Number.NaN;

  constructor(
    private readonly groups: number,
    private readonly settings: FixSettings,
    private readonly multipathM: number,
  ) {}

  forget(key: number): void {
    this.held.delete(key);
    this.previous.delete(key);
  }

  /** Whether every ambiguity that can be searched for is held. */
  complete(filter: FloatFilter, rows: Single[]): boolean {
    for (const row of rows)
      if (row.sinEl >= this.settings.minSinEl)
        for (const band of [0, 1]) {
          const key = keyOf(row.index, band);
          if (filter.has(key) && !this.held.has(key)) return false;
        }
    return true;
  }

  /** Searches in what the filter knows now. */
  search(filter: FloatFilter, rows: Single[]): void {
    const found = this.best(filter, rows);
    if (!found) return;
    const conflict = this.align(found, this.held);
    if (conflict) {
      if (++this.conflicts >= MOST_CONFLICTS) {
        this.held.clear();
        this.conflicts = 0;
      }
      this.previous = found;
      return;
    }
    this.conflicts = 0;
    if (this.held.size === 0 && this.align(found, this.previous)) {
      this.previous = found;
      return;
    }
    for (const [key, n] of found) if (this.held.has(key) || this.previous.get(key) === n) this.held.set(key, n);
    this.previous = found;
  }

  /** Moves each group of `found` onto the datum of `reference`. @returns whether they contradict each other. */
  private align(found: Integers, reference: Integers): boolean {
    const shift = new Map<number, number>();
    for (const [key, n] of found) {
      const there = reference.get(key);
      const group = this.groupOf.get(key)!;
      if (there === undefined) continue;
      const known = shift.get(group);
      if (known === undefined) shift.set(group, there - n);
      else if (known !== there - n) return true;
    }
    for (const [key, n] of found) found.set(key, n + (shift.get(this.groupOf.get(key)!) ?? 0));
    return false;
  }

  /** Integers by search, with all satellites or, failing that, without the lowest ones. */
  private best(filter: FloatFilter, rows: Single[]): Integers | undefined {
    const usable = rows.filter((r) => r.sinEl >= this.settings.minSinEl).sort((a, b) => b.sinEl - a.sinEl);
    for (let count = usable.length; count >= 4; count -= count > 10 ? 2 : 1) {
      const found = this.attempt(filter, usable.slice(0, count));
      if (found) return found;
    }
    return undefined;
  }

  private attempt(filter: FloatFilter, rows: Single[]): Integers | undefined {
    // rows come highest first: the first of each group is its datum
    const datum = new Map<number, number>();
    const list: Array<{ key: number; ref: number; lambda: number }> = [];
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        if (!filter.has(key)) continue;
        const group = row.group + this.groups * band;
        this.groupOf.set(key, group);
        const ref = datum.get(group);
        if (ref === undefined) datum.set(group, key);
        else list.push({ key, ref, lambda: row.wavelengthM[band] });
      }
    const n = list.length;
    if (n < FEWEST) return undefined;
    const a = new Float64Array(n);
    const q = new Float64Array(n * n);
    const path = 2 * this.multipathM ** 2;
    for (let i = 0; i < n; i++) {
      const [si, ri] = [filter.state(list[i].key), filter.state(list[i].ref)];
      a[i] = (filter.x[si] - filter.x[ri]) / list[i].lambda;
      for (let j = 0; j <= i; j++) {
        const [sj, rj] = [filter.state(list[j].key), filter.state(list[j].ref)];
        let v = filter.variance(si, sj) - filter.variance(si, rj) - filter.variance(ri, sj) + filter.variance(ri, rj);
        if (ri === rj) v += path;
        if (i === j) v += path;
        q[i * n + j] = q[j * n + i] = v / (list[i].lambda * list[j].lambda);
      }
    }
    // whole cycles are taken off first, so that the search works with small numbers
    const whole = a.map(Math.round);
    const solution = integerLeastSquares(
      a.map((v, i) => v - whole[i]),
      q,
    );
    this.ratio = solution?.ratio ?? Number.NaN;
    this.successRate = solution?.successRate ?? Number.NaN;
    if (!solution || solution.ratio < this.settings.ratio || solution.successRate < this.settings.successRate)
      return undefined;
    // as far from the float values as their covariance allows, or something is wrong with it
    if (solution.bestNorm > n + 5 * Math.sqrt(2 * n)) return undefined;
    const out: Integers = new Map();
    for (const key of datum.values()) out.set(key, 0);
    list.forEach(({ key }, i) => out.set(key, solution.best[i] + whole[i]));
    // a datum alone in its group says nothing
    for (const [group, key] of datum) if (!list.some((l) => this.groupOf.get(l.key) === group)) out.delete(key);
    return out;
  }
}
