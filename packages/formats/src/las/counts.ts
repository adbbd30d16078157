import { Problem } from '@longheron/core/shared';
import { canCompress } from '../laz';
import { type LasHeader } from './header';

/** Number, extent and returns of the points written to a file, for its header. */
export class PointCount {
  count = 0;
  private readonly min = [Infinity, Infinity, Infinity];
  private readonly max = [-Infinity, -Infinity, -Infinity];
  private readonly byReturn = new Float64Array(15);

  constructor(private readonly header: Pick<LasHeader, 'scale' | 'offset'>) {}

  /** Counts the record at this byte in. */
  add(records: Uint8Array, at: number, format: number): void {
    const { min, max } = this;
    for (let k = 0; k < 3; k++) {
      const o = at + 4 * k;
      const v = records[o] | (records[o + 1] << 8) | (records[o + 2] << 16) | (records[o + 3] << 24);
      if (v < min[k]) min[k] = v;
      if (v > max[k]) max[k] = v;
    }
    const r = records[at + 14] & (format >= 6 ? 15 : 7);
    if (r >= 1) this.byReturn[r - 1]++;
    this.count++;
  }

  get returns(): Float64Array {
    return this.byReturn;
  }

  lowest(k: number): number {
    return this.count ? this.min[k] * this.header.scale[k] + this.header.offset[k] : 0;
  }

  highest(k: number): number {
    return this.count ? this.max[k] * this.header.scale[k] + this.header.offset[k] : 0;
  }
}

/** Sets counts and extent in a head. */
export function patchHead(head: Uint8Array, header: LasHeader, count: PointCount): void {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const legacy = header.pointFormat < 6 && count.count < 2 ** 32;
  view.setUint32(107, legacy ? count.count : 0, true);
  for (let k = 0; k < 5; k++) view.setUint32(111 + 4 * k, legacy ? count.returns[k] : 0, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(179 + 16 * k, count.highest(k), true);
    view.setFloat64(187 + 16 * k, count.lowest(k), true);
  }
  if (header.version[1] >= 4) {
    view.setBigUint64(247, BigInt(count.count), true);
    for (let k = 0; k < 15; k++) view.setBigUint64(255 + 8 * k, BigInt(count.returns[k]), true);
  }
}

/** Point formats with wave packets have no compressed form here. */
export function refuseCompressed(header: LasHeader, file: string, compress: boolean): void {
  if (compress && !canCompress(header.pointFormat))
    throw new Problem(`Points of format ${header.pointFormat} cannot be written compressed.`, {
      code: 'laz-format',
      file,
      place: 'byte 104',
      remedy: 'Write them as LAS.',
    });
}
