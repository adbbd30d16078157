import { ecefToGeodetic, ecefToNed, WGS84 } from '../frames/ellipsoid';
import { keyOf, phaseVariance } from './fixedPosition';
import { type Integers } from './integerKeeper';
import { azimuthOf, MOST_GAP_S } from './residuals';
import { type Single, type SingleEpoch } from './single';

/** A phase that lost count. */
export interface Slip {
  /** Seconds of the rover's week. */
  sow: number;
  satellite: string;
  at: 'rover' | 'base';
}

/** Where satellites stood at sampled epochs, and what their phases had left over. */
export interface SkyRecord {
  satellites: string[];
  /** Sampled epochs, seconds of the rover's week. */
  sow: Float64Array;
  /** By epoch, then satellite, degrees; NaN where it was not seen. */
  elevationDeg: Float32Array;
  azimuthDeg: Float32Array;
  /** Phase residuals of fixed epochs by epoch, satellite and band, metres; NaN where there are none. */
  residualM: Float32Array;
  slips: Slip[];
}

const ROVER_ARC = 4096;
const RAD = 180 / Math.PI;

/** Gathers a {@link SkyRecord} while positions are computed. */
export class SkyRecorder {
  private record?: SkyRecord;
  private readonly index = new Map<string, number>();
  private sampled = new Map<number, number>();

  /** @param most epochs kept; evenly chosen. */
  constructor(private readonly most = 600) {}

  /** Lays the record out: directions and slips. */
  begin(epochs: SingleEpoch[]): void {
    for (const e of epochs) for (const r of e.rows) if (!this.index.has(r.satellite)) this.index.set(r.satellite, 0);
    const satellites = [...this.index.keys()].sort();
    satellites.forEach((s, k) => this.index.set(s, k));
    const step = Math.max(1, Math.ceil(epochs.length / this.most));
    const chosen = epochs.map((_, k) => k).filter((k) => k % step === 0);
    const cells = chosen.length * satellites.length;
    const empty = (n: number) => new Float32Array(n).fill(Number.NaN);
    const out: SkyRecord = {
      satellites,
      sow: Float64Array.from(chosen, (k) => epochs[k].sow),
      ...{ elevationDeg: empty(cells), azimuthDeg: empty(cells), residualM: empty(2 * cells) },
      slips: slipsOf(epochs),
    };
    chosen.forEach((k, row) => {
      this.sampled.set(k, row);
      const { nearM, rows } = epochs[k];
      const geo = ecefToGeodetic(WGS84, nearM[0], nearM[1], nearM[2]);
      const axes = ecefToNed(geo[0], geo[1]);
      for (const r of rows) {
        const at = row * satellites.length + this.index.get(r.satellite)!;
        out.elevationDeg[at] = Math.asin(Math.min(1, r.sinEl)) * RAD;
        out.azimuthDeg[at] = (azimuthOf(axes, r.unit) * RAD + 360) % 360;
      }
    });
    this.record = out;
  }

  /** Keeps the residuals of a fixed epoch, when it is one of the sampled. */
  fixed(
    epoch: number,
    rows: Single[],
    groups: number,
    integers: Integers,
    dM: ArrayLike<number>,
    noiseM: number,
    multipathM: number,
  ): void {
    const row = this.sampled.get(epoch);
    if (row === undefined || !this.record) return;
    const { residualM, satellites } = this.record;
    for (const [r, band, v] of phaseResiduals(rows, groups, integers, dM, noiseM, multipathM))
      residualM[2 * (row * satellites.length + this.index.get(r.satellite)!) + band] = v;
  }

  get result(): SkyRecord | undefined {
    return this.record;
  }
}

/** Phases less their integers, the position and the clock of their group: metres. */
export function phaseResiduals(
  rows: Single[],
  groups: number,
  integers: Integers,
  dM: ArrayLike<number>,
  noiseM: number,
  multipathM: number,
): Array<[Single, 0 | 1, number]> {
  const out: Array<[Single, 0 | 1, number]> = [];
  const clocks = new Map<number, [number, number]>();
  for (const r of rows)
    for (const band of [0, 1] as const) {
      const n = integers.get(keyOf(r.index, band));
      if (n === undefined || Number.isNaN(r.phaseM[band])) continue;
      const along = r.unit[0] * dM[0] + r.unit[1] * dM[1] + r.unit[2] * dM[2];
      const v = r.phaseM[band] - n * r.wavelengthM[band] + along;
      const w = 1 / phaseVariance(r.sinEl, noiseM, multipathM);
      const clock = r.group + groups * band;
      const sum = clocks.get(clock) ?? [0, 0];
      clocks.set(clock, [sum[0] + w * v, sum[1] + w]);
      out.push([r, band, v]);
    }
  for (const o of out) {
    const [sum, weight] = clocks.get(o[0].group + groups * o[1])!;
    o[2] -= sum / weight;
  }
  return out;
}

function slipsOf(epochs: SingleEpoch[]): Slip[] {
  const last = new Map<string, { sow: number; arc: number }>();
  const out: Slip[] = [];
  for (const e of epochs)
    for (const r of e.rows) {
      const before = last.get(r.satellite);
      if (before && before.arc !== r.arc && e.sow - before.sow <= MOST_GAP_S) {
        const atRover = Math.floor(before.arc / ROVER_ARC) !== Math.floor(r.arc / ROVER_ARC);
        out.push({ sow: e.sow, satellite: r.satellite, at: atRover ? 'rover' : 'base' });
      }
      last.set(r.satellite, { sow: e.sow, arc: r.arc });
    }
  return out;
}
