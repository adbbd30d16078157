import { type PlacedScan } from '@longheron/core/terrestrial';
import { type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { type PointBatch } from '@longheron/formats/points';
import { formatId, openPoints, recogniseFile } from '@longheron/formats/registry';
import { type ScanPlacer } from './frame';

/** Points of a scan as its file has them, in batches; LAS as any other format. */
export async function* scanBatches(path: string, name: string, watch?: Watch): AsyncGenerator<PointBatch> {
  const format = await recogniseFile(path, name);
  if (format && formatId(format) === 'las') {
    const file = await LasFile.openPath(path);
    try {
      const { scale, offset } = file.header;
      const p = await file.readAll(watch);
      const column = (raw: Int32Array, k: number) => Float64Array.from(raw, (v) => v * scale[k] + offset[k]);
      yield {
        count: p.count,
        x: column(p.x, 0),
        y: column(p.y, 1),
        z: column(p.z, 2),
        intensity: p.intensity,
        ...(p.red && p.green && p.blue ? { colour: [p.red, p.green, p.blue] } : {}),
      };
    } finally {
      await file.close();
    }
    return;
  }
  const { source } = await openPoints(path, name);
  try {
    yield* source.batches(watch);
  } finally {
    await source.close();
  }
}

/** Deviations of ranges and angles of a scanner. */
export interface ScannerSd {
  rangeM: number;
  angleRad: number;
}

/** Points placed, with 1 SD of each coordinate: range along the ray, angles across, and the pose. */
export class PlacedBatch {
  readonly easting: Float64Array;
  readonly northing: Float64Array;
  readonly height: Float64Array;
  readonly sdE: Float32Array;
  readonly sdN: Float32Array;
  readonly sdH: Float32Array;

  constructor(batch: PointBatch, metresPer: number, scan: PlacedScan, placer: ScanPlacer, sd: ScannerSd) {
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
      const x = batch.x[i] * metresPer;
      const y = batch.y[i] * metresPer;
      const z = batch.z[i] * metresPer;
      placer.place(x, y, z, at);
      this.easting[i] = at[0];
      this.northing[i] = at[1];
      this.height[i] = at[2];
      const range = Math.sqrt(x * x + y * y + z * z) || 1e-9;
      const along = sd.rangeM * sd.rangeM;
      const across = (sd.angleRad * range) ** 2;
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
