import { Problem } from '@longheron/core/shared';
import { writeFileWhole, type OutputFile } from '../bytes';
import { type PointBatch, type PointSource } from '../points';
import { putText, vlr } from './records';

const HEADER = 375;
/** Coordinates beyond this do not fit in tenths of a millimetre. */
const FINE_RANGE = 200_000;

/**
 * Writes points of another format as LAS 1.4, point format 6, or 7 with colour. Coordinates are rounded to 0.1 mm, to
 * 1 mm in clouds of more than 200 km.
 * @param wkt of the coordinate system, none when the file has none.
 * @returns points written and left out (coordinates that are not numbers).
 */
export async function writeFromPoints(
  source: PointSource,
  batches: AsyncGenerator<PointBatch>,
  path: string,
  wkt: string | undefined,
  created: Date,
): Promise<{ written: number; left: number }> {
  const format = source.fields.colour ? 7 : 6;
  const step = format === 7 ? 36 : 30;
  let scale = 0;
  let offset = [0, 0, 0];
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  const byReturn = new Float64Array(15);
  let written = 0;
  let left = 0;
  await writeFileWhole(path, async (out: OutputFile) => {
    const head = () => header(format, step, scale || 0.0001, offset, written, min, max, byReturn, wkt, created, source);
    await out.write(head());
    for await (const b of batches) {
      if (!scale) {
        const first = b.x.findIndex((x, i) => Number.isFinite(x + b.y[i] + b.z[i]));
        if (first < 0) {
          left += b.count;
          continue;
        }
        offset = [b.x, b.y, b.z].map((a) => Math.round(a[first] / 1000) * 1000);
        scale = spread(b) > FINE_RANGE / 10 ? 0.001 : 0.0001;
      }
      const bytes = new Uint8Array(b.count * step);
      const view = new DataView(bytes.buffer);
      let o = 0;
      const axes = [b.x, b.y, b.z];
      for (let i = 0; i < b.count; i++) {
        if (!Number.isFinite(b.x[i] + b.y[i] + b.z[i])) {
          left++;
          continue;
        }
        for (let k = 0; k < 3; k++) {
          const v = Math.round((axes[k][i] - offset[k]) / scale);
          if (v < -2147483648 || v > 2147483647)
            throw new Problem(
              `Point ${written + 1} lies more than ${Math.round((2147483647 * scale) / 1000)} km from the first.`,
              {
                code: 'points-extent',
                file: source.name,
                remedy: 'Take out far noise points first, or check which column holds what.',
              },
            );
          view.setInt32(o + 4 * k, v, true);
          if (v < min[k]) min[k] = v;
          if (v > max[k]) max[k] = v;
        }
        if (b.intensity) view.setUint16(o + 12, b.intensity[i], true);
        const n = b.returnCount?.[i] || 1;
        const r = b.returnNumber?.[i] || 1;
        bytes[o + 14] = (r & 15) | ((n & 15) << 4);
        byReturn[Math.min(14, Math.max(0, r - 1))]++;
        if (b.classification) bytes[o + 16] = b.classification[i];
        if (b.source) view.setUint16(o + 20, b.source[i], true);
        if (b.time) view.setFloat64(o + 22, b.time[i], true);
        if (b.colour) for (let k = 0; k < 3; k++) view.setUint16(o + 30 + 2 * k, b.colour[k][i], true);
        o += step;
        written++;
      }
      await out.write(bytes.subarray(0, o));
    }
    await out.writeAt(head(), 0);
  });
  return { written, left };
}

function spread(b: PointBatch): number {
  let most = 0;
  for (const a of [b.x, b.y, b.z]) {
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = 0; i < b.count; i++) {
      if (a[i] < lo) lo = a[i];
      if (a[i] > hi) hi = a[i];
    }
    if (hi - lo > most) most = hi - lo;
  }
  return most;
}

function header(
  format: number,
  step: number,
  scale: number,
  offset: number[],
  count: number,
  min: number[],
  max: number[],
  byReturn: Float64Array,
  wkt: string | undefined,
  created: Date,
  source: PointSource,
): Uint8Array {
  const system = wkt
    ? vlr('LASF_Projection', 2112, 'OGC WKT coordinate system', new TextEncoder().encode(`${wkt}\0`))
    : new Uint8Array(0);
  const out = new Uint8Array(HEADER + system.length);
  const view = new DataView(out.buffer);
  putText(out, 0, 'LASF', 4);
  view.setUint16(6, (wkt ? 16 : 0) | (source.adjustedTime ? 1 : 0), true);
  out[24] = 1;
  out[25] = 4;
  putText(out, 26, `from ${source.name}`, 32);
  putText(out, 58, 'Long Heron 0.1', 32);
  const year = created.getUTCFullYear();
  view.setUint16(90, Math.floor((created.getTime() - Date.UTC(year, 0, 1)) / 86400000) + 1, true);
  view.setUint16(92, year, true);
  view.setUint16(94, HEADER, true);
  view.setUint32(96, out.length, true);
  view.setUint32(100, wkt ? 1 : 0, true);
  out[104] = format;
  view.setUint16(105, step, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(131 + 8 * k, scale, true);
    view.setFloat64(155 + 8 * k, offset[k], true);
    view.setFloat64(179 + 16 * k, count ? max[k] * scale + offset[k] : 0, true);
    view.setFloat64(187 + 16 * k, count ? min[k] * scale + offset[k] : 0, true);
  }
  view.setBigUint64(247, BigInt(count), true);
  for (let k = 0; k < 15; k++) view.setBigUint64(255 + 8 * k, BigInt(byReturn[k]), true);
  out.set(system, HEADER);
  return out;
}
