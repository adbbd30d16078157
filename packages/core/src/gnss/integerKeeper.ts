import { type AirSd } from './fixedPosition';
import { type FloatFilter } from './floatFilter';
import { integerLeastSquares, partialLeastSquares } from './lambda';
import { at, type NoiseModel } from './noiseModel';
import { keyOf, shellMapping, type Single } from './single';

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
const CERTAIN = 0.9999;
/** Success rate of combinations that are made whole before the rest, and how near they must be, cycles. */
const SETTLED = 0.9998;
const NEAR_WHOLE = 0.25;
const SETTLED_RATIO = 2;
/** Seconds after which the same must be found again. */
const CONFIRMED_AFTER_S = 3;
/** After a wrong beginning combinations are not made whole for this long, seconds, then twice as long. */
const FIRST_WAIT_S = 120;
/** A success rate that suffices when the ratio is so many times what is asked for. */
const ENOUGH_WITH_RATIO = 0.95;
const RATIO_INSTEAD = 3;
/** A set that a later search contradicts this often is given up. */
const MAX_CONFLICTS = 2;

interface Differences {
  list: Array<{ key: number; ref: number; lambda: number }>;
  /** Key of the datum by system and band. */
  datum: Map<number, number>;
  /** Float values, cycles, and their covariance, row by row. */
  a: Float64Array;
  q: Float64Array;
  /** Variance of the multipath of now by key, metres². */
  path(key: number): number;
}

/** A combination of ambiguities that is waiting to be confirmed. */
interface Pending {
  terms: Array<{ key: number; factor: number; arc: number }>;
  value: number;
}

/**
 * Keeps the integers that searches agreed on. An integer is held only when two searches at different times found the
 * same, and is let go when later searches contradict it: a wrong set rarely survives a change of geometry.
 */
export class IntegerKeeper {
  readonly held: Integers = new Map();
  private previous: Integers = new Map();
  private groupOf = new Map<number, number>();
  private conflicts = 0;
  private pending: Pending[] = [];
  private pendingSince = -Infinity;
  private copy?: ReadonlyMap<number, number>;
  private waitS = 0;
  private settled = false;
  /** Searches in a row whose float values contradict their own covariance. */
  doubts = 0;
  /** Searches in a row that found nothing to trust. */
  failures = 0;
  /** Of the last search. */
  ratio = Number.NaN;
  successRate = Number.NaN;

  constructor(
    private readonly groups: number,
    private readonly settings: FixSettings,
    private readonly noise: NoiseModel,
  ) {}

  /** The integers held now, which later searches do not change. */
  snapshot(): ReadonlyMap<number, number> {
    return (this.copy ??= new Map(this.held));
  }

  forget(key: number): void {
    this.copy = undefined;
    this.held.delete(key);
    this.previous.delete(key);
  }

  /** Gives up all integers, when they contradict what the float solution knows. */
  clear(): void {
    this.copy = undefined;
    this.held.clear();
    this.previous.clear();
    this.conflicts = 0;
  }

  /**
   * Forgets all after integers did not fit, and makes combinations whole later in the pass that begins anew.
   * @returns false when there was nothing to wait for.
   */
  waitLonger(): boolean {
    if (!this.settled) return false;
    this.clear();
    this.pending = [];
    this.failures = 0;
    this.settled = false;
    this.waitS = this.waitS === 0 ? FIRST_WAIT_S : 2 * this.waitS;
    return true;
  }

  /** Whether every ambiguity that can be searched for is held. */
  complete(filter: FloatFilter, rows: Single[], held: ReadonlyMap<number, number> = this.held): boolean {
    for (const row of rows)
      if (row.sinEl >= this.settings.minSinEl)
        for (const band of [0, 1]) {
          const key = keyOf(row.index, band);
          if (filter.has(key) && !held.has(key)) return false;
        }
    return true;
  }

