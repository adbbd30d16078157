import { EpochFit } from './epochFit';
import { at, type NoiseModel } from './noiseModel';
import { type AirSd } from './fixedPosition';
import { keyOf, shellMapping, type Single } from './single';
import { States } from './states';

const POSITION_START_M = 100;
const CLOCK_START_M = 300;
const AMBIGUITY_START_M = 60;
const CODES_EVERY_S = 5;
/** A code that is off the others of its epoch by this many deviations says nothing, and by this much, metres. */
const GROSS = 4.5;
const MIN_GROSS_M = 1;
/** A phase that is off the others by this many deviations begins anew, and by this much, metres. */
const BROKEN = 5.5;
const MIN_BROKEN_M = 0.06;
/** The ionosphere's share of a satellite stays alike for this long, seconds. */
const IONOSPHERE_TAU_S = 1200;
/** The wet delay's walk in an hour, metres. */
const WET_WALK_M = 0.015;

/**
 * Float solution of a baseline: an extended Kalman filter whose position and clocks are new at each epoch and whose
 * ambiguities, metres, stay. Receiver clocks are states of their own for each system, band and kind, so that
 * observations are uncorrelated and are taken in one at a time. Multipath is correlated over a minute: codes after an
 * arc's first count accordingly less, and ambiguities walk by what the carrier's multipath moves them. With `air`, the
 * slant delay of the ionosphere of each satellite (weighted by its prior; Odijk 2000), what all ways share of it, and the
 * wet zenith delay at both ends are states too. Codes that contradict the others of their epoch are not taken; phases that contradict the others with
 * the ambiguities known so far begin anew.
 */
export class FloatFilter {
  private readonly states: States;
  private readonly arcs = new Map<number, number>();
  /** Places of ambiguities and slant delays among the states, and those that are free: states in use lie close. */
  private readonly places = new Map<number, number>();
  private readonly free: number[] = [];
  private sow = Number.NaN;
  private sinceCodesS = 0;
  /** Slant delays in use, by number of the satellite. */
  private readonly delays = new Set<number>();
  private readonly wetAt: number;
  /** Sum of squares of the slant delays as vertical ones, metres², and their number: what the session says of them. */
  readonly ionosphere = { square: 0, count: 0 };

  /** @param air what models leave between both ends; without it nothing of the air is estimated. */
  constructor(
    private readonly groups: number,
    satellites: number,
    private readonly noise: NoiseModel,
    private readonly air?: AirSd,
  ) {
    this.wetAt = 3 + 4 * groups;
    const end = this.wetAt + (air ? 4 : 0);
    this.states = new States(end + 3 * satellites, end);
    if (air) {
      this.states.start(this.wetAt, 0, Math.abs(air.troposphereM));
      this.states.start(this.wetAt + 1, 0, WET_SD_M);
      this.states.start(this.wetAt + 2, 0, GRADIENTS * air.ionosphereM);
      this.states.start(this.wetAt + 3, 0, air.verticalM);
    }
  }

  /** Whether what the air leaves is estimated. */
  get knowsAir(): boolean {
    return this.air !== undefined;
  }

