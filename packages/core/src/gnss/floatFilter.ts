import { keyOf } from './fixedPosition';
import { type Single } from './single';

/** What the filter takes the errors to be, 1 SD of one receiver. */
export interface GnssNoise {
  codeM: number;
  carrierM: number;
  codeMultipathM: number;
  carrierMultipathM: number;
  multipathTauS: number;
}

export const GNSS_NOISE_DEFAULTS: GnssNoise = {
  codeM: 0.3,
  carrierM: 0.002,
  codeMultipathM: 0.4,
  carrierMultipathM: 0.004,
  multipathTauS: 60,
};

const POSITION_START_M = 100;
const CLOCK_START_M = 300;
const AMBIGUITY_START_M = 60;
const CODES_EVERY_S = 5;

/**
 * Float solution of a baseline: an extended Kalman filter whose position and clocks are new at each epoch and whose
 * ambiguities, metres, stay. Receiver clocks are states of their own for each system, band and kind, so that
 * observations are uncorrelated and are taken in one at a time. Multipath is correlated over a minute: codes after an
 * arc's first count accordingly less, and ambiguities walk by what the carrier's multipath moves them.
 */
export class FloatFilter {
  private readonly size: number;
  readonly x: Float64Array;
  /** Covariance, upper triangle. */
  private readonly p: Float64Array;
  private readonly arcs = new Map<number, number>();
  /** Places of ambiguities among the states, and those that are free: states in use lie close together. */
  private readonly places = new Map<number, number>();
  private readonly free: number[] = [];
  /** States from here on were never used. */
  private end: number;
  private readonly gain: Float64Array;
  private sow = Number.NaN;
  private sinceCodesS = 0;

  constructor(
    private readonly groups: number,
    satellites: number,
    private readonly noise: GnssNoise,
  ) {
    this.end = 3 + 4 * groups;
    this.size = this.end + 2 * satellites;
    this.x = new Float64Array(this.size);
    this.p = new Float64Array(this.size * this.size);
    this.gain = new Float64Array(this.size);
  }

  /** Place of an ambiguity among the states. */
  state(key: number): number {
    let k = this.places.get(key);
    if (k === undefined) {
      k = this.free.pop() ?? this.end++;
      this.places.set(key, k);
    }
    return k;
  }

  variance(i: number, j: number): number {
    return i <= j ? this.p[i * this.size + j] : this.p[j * this.size + i];
  }

  has(key: number): boolean {
    return this.arcs.has(key);
  }

  /** Whether every phase of an epoch belongs to an arc that the filter already follows. */
  follows(rows: Single[]): boolean {
    for (const row of rows)
      for (const band of [0, 1])
        if (!Number.isNaN(row.phaseM[band]) && !Number.isNaN(row.codeM[band]))
          if (this.arcs.get(keyOf(row.index, band)) !== row.arc) return false;
    return true;
  }

  /** Forgets an ambiguity, when its count is found to have slipped. */
  forget(key: number): void {
    if (!this.arcs.delete(key)) return;
    const k = this.state(key);
    this.clear(k);
    this.places.delete(key);
    this.free.push(k);
  }

  private clear(k: number): void {
    const { p, size } = this;
    for (let i = 0; i < k; i++) p[i * size + k] = 0;
    for (let j = k; j < size; j++) p[k * size + j] = 0;
    this.x[k] = 0;
  }

  private start(k: number, value: number, sd: number): void {
    this.clear(k);
    this.x[k] = value;
    this.p[k * this.size + k] = sd * sd;
  }

