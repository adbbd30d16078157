import { type LaserReturns } from './returns';

/** Returns outside these are rejected when they are placed: kept in the cloud, and taken back at will. */
export interface ReturnLimits {
  /** Metres; the largest 0: none. */
  minRangeM: number;
  maxRangeM: number;
  /** Counts of the instrument; the largest 0: none. */
  minIntensity: number;
  maxIntensity: number;
  /** A sector of the sensor's azimuth that sees the platform, degrees, from … to clockwise; equal: none. */
  fromAzimuthDeg: number;
  toAzimuthDeg: number;
}

export const LIMIT_DEFAULTS: ReturnLimits = {
  minRangeM: 0,
  maxRangeM: 0,
  minIntensity: 0,
  maxIntensity: 0,
  fromAzimuthDeg: 0,
  toAzimuthDeg: 0,
};

export interface LimitCounts {
  range: number;
  intensity: number;
  azimuth: number;
  /** Of all rejected, one of several echoes of a beam: edges, leaves, wires. */
  ofSeveral: number;
  rejected: number;
}

export const noLimits = (l: ReturnLimits) =>
  l.minRangeM <= 0 &&
  l.maxRangeM <= 0 &&
  l.minIntensity <= 0 &&
  l.maxIntensity <= 0 &&
  l.fromAzimuthDeg === l.toAzimuthDeg;

const turn = (deg: number) => ((deg % 360) + 360) % 360;

/** Judges returns by limits; each counts for the first that it fails. */
export class ReturnJudge {
  readonly counts: LimitCounts = { range: 0, intensity: 0, azimuth: 0, ofSeveral: 0, rejected: 0 };
  private readonly sectorDeg: number;

  constructor(private readonly l: ReturnLimits) {
    this.sectorDeg = turn(l.toAzimuthDeg - l.fromAzimuthDeg);
  }

  /** Sets 1 in `out` for each return of [from, to) that is rejected, 0 for the others. */
  judge(r: LaserReturns, from: number, to: number, out: Uint8Array): void {
    const { l, counts, sectorDeg } = this;
    const most = l.maxRangeM > 0 ? l.maxRangeM : Infinity;
    const brightest = l.maxIntensity > 0 ? l.maxIntensity : Infinity;
    for (let i = from; i < to; i++) {
      const far = !(r.rangeM[i] >= l.minRangeM && r.rangeM[i] <= most);
      const dim = !(r.intensity[i] >= l.minIntensity && r.intensity[i] <= brightest);
      const own = sectorDeg > 0 && turn(r.azimuthDeg[i] - l.fromAzimuthDeg) < sectorDeg;
      const rejected = far || dim || own;
      out[i - from] = rejected ? 1 : 0;
      if (!rejected) continue;
      counts.rejected++;
      if (far) counts.range++;
      else if (dim) counts.intensity++;
      else counts.azimuth++;
      if (r.returnCount[i] > 1) counts.ofSeveral++;
    }
  }
}