  /** Ambiguities as they are, cycles, for every phase of an epoch that the filter follows. */
  floats(rows: Single[]): Map<number, number> {
    const out = new Map<number, number>();
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        if (this.arcs.has(key)) out.set(key, this.states.x[this.state(key)] / row.wavelengthM[band]);
      }
    return out;
  }

  /** States: position from where the residuals were formed, clocks, air, ambiguities, metres. */
  get x(): Float64Array {
    return this.states.x;
  }

  /** Place of an ambiguity among the states. */
  state(key: number): number {
    let k = this.places.get(key);
    if (k === undefined) {
      k = this.free.pop() ?? this.states.end++;
      this.places.set(key, k);
    }
    return k;
  }

  variance(i: number, j: number): number {
    return this.states.variance(i, j);
  }

  has(key: number): boolean {
    return this.arcs.has(key);
  }

  /** Number of the arc that an ambiguity belongs to. */
  arcOf(key: number): number | undefined {
    return this.arcs.get(key);
  }

  /**
   * Makes a combination of ambiguities the whole number it must be.
   * @param terms factors, cycles by metre; @param near not when it is further off, cycles; @param pathM2 variance of the
   * multipath that the ambiguities have taken up, cycles².
   */
  settle(terms: ReadonlyArray<{ key: number; factor: number }>, value: number, near: number, pathM2: number): void {
    this.states.begin();
    for (const t of terms) this.states.term(this.state(t.key), t.factor);
    const own = this.states.prepare();
    const off = this.states.innovation(value);
    if (Math.abs(off) < near) this.states.apply(off, own + pathM2 + 1e-6);
  }

  /** Whether every phase of an epoch belongs to an arc that the filter already follows. */
  follows(rows: Single[]): boolean {
    for (const row of rows)
      for (const band of [0, 1])
        if (
          !Number.isNaN(row.phaseM[band]) &&
          !Number.isNaN(row.codeM[band]) &&
          this.arcs.get(keyOf(row.index, band)) !== row.arc[band]
        )
          return false;
    return true;
  }

  /** Forgets an ambiguity, when its count is found to have slipped. */
  forget(key: number): void {
    if (this.arcs.delete(key)) this.release(key);
  }

  /** Forgets all ambiguities, when they contradict each other. */
  forgetAll(): void {
    for (const key of [...this.arcs.keys()]) this.forget(key);
  }

  private release(key: number): void {
    const k = this.state(key);
    this.states.clear(k);
    this.places.delete(key);
    this.free.push(k);
  }

  /** Takes an epoch in. @returns keys whose arc began here. */
  step(sow: number, rows: Single[]): Set<number> {
    const fresh = new Set<number>();
    const dt = Number.isNaN(this.sow) ? 1 : Math.max(0.01, Math.abs(sow - this.sow));
    this.sow = sow;
    this.leaveBroken(rows, dt);
    const offsets = this.offsets(rows);
    const present = new Set<number>();
    for (const row of rows)
      for (const band of [0, 1]) {
        if (Number.isNaN(row.phaseM[band])) continue;
        const key = keyOf(row.index, band);
        if (this.arcs.get(key) === row.arc[band]) {
          present.add(key);
          this.states.loosen(this.state(key), this.walk(row, band) * dt);
          continue;
        }
        const own = row.phaseM[band] - row.codeM[band];
        // a phase without its code says nothing of its count
        if (Number.isNaN(own)) continue;
        present.add(key);
        this.arcs.set(key, row.arc[band]);
        const offset = offsets[row.group + this.groups * band];
        this.states.start(this.state(key), own + (Number.isNaN(offset) ? 0 : offset), AMBIGUITY_START_M);
        fresh.add(key);
      }
    for (const key of [...this.arcs.keys()]) if (!present.has(key)) this.forget(key);
    if (this.air) this.carryAir(rows, dt);
    this.startWhite(rows);
    // codes of a running arc say little that is new; a later one stands for all since the last
    this.sinceCodesS += dt;
    const due = this.sinceCodesS >= CODES_EVERY_S - 0.01;
    if (due || fresh.size) {
      const gross = this.grossCodes(rows);
      for (const row of rows) this.takeCodes(row, fresh, due ? this.sinceCodesS : 0, gross);
    }
    if (due) this.sinceCodesS = 0;
    this.takePhases(rows);
    return fresh;
  }

  /** Forgets arcs whose phases do not agree with the rest; all of them when it cannot be told which. */
  private leaveBroken(rows: Single[], dt: number): void {
    const { x } = this.states;
    fit.clear();
    const keys: number[] = [];
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        if (Number.isNaN(row.phaseM[band]) || this.arcs.get(key) !== row.arc[band]) continue;
        const c = row.group + this.groups * band;
        let y = row.phaseM[band] - x[this.state(key)];
        const delay = this.places.get(delayKey(row.index));
        if (this.air && delay !== undefined) {
          const w = this.wetAt;
          const slant = x[delay] + shellMapping(row.sinEl) * x[w + 2] + row.shellDifference * x[w + 3];
          y +=
            (row.wavelengthM[band] / row.wavelengthM[0]) ** 2 * slant - row.wet * x[w] - row.wetDifference * x[w + 1];
        }
        const walk = this.walk(row, band) + (this.air ? (this.ionosphereSd(row) ** 2 * 2) / IONOSPHERE_TAU_S : 0);
        fit.add(row.unit, c, y, 2 * at(this.noise.bands[c].phase, row.sinEl) + walk * dt);
        keys.push(key);
      }
    if (keys.length < 5) return;
    const broken = fit.reject(BROKEN, MIN_BROKEN_M);
    for (const k of broken ?? keys.keys()) this.forget(keys[k]);
  }

  /** Keys of codes that do not agree with the rest of their epoch. */
  private grossCodes(rows: Single[]): Set<number> {
    fit.clear();
    const keys: number[] = [];
    for (const row of rows)
      for (const band of [0, 1]) {
        if (Number.isNaN(row.codeM[band])) continue;
        const c = row.group + this.groups * band;
        const b = this.noise.bands[c];
        fit.add(row.unit, c, row.codeM[band], at(b.code, row.sinEl) + at(b.codePath, row.sinEl));
        keys.push(keyOf(row.index, band));
      }
    return new Set(fit.reject(GROSS, MIN_GROSS_M)?.map((k) => keys[k]));
  }

  /** Multipath moves an ambiguity as a walk does, metres² by second. */
  private walk(row: Single, band: number): number {
    const { noise } = this;
    return (2 * at(noise.bands[row.group + this.groups * band].phasePath, row.sinEl)) / noise.phaseTauS;
  }

  /**
   * By system and band, what is missing between the running ambiguities and phase less code now: the clocks of both
   * may have drifted apart, or jumped by milliseconds.
   */
  private offsets(rows: Single[]): Float64Array {
    const sums = new Float64Array(2 * this.groups);
    const counts = new Float64Array(2 * this.groups);
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        const own = row.phaseM[band] - row.codeM[band];
        if (Number.isNaN(own) || this.arcs.get(key) !== row.arc[band]) continue;
        const c = row.group + this.groups * band;
        const off = this.states.x[this.state(key)] - own;
        // the first sets the place, the others its mean
        sums[c] += off;
        counts[c]++;
      }
    return sums.map((s, c) => (counts[c] ? s / counts[c] : Number.NaN));
  }

  /** What a satellite's own way has beyond what all ways share, 1 SD, metres. */
  private ionosphereSd(row: Single): number {
    return this.air!.restM * shellMapping(row.sinEl);
  }

  /** Slant delays fade towards nothing; the wet delay walks. */
  private carryAir(rows: Single[], dt: number): void {
    const { delays } = this;
    const present = new Set(rows.map((r) => r.index));
    for (const index of [...delays])
      if (!present.has(index)) {
        delays.delete(index);
        this.release(delayKey(index));
      }
    const keep = Math.exp(-dt / IONOSPHERE_TAU_S);
    for (const row of rows) {
      const sd = this.ionosphereSd(row);
      const k = this.state(delayKey(row.index));
      if (!delays.has(row.index)) {
        delays.add(row.index);
        this.states.start(k, 0, sd);
        continue;
      }
      this.states.fade(k, keep, sd);
    }
    this.states.loosen(this.wetAt, (WET_WALK_M ** 2 * dt) / 3600);
    this.states.loosen(this.wetAt + 2, (this.air!.ionosphereM ** 2 * dt) / 3600);
  }

  private clock(row: Single, band: number, phase: boolean): number {
    return 3 + (phase ? 2 * this.groups : 0) + row.group + this.groups * band;
  }

  private startWhite(rows: Single[]): void {
    for (let k = 0; k < 3; k++) this.states.start(k, 0, POSITION_START_M);
    for (let k = 3; k < 3 + 4 * this.groups; k++) this.states.start(k, 0, CLOCK_START_M);
    const codes = new Set<number>();
    const phases = new Set<number>();
    for (const row of rows)
      for (const band of [0, 1]) {
        const code = this.clock(row, band, false);
        if (!codes.has(code) && !Number.isNaN(row.codeM[band])) {
          codes.add(code);
          this.states.x[code] = row.codeM[band];
        }
        const phase = this.clock(row, band, true);
        if (!phases.has(phase) && this.arcs.has(keyOf(row.index, band))) {
          phases.add(phase);
          this.states.x[phase] = row.phaseM[band] - this.states.x[this.state(keyOf(row.index, band))];
        }
      }
  }

  /** @param everyS seconds that a running arc's code stands for; 0: only new arcs. */
  private takeCodes(row: Single, fresh: Set<number>, everyS: number, gross: Set<number>): void {
    const { noise } = this;
    for (const band of [0, 1]) {
      const key = keyOf(row.index, band);
      if (Number.isNaN(row.codeM[band]) || gross.has(key)) continue;
      // a code whose phase is missing runs on by itself
      const begins = fresh.has(key);
      if (!begins && everyS === 0) continue;
      const b = noise.bands[row.group + this.groups * band];
      const times = begins ? 1 : Math.max(1, (2 * noise.codeTauS) / everyS);
      const r = at(b.code, row.sinEl) + times * at(b.codePath, row.sinEl);
      this.observe(row, band, false, -1);
      const s = this.states.prepare() + r;
      this.states.apply(this.states.innovation(row.codeM[band]), s);
    }
  }

  private takePhases(rows: Single[]): void {
    const { noise } = this;
    for (const row of rows)
      for (const band of [0, 1]) {
        const key = keyOf(row.index, band);
        if (Number.isNaN(row.phaseM[band]) || !this.arcs.has(key)) continue;
        const r = at(noise.bands[row.group + this.groups * band].phase, row.sinEl);
        this.observe(row, band, true, this.state(key));
        const s = this.states.prepare() + r;
        this.states.apply(this.states.innovation(row.phaseM[band]), s);
      }
    if (this.air)
      for (const row of rows) {
        const k = this.places.get(delayKey(row.index));
        if (k === undefined) continue;
        this.ionosphere.square += (this.states.x[k] ** 2 + this.states.variance(k, k)) / shellMapping(row.sinEl) ** 2;
        this.ionosphere.count++;
      }
  }

  /** Sets the row of an observation: position, a clock, perhaps an ambiguity, and the air. */
  private observe(row: Single, band: number, phase: boolean, ambiguity: number): void {
    this.states.begin();
    for (let k = 0; k < 3; k++) this.states.term(k, -row.unit[k]);
    this.states.term(this.clock(row, band, phase), 1);
    if (ambiguity >= 0) this.states.term(ambiguity, 1);
    if (!this.air) return;
    const delay = (phase ? -1 : 1) * (row.wavelengthM[band] / row.wavelengthM[0]) ** 2;
    this.states.term(this.state(delayKey(row.index)), delay);
    this.states.term(this.wetAt + 2, delay * shellMapping(row.sinEl));
    this.states.term(this.wetAt + 3, delay * row.shellDifference);
    this.states.term(this.wetAt, row.wet);
    this.states.term(this.wetAt + 1, row.wetDifference);
  }
}

const fit = new EpochFit();
/** What the model of the wet delay may be wrong by at both ends alike, metres. */
const WET_SD_M = 0.12;
/** The ionosphere's gradient may be so many times that of most days. */
const GRADIENTS = 3;
const delayKey = (index: number) => -1 - index;
