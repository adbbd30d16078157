import { type FacesAt, type PlacedScan } from '@longheron/core/terrestrial';
import { type PointBatch } from '@longheron/formats/points';
import { type ScanPlacer } from './frame';

/** Deviations of ranges and angles of a scanner. */
export interface ScannerSd {
  rangeM: number;
  angleRad: number;
  /** Full angle of the beam. */
  beamRad: number;
  /** Whether the scanner stood in the origin; else ranges are not known, and `rangeM` is of each coordinate. */
  facing: boolean;
}

/** A quarter of what a spot of this width covers along the ray on a surface seen under this cosine, metres: 1 SD of its echo. */
function spread(widthM: number, cosine: number): number {
  if (!(cosine > 0)) return 0;
  const c = Math.max(cosine, LEAST_COSINE);
  return (widthM * Math.sqrt(1 - c * c)) / (4 * c);
}
/** Flatter than this (84°) a surface gives no echo that is used as such. */
const LEAST_COSINE = 0.1;

/** Points placed, with 1 SD of each coordinate: range and incidence along the ray, angles across, and the pose. */
export class PlacedBatch {
  readonly easting: Float64Array;
  readonly northing: Float64Array;
  readonly height: Float64Array;
  readonly sdE: Float32Array;
  readonly sdN: Float32Array;
  readonly sdH: Float32Array;

  constructor(
    batch: PointBatch,
    metresPer: number,
    originM: readonly number[],
    scan: PlacedScan,
    placer: ScanPlacer,
    sd: ScannerSd,
    faces: FacesAt | undefined,
  ) {
    const { count } = batch;
    this.easting = new Float64Array(count);
    this.northing = new Float64Array(count);
    this.height = new Float64Array(count);
    this.sdE = new Float32Array(count);
    this.sdN = new Float32Array(count);
    this.sdH = new Float32Array(count);
    const columns = [this.sdE, this.sdN, this.sdH];
    const at = new Float64Array(3);
    const g = new Float64Array(6);
    const { covariance: c } = scan;
    const r = placer.rotation;
    for (let i = 0; i < count; i++) {
      const x = batch.x[i] * metresPer - originM[0];
      const y = batch.y[i] * metresPer - originM[1];
      const z = batch.z[i] * metresPer - originM[2];
      placer.place(x, y, z, at);
      this.easting[i] = at[0];
      this.northing[i] = at[1];
      this.height[i] = at[2];
      const range = Math.sqrt(x * x + y * y + z * z) || 1e-9;
      const spot = faces ? spread(range * sd.beamRad, faces.cosine(x, y, z)) : 0;
      const along = sd.rangeM * sd.rangeM + spot * spot;
      const across = sd.facing ? (sd.angleRad * range) ** 2 : along;
      for (let k = 0; k < 3; k++) {
        const a = r[3 * k];
        const b = r[3 * k + 1];
        const d = r[3 * k + 2];
        const u = (a * x + b * y + d * z) / range;
        // a small turn of the scanner moves the point by R·(ω × q)
        g[0] = k === 0 ? 1 : 0;
        g[1] = k === 1 ? 1 : 0;
        g[2] = k === 2 ? 1 : 0;
        g[3] = d * y - b * z;
        g[4] = a * z - d * x;
        g[5] = b * x - a * y;
        let pose = 0;
        for (let m = 0; m < 6; m++) {
          if (g[m] === 0) continue;
          let sum = 0;
          for (let n = 0; n < 6; n++) sum += c[6 * m + n] * g[n];
          pose += g[m] * sum;
        }
        columns[k][i] = Math.sqrt(along * u * u + across * (1 - u * u) + pose);
      }
    }
  }
}
