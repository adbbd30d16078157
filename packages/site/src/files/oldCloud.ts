import { Random } from '@longheron/core/numeric';
import { groundAt, lastSurface, roadCentreX, SITE_ORIGIN_E, SITE_ORIGIN_N, SURFACE } from '../terrain';

/** Share of points that are strays: two thirds far above, one third below. */
export const OLD_CLOUD_STRAY_SHARE = 0.003;
const PER_M2 = 8;
const HALF_WIDTH_M = 22;
const WATER_LEVEL_M = 0.1;
const HEIGHT_SD_M = 0.03;
const SCALE_M = 0.001;
const HEADER_BYTES = 227;
const RECORD_BYTES = 20;

/**
 * An earlier delivery along the road as LAS 1.2, point format 0: bare ground from the closed form with 3 cm noise, no
 * times, class 1 throughout, and the strays nobody took out. Written byte by byte here, so that our reader meets a
 * file that our writer has not made.
 * @param fromY, toY part of the road, site y in metres.
 */
export function oldCloud(seed: number, fromY: number, toY: number): Uint8Array {
  const random = new Random(seed + 77);
  const most = Math.round(PER_M2 * 2 * HALF_WIDTH_M * (toY - fromY));
  const geoKeys = Uint16Array.of(1, 1, 0, 3, 1024, 0, 1, 1, 3072, 0, 1, 25832, 4096, 0, 1, 5773);
  const start = HEADER_BYTES + 54 + geoKeys.byteLength;
  const bytes = new Uint8Array(start + RECORD_BYTES * most);
  const view = new DataView(bytes.buffer);
  const offset = [SITE_ORIGIN_E, SITE_ORIGIN_N, 0];
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  let count = 0;
  for (let i = 0; i < most; i++) {
    const y = fromY + ((i + random.between(0, 1)) / most) * (toY - fromY);
    const x = roadCentreX(y) + random.between(-HALF_WIDTH_M, HALF_WIDTH_M);
    const ground = groundAt(x, y);
    const road = lastSurface === SURFACE.road;
    if (ground < WATER_LEVEL_M) continue;
    let z = ground + HEIGHT_SD_M * random.normal();
    const fate = random.between(0, 1);
    if (fate < (OLD_CLOUD_STRAY_SHARE * 2) / 3) z = ground + random.between(5, 60);
    else if (fate < OLD_CLOUD_STRAY_SHARE) z = ground - random.between(1, 15);
    const at = start + RECORD_BYTES * count++;
    [x, y, z].forEach((v, k) => {
      const steps = Math.round(v / SCALE_M);
      view.setInt32(at + 4 * k, steps, true);
      low[k] = Math.min(low[k], steps);
      high[k] = Math.max(high[k], steps);
    });
    view.setUint16(at + 12, road ? 300 : 900, true);
    bytes[at + 14] = 1 | (1 << 3);
    bytes[at + 15] = 1;
  }
  const text = (at: number, value: string) => bytes.set(new TextEncoder().encode(value), at);
  text(0, 'LASF');
  bytes[24] = 1;
  bytes[25] = 2;
  text(26, 'EXTRACTION');
  text(58, 'demo site');
  view.setUint16(90, 140, true);
  view.setUint16(92, 2025, true);
  view.setUint16(94, HEADER_BYTES, true);
  view.setUint32(96, start, true);
  view.setUint32(100, 1, true);
  view.setUint16(105, RECORD_BYTES, true);
  view.setUint32(107, count, true);
  view.setUint32(111, count, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(131 + 8 * k, SCALE_M, true);
    view.setFloat64(155 + 8 * k, offset[k], true);
    view.setFloat64(179 + 16 * k, high[k] * SCALE_M + offset[k], true);
    view.setFloat64(187 + 16 * k, low[k] * SCALE_M + offset[k], true);
  }
  text(HEADER_BYTES + 2, 'LASF_Projection');
  view.setUint16(HEADER_BYTES + 18, 34735, true);
  view.setUint16(HEADER_BYTES + 20, geoKeys.byteLength, true);
  text(HEADER_BYTES + 22, 'GeoTIFF keys');
  bytes.set(new Uint8Array(geoKeys.buffer), HEADER_BYTES + 54);
  return bytes.subarray(0, start + RECORD_BYTES * count);
}
