import { type Antenna, centreOf } from './antennas';
import { type BroadcastOrbits } from './broadcast';
import { type Orbits, type Sent } from './orbits';
import { EARTH_RATE_RADPS, LIGHT_MPS } from './signals';
import { sunAndMoonM } from './sunMoon';

const WEEK_S = 604800;
/** Epochs that a position is interpolated from. */
const POINTS = 11;
/** Clocks further apart than this are not interpolated between, seconds. */
const MAX_CLOCK_STEP_S = 901;

/** Tables of orbits and clocks, as an SP3 file holds them. */
export interface OrbitTable {
  /** GPS seconds of each epoch, rising. */
  gps: Float64Array;
  satellites: string[];
  /** Centre of mass by satellite, then epoch: x, y, z in Earth-fixed metres; NaN where missing. */
  xyzM: Float64Array;
  /** Clock by satellite, then epoch, seconds; NaN where missing. */
  clockS: Float64Array;
}

/**
 * Orbits and clocks from tables: positions by polynomials through eleven epochs in axes that do not turn with the
 * Earth (Schenewerk 2003), clocks straight between epochs, relativity from the orbit, the centre of mass carried to
 * the antenna by the satellite's calibration on the first band.
 */
export class PreciseOrbits implements Orbits {
  private readonly last = new Map<string, Sent>();
  private readonly index = new Map<string, number>();
  private readonly work = new Float64Array(6);

  /**
   * @param antennas calibrations of satellites, `serial` their name; without one the antenna is taken to be the centre.
   * @param broadcast for group delays, which tables do not hold.
   * @param utcOffsetS leap seconds, for the place of the Sun.
   */
  constructor(
    private readonly table: OrbitTable,
    private readonly antennas: readonly Antenna[] = [],
    private readonly broadcast?: BroadcastOrbits,
    private readonly utcOffsetS = 18,
  ) {
    table.satellites.forEach((s, k) => this.index.set(s, k));
  }

  get satellites(): string[] {
    return this.table.satellites;
  }

  sent(satellite: string, week: number, bySatelliteS: number): Sent | undefined {
    const known = this.last.get(satellite);
    if (known && known.bySatelliteS === bySatelliteS && known.week === week) return known;
    const at = this.index.get(satellite);
    if (at === undefined) return undefined;
    const gps = week * WEEK_S + bySatelliteS;
    const clock = this.clock(at, gps);
    if (clock === undefined || !this.place(at, gps - clock)) return undefined;
    const w = this.work;
    const orbit = new Float64Array(4);
    // r·v with the velocity of axes that do not turn: they differ by a turn about z, which does not change r·v
    const relativity = (-2 * (w[0] * w[3] + w[1] * w[4] + w[2] * w[5])) / (LIGHT_MPS * LIGHT_MPS);
    this.toAntenna(satellite, gps, w, orbit);
    orbit[3] = clock + relativity;
    const record = this.broadcast?.at(satellite, week, bySatelliteS);
    const made: Sent = { week, bySatelliteS, orbit, groupDelayS: record?.groupDelayS ?? 0 };
    made.groupDelayE5bS = record?.groupDelayE5bS;
    this.last.set(satellite, made);
    return made;
  }

  /** Index of the last epoch at or before a time; −1 when it lies outside. */
  private before(gps: number): number {
    const t = this.table.gps;
    if (!(gps >= t[0] && gps <= t[t.length - 1])) return -1;
    let low = 0;
    let high = t.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (t[middle] <= gps) low = middle;
      else high = middle;
    }
    return low;
  }

  private clock(satellite: number, gps: number): number | undefined {
    const { gps: t, clockS } = this.table;
    const k = this.before(gps);
    if (k < 0) return undefined;
    const first = satellite * t.length;
    const [a, b] = [clockS[first + k], clockS[first + k + 1]];
    const step = t[k + 1] - t[k];
    if (Number.isNaN(a) || Number.isNaN(b) || step > MAX_CLOCK_STEP_S) return undefined;
    return a + ((gps - t[k]) / step) * (b - a);
  }

  /** Position and velocity of the centre of mass, axes of the time given, into `work`. */
  private place(satellite: number, gps: number): boolean {
    const { gps: t, xyzM } = this.table;
    const n = t.length;
    const k = this.before(gps);
    if (k < 0 || n < POINTS) return false;
    const from = Math.max(0, Math.min(n - POINTS, k - (POINTS >> 1)));
    const w = this.work.fill(0);
    const value = new Float64Array(POINTS);
    const slope = new Float64Array(POINTS);
    lagrange(t, from, gps, value, slope);
    for (let i = 0; i < POINTS; i++) {
      const at = 3 * (satellite * n + from + i);
      if (Number.isNaN(xyzM[at])) return false;
      const turn = EARTH_RATE_RADPS * (t[from + i] - gps);
      const [c, s] = [Math.cos(turn), Math.sin(turn)];
      const x = xyzM[at] * c - xyzM[at + 1] * s;
      const y = xyzM[at] * s + xyzM[at + 1] * c;
      w[0] += value[i] * x;
      w[1] += value[i] * y;
      w[2] += value[i] * xyzM[at + 2];
      w[3] += slope[i] * x;
      w[4] += slope[i] * y;
      w[5] += slope[i] * xyzM[at + 2];
    }
    return true;
  }

  /**
   * Adds the offset of the satellite's antenna: z to the Earth, y along the axis of the panels, which is square to the
   * Sun (nominal yaw).
   */
  private toAntenna(satellite: string, gps: number, w: Float64Array, out: Float64Array): void {
    out.set(w.subarray(0, 3));
    const antenna = this.antennas.find((a) => a.serial === satellite && gps >= a.fromGps && gps < a.toGps);
    const centre = antenna && centreOf(antenna, satellite[0] as 'G', '1');
    if (!centre) return;
    const r = Math.hypot(w[0], w[1], w[2]);
    const z = [-w[0] / r, -w[1] / r, -w[2] / r];
    const { sun } = sunAndMoonM(gps, this.utcOffsetS);
    const toSun = unit([sun[0] - w[0], sun[1] - w[1], sun[2] - w[2]]);
    const y = unit(cross(z, toSun));
    const x = cross(y, z);
    const [ox, oy, oz] = centre.offsetM;
    for (let k = 0; k < 3; k++) out[k] += ox * x[k] + oy * y[k] + oz * z[k];
  }
}

function unit(v: number[]): number[] {
  const n = Math.hypot(v[0], v[1], v[2]);
  return v.map((x) => x / n);
}

function cross(a: number[], b: number[]): number[] {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

/** Weights of `POINTS` values from `from` on for the value and the slope at x. */
function lagrange(t: Float64Array, from: number, x: number, value: Float64Array, slope: Float64Array): void {
  for (let i = 0; i < POINTS; i++) {
    let below = 1;
    for (let j = 0; j < POINTS; j++) if (j !== i) below *= t[from + i] - t[from + j];
    let product = 1;
    let sum = 0;
    for (let j = 0; j < POINTS; j++) {
      if (j === i) continue;
      sum = sum * (x - t[from + j]) + product;
      product *= x - t[from + j];
    }
    value[i] = product / below;
    slope[i] = sum / below;
  }
}