  /** Takes an epoch in. @returns keys whose arc began here. */
  step(sow: number, rows: Single[]): Set<number> {
    const fresh = new Set<number>();
    const dt = Number.isNaN(this.sow) ? 1 : Math.max(0.01, Math.abs(sow - this.sow));
    this.sow = sow;
    const { noise } = this;
    const walk = 2 * ((2 * noise.carrierMultipathM ** 2) / noise.multipathTauS) * dt;
    const present = new Set<number>();
    for (const row of rows)
      for (const band of [0, 1]) {
        if (Number.isNaN(row.phaseM[band]) || Number.isNaN(row.codeM[band])) continue;
        const key = keyOf(row.index, band);
        present.add(key);
        if (this.arcs.get(key) !== row.arc) {
          this.arcs.set(key, row.arc);
          this.start(this.state(key), row.phaseM[band] - row.codeM[band], AMBIGUITY_START_M);
          fresh.add(key);
        } else this.p[this.state(key) * (this.size + 1)] += walk;
      }
    for (const key of [...this.arcs.keys()]) if (!present.has(key)) this.forget(key);
    this.startWhite(rows);
    // codes of a running arc say little that is new; a later one stands for all since the last
    this.sinceCodesS += dt;
    const due = this.sinceCodesS >= CODES_EVERY_S - 0.01;
    for (const row of rows) this.takeCodes(row, fresh, due ? this.sinceCodesS : 0);
    if (due) this.sinceCodesS = 0;
    for (const row of rows) this.takePhases(row);
    return fresh;
  }

  private clock(row: Single, band: number, phase: boolean): number {
    return 3 + (phase ? 2 * this.groups : 0) + row.group + this.groups * band;
  }

  private startWhite(rows: Single[]): void {
    for (let k = 0; k < 3; k++) this.start(k, 0, POSITION_START_M);
    for (let k = 3; k < 3 + 4 * this.groups; k++) this.start(k, 0, CLOCK_START_M);
    const seen = new Set<number>();
    for (const row of rows)
      for (const band of [0, 1]) {
        const code = this.clock(row, band, false);
        if (seen.has(code) || Number.isNaN(row.phaseM[band]) || Number.isNaN(row.codeM[band])) continue;
        seen.add(code);
        this.x[code] = row.codeM[band];
        this.x[this.clock(row, band, true)] = row.phaseM[band] - this.x[this.state(keyOf(row.index, band))];
      }
  }

  /** @param everyS seconds that a running arc's code stands for; 0: only new arcs. */
  private takeCodes(row: Single, fresh: Set<number>, everyS: number): void {
    const { noise } = this;
    for (const band of [0, 1]) {
      const key = keyOf(row.index, band);
      if (Number.isNaN(row.codeM[band]) || !this.arcs.has(key)) continue;
      if (!fresh.has(key) && everyS === 0) continue;
      const times = fresh.has(key) ? 1 : Math.max(1, (2 * noise.multipathTauS) / everyS);
      const r = 2 * ((noise.codeM / row.sinEl) ** 2 + times * noise.codeMultipathM ** 2);
      this.update(row, this.clock(row, band, false), -1, row.codeM[band], r);
    }
  }

  private takePhases(row: Single): void {
    const { noise } = this;
    for (const band of [0, 1]) {
      const key = keyOf(row.index, band);
      if (Number.isNaN(row.phaseM[band]) || !this.arcs.has(key)) continue;
      const r = 2 * (noise.carrierM / row.sinEl) ** 2;
      this.update(row, this.clock(row, band, true), this.state(key), row.phaseM[band], r);
    }
  }

  /** One scalar update: position, one clock and perhaps one ambiguity. */
  private update(row: Single, clock: number, ambiguity: number, y: number, r: number): void {
    const { p, x, size, end, gain } = this;
    const [u0, u1, u2] = row.unit;
    let s = r;
    for (let i = 0; i < end; i++) {
      // position first, so its columns stand above every other state
      let v = i <= clock ? p[i * size + clock] : p[clock * size + i];
      if (i > 2) v -= u0 * p[i] + u1 * p[size + i] + u2 * p[2 * size + i];
      else v -= u0 * p[i] + u1 * (i < 1 ? p[1] : p[size + i]) + u2 * p[i * size + 2];
      if (ambiguity >= 0) v += i <= ambiguity ? p[i * size + ambiguity] : p[ambiguity * size + i];
      gain[i] = v;
    }
    let innovation = y + u0 * x[0] + u1 * x[1] + u2 * x[2] - x[clock];
    s += -u0 * gain[0] - u1 * gain[1] - u2 * gain[2] + gain[clock];
    if (ambiguity >= 0) {
      s += gain[ambiguity];
      innovation -= x[ambiguity];
    }
    const inverse = 1 / s;
    for (let i = 0; i < end; i++) {
      const k = gain[i] * inverse;
      x[i] += k * innovation;
      const at = i * size;
      for (let j = i; j < end; j++) p[at + j] -= k * gain[j];
    }
  }
}
