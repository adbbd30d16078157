import { ecefToGeodetic, ecefToNed, WGS84 } from '../frames/ellipsoid';
import { phaseVariance, type NoiseModel } from './noiseModel';
import { azimuthOf } from './residuals';
import { keyOf, type Single, type SingleEpoch } from './single';
import { type Slip } from './slips';

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
  /** What the session said of its noise. */
  noise?: NoiseModel;
}

const RAD = 180 / Math.PI;

/** Gathers a {@link SkyRecord} while positions are computed. */
export class SkyRecorder {
  private record?: SkyRecord;
  private readonly index = new Map<string, number>();
  private sampled = new Map<number, number>();

  /** @param most epochs kept; evenly chosen. */
  constructor(private readonly most = 600) {}

  /** Lays the record out: directions and slips. */
  begin(epochs: SingleEpoch[], slips: Slip[], noise: NoiseModel): void {
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
      elevationDeg: empty(cells),
      azimuthDeg: empty(cells),
      residualM: empty(2 * cells),
      slips,
      noise,
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
    noise: NoiseModel,
    integers: ReadonlyMap<number, number>,
    dM: ArrayLike<number>,
  ): void {
    const row = this.sampled.get(epoch);
    if (row === undefined || !this.record) return;
    const { residualM, satellites } = this.record;
    for (const [r, band, v] of phaseResiduals(rows, noise, integers, dM))
      residualM[2 * (row * satellites.length + this.index.get(r.satellite)!) + band] = v;
  }

  get result(): SkyRecord | undefined {
    return this.record;
  }
}

/** Phases less their integers, the position and the clock of their group: metres. */
export function phaseResiduals(
  rows: Single[],
  noise: NoiseModel,
  integers: ReadonlyMap<number, number>,
  dM: ArrayLike<number>,
): Array<[Single, 0 | 1, number]> {
  const out: Array<[Single, 0 | 1, number]> = [];
  const clocks = new Map<number, [number, number]>();
  for (const r of rows)
    for (const band of [0, 1] as const) {
      const n = integers.get(keyOf(r.index, band));
      if (n === undefined || Number.isNaN(r.phaseM[band])) continue;
      const along = r.unit[0] * dM[0] + r.unit[1] * dM[1] + r.unit[2] * dM[2];
      const v = r.phaseM[band] - n * r.wavelengthM[band] + along;
      const clock = r.group + noise.groups * band;
      const w = 1 / phaseVariance(noise.bands[clock], r.sinEl);
      const sum = clocks.get(clock) ?? [0, 0];
      clocks.set(clock, [sum[0] + w * v, sum[1] + w]);
      out.push([r, band, v]);
    }
  for (const o of out) {
    const [sum, weight] = clocks.get(o[0].group + noise.groups * o[1])!;
    o[2] -= sum / weight;
  }
  return out;
}