  /** Searches in what the filter knows now. @param elapsedS since the pass began. */
  search(filter: FloatFilter, rows: Single[], air: AirSd, elapsedS: number): void {
    const found = this.best(filter, rows, air);
    this.copy = undefined;
    this.failures = found || this.doubts ? 0 : this.failures + 1;
    if (filter.knowsAir && elapsedS >= this.waitS && !(found && this.complete(filter, rows, found)))
      this.settle(filter, rows, air, elapsedS);
    if (!found) return;
    const conflict = this.align(found, this.held);
    if (conflict) {
      if (++this.conflicts >= MAX_CONFLICTS) {
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

  /**
   * Over long baselines the best known combinations, wide lanes first, are made whole in the filter itself, so that the
   * others come nearer: those that an earlier search found already and that still are near the same whole number.
   */
  private settle(filter: FloatFilter, rows: Single[], air: AirSd, elapsedS: number): void {
    if (this.pending.length && elapsedS - this.pendingSince < CONFIRMED_AFTER_S) return;
    this.pendingSince = elapsedS;
    const usable = rows.filter((r) => r.sinEl >= this.settings.minSinEl).sort((x, y) => y.sinEl - x.sinEl);
    const made = this.differences(filter, usable, air);
    if (!made) return;
    for (const p of this.pending) {
      if (p.terms.some((t) => filter.arcOf(t.key) !== t.arc)) continue;
      const pathM2 = p.terms.reduce((s, t) => s + t.factor ** 2 * made.path(t.key), 0);
      filter.settle(p.terms, p.value, NEAR_WHOLE, pathM2);
      this.settled = true;
    }
    const whole = made.a.map(Math.round);
    const found = partialLeastSquares(
      made.a.map((v, i) => v - whole[i]),
      made.q,
      SETTLED,
    );
    this.pending = [];
    if (!found || found.ratio < SETTLED_RATIO) return;
    for (const { factors, value } of found.combinations) {
      const terms = new Map<number, number>();
      let sum = value;
      made.list.forEach(({ key, ref, lambda }, i) => {
        if (factors[i] === 0) return;
        sum += factors[i] * whole[i];
        // the datum's ambiguity is counted in the wavelength of its own band, which is the same
        terms.set(key, (terms.get(key) ?? 0) + factors[i] / lambda);
        terms.set(ref, (terms.get(ref) ?? 0) - factors[i] / lambda);
      });
      this.pending.push({
        value: sum,
        terms: [...terms].map(([key, factor]) => ({ key, factor, arc: filter.arcOf(key)! })),
      });
    }
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
  private best(filter: FloatFilter, rows: Single[], air: AirSd): Integers | undefined {
    const usable = rows.filter((r) => r.sinEl >= this.settings.minSinEl).sort((a, b) => b.sinEl - a.sinEl);
    for (let count = usable.length; count >= 4; count -= count > 10 ? 2 : 1) {
      const found = this.attempt(filter, usable.slice(0, count), air);
      if (count === usable.length) {
        // rounding would be right for certain, and yet another set fits as well: the float values are not what they say
        const doubtful = !found && this.successRate > CERTAIN;
        this.doubts = doubtful ? this.doubts + 1 : 0;
      }
      if (found) return found;
    }
    return undefined;
  }

  /**
   * Whether a set is to be trusted. The success rate is that of rounding one after the other, a lower bound for the
   * search: where it falls short, a second best set that is far worse makes up for it (a fixed failure rate, Teunissen &
   * Verhagen 2009, allows a ratio of 2 there; this asks for much more).
   */
  private trusted(ratio: number, successRate: number): boolean {
    const { ratio: least, successRate: enough } = this.settings;
    if (ratio < least) return false;
    if (successRate >= enough) return true;
    return successRate >= ENOUGH_WITH_RATIO && ratio >= RATIO_INSTEAD * least;
  }

  /** Double differences of the float ambiguities, cycles, each to the highest satellite of its system and band. */
  private differences(filter: FloatFilter, rows: Single[], air: AirSd): Differences | undefined {
    // rows come highest first: the first of each group is its datum
    const datum = new Map<number, number>();
    const list: Differences['list'] = [];
    const own = new Map<number, { pathM2: number; delayM: number }>();
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        if (!filter.has(key)) continue;
        const group = row.group + this.groups * band;
        this.groupOf.set(key, group);
        // the filter knows neither the multipath of now nor, over short baselines, the ionosphere
        const delay = filter.knowsAir ? 0 : (row.wavelengthM[band] / row.wavelengthM[0]) ** 2;
        own.set(key, {
          pathM2: at(this.noise.bands[group].phasePath, row.sinEl),
          delayM: delay * air.restM * shellMapping(row.sinEl),
        });
        const ref = datum.get(group);
        if (ref === undefined) datum.set(group, key);
        else list.push({ key, ref, lambda: row.wavelengthM[band] });
      }
    const n = list.length;
    if (n < FEWEST) return undefined;
    const a = new Float64Array(n);
    const q = new Float64Array(n * n);
    const more = (a: number, b: number) => {
      if (a >> 1 !== b >> 1) return 0;
      const [p, r] = [own.get(a)!, own.get(b)!];
      return p.delayM * r.delayM + (a === b ? p.pathM2 : 0);
    };
    for (let i = 0; i < n; i++) {
      const [si, ri] = [filter.state(list[i].key), filter.state(list[i].ref)];
      a[i] = (filter.x[si] - filter.x[ri]) / list[i].lambda;
      for (let j = 0; j <= i; j++) {
        const [sj, rj] = [filter.state(list[j].key), filter.state(list[j].ref)];
        let v = filter.variance(si, sj) - filter.variance(si, rj) - filter.variance(ri, sj) + filter.variance(ri, rj);
        const [ki, mi, kj, mj] = [list[i].key, list[i].ref, list[j].key, list[j].ref];
        v += more(ki, kj) - more(ki, mj) - more(mi, kj) + more(mi, mj);
        q[i * n + j] = q[j * n + i] = v / (list[i].lambda * list[j].lambda);
      }
    }
    return { list, datum, a, q, path: (key) => own.get(key)?.pathM2 ?? 0 };
  }

  private attempt(filter: FloatFilter, rows: Single[], air: AirSd): Integers | undefined {
    const made = this.differences(filter, rows, air);
    if (!made) return undefined;
    const { list, datum, a, q } = made;
    const n = list.length;
    // whole cycles are taken off first, so that the search works with small numbers
    const whole = a.map(Math.round);
    const solution = integerLeastSquares(
      a.map((v, i) => v - whole[i]),
      q,
    );
    this.ratio = solution?.ratio ?? Number.NaN;
    this.successRate = solution?.successRate ?? Number.NaN;
    if (!solution || !this.trusted(solution.ratio, solution.successRate)) return undefined;
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
