import { OutputFile } from '../bytes';
import { putText, vlr } from './records';

/** One point's columns as the product writes them; see docs/formats/las.md. */
export interface PlacedColumns {
  /** Coordinates in the units of the file. */
  easting: Float64Array;
  northing: Float64Array;
  height: Float64Array;
  intensity: Uint16Array;
  returnNumber: Uint8Array;
  returnCount: Uint8Array;
  classification?: Uint8Array;
  /** 1 = withheld. */
  rejected?: Uint8Array;
  scannerChannel: number;
  /** Strip of each point, 0 when in none. */
  strip: Uint16Array;
  /** GPS seconds since 1980. */
  gpsS: Float64Array;
  sdE: Float32Array;
  sdN: Float32Array;
  sdH: Float32Array;
  /** From the vertical, positive to the right, degrees. */
  scanAngleDeg?: Float32Array;
  /** Values of the more columns that the writer was made with, in their order. */
  more?: ReadonlyArray<ArrayLike<number>>;
}

/** A whole number that each point carries besides the three deviations. */
export interface MoreColumn {
  name: string;
  description: string;
  bytes: 2 | 4;
}

/** Unit of scan angles in point formats from 6 on, degrees. */
const ANGLE_UNIT_DEG = 0.006;

const SCALE = 0.0001;
const PLAIN_RECORD = 36;
const HEADER = 375;
const FLUSH_POINTS = 1 << 15;
/** Adjusted standard GPS time: GPS seconds minus this. */
export const ADJUSTED_GPS_OFFSET_S = 1e9;

const EXTRA = [
  ['sd_e', '1 SD easting, metre'],
  ['sd_n', '1 SD northing, metre'],
  ['sd_h', '1 SD height, metre'],
] as const;

/**
 * Writes LAS 1.4, point format 6, with the three standard deviations as extra bytes, as a stream: counts and extent
 * are written into the header at the end. Points with NaN coordinates are left out and not counted.
 */
export class LasWriter {
  private readonly step: number;
  private record: Uint8Array;
  private view: DataView;
  /** The buffer that the disk may still be writing. */
  private other: Uint8Array;
  private filled = 0;
  private readonly min = [Infinity, Infinity, Infinity];
  private readonly max = [-Infinity, -Infinity, -Infinity];
  private readonly byReturn = new Float64Array(15);
  count = 0;
  private pending: Promise<void> = Promise.resolve();

  private constructor(
    private readonly out: OutputFile,
    private readonly wkt: string,
    private readonly offset: [number, number, number],
    private readonly software: string,
    private readonly created: Date,
    private readonly more: readonly MoreColumn[],
  ) {
    this.step = PLAIN_RECORD + more.reduce((sum, m) => sum + m.bytes, 0);
    this.record = new Uint8Array(this.step * FLUSH_POINTS);
    this.view = new DataView(this.record.buffer);
    this.other = new Uint8Array(this.step * FLUSH_POINTS);
  }

  /**
   * @param offset whole kilometres at or below the minimum of each axis.
   * @param more extra bytes after the three deviations.
   */
  static async create(
    out: OutputFile,
    wkt: string,
    offset: [number, number, number],
    created: Date,
    software = 'Long Heron 0.1',
    more: readonly MoreColumn[] = [],
  ): Promise<LasWriter> {
    const writer = new LasWriter(out, wkt, offset, software, created, more);
    await out.write(writer.head());
    return writer;
  }

  /** Appends points [from, to) of the columns. */
  async append(columns: PlacedColumns, from = 0, to = columns.easting.length): Promise<void> {
    for (let at = from; at < to;) {
      at = this.fill(columns, at, to);
      if (this.filled === FLUSH_POINTS) await this.flush();
    }
  }

  /** Encodes points until the buffer is full. @returns the first point not encoded. */
  private fill(columns: PlacedColumns, from: number, to: number): number {
    const { view, record, offset, min, max, byReturn, step } = this;
    const {
      easting,
      northing,
      height,
      intensity,
      strip,
      gpsS,
      sdE,
      sdN,
      sdH,
      classification,
      rejected,
      scanAngleDeg,
      more,
    } = columns;
    const inverse = 1 / SCALE;
    const [e0, n0, h0] = offset;
    const channel = columns.scannerChannel << 4;
    let [x0, y0, z0] = min;
    let [x1, y1, z1] = max;
    let filled = this.filled;
    let i = from;
    for (; i < to && filled < FLUSH_POINTS; i++) {
      const e = easting[i];
      if (e !== e) continue;
      // rounded by floor, which costs a third of Math.round
      const x = Math.floor((e - e0) * inverse + 0.5);
      const y = Math.floor((northing[i] - n0) * inverse + 0.5);
      const z = Math.floor((height[i] - h0) * inverse + 0.5);
      const o = filled * step;
      view.setInt32(o, x, true);
      view.setInt32(o + 4, y, true);
      view.setInt32(o + 8, z, true);
      view.setUint16(o + 12, intensity[i], true);
      const returnNumber = columns.returnNumber[i];
      record[o + 14] = returnNumber | (columns.returnCount[i] << 4);
      record[o + 15] = (rejected !== undefined && rejected[i] ? 4 : 0) | channel;
      record[o + 16] = classification !== undefined ? classification[i] : 0;
      record[o + 17] = 0;
      view.setInt16(o + 18, scanAngleDeg === undefined ? 0 : Math.round(scanAngleDeg[i] / ANGLE_UNIT_DEG), true);
      view.setUint16(o + 20, strip[i], true);
      view.setFloat64(o + 22, gpsS[i] - ADJUSTED_GPS_OFFSET_S, true);
      view.setUint16(o + 30, sdCode(sdE[i]), true);
      view.setUint16(o + 32, sdCode(sdN[i]), true);
      view.setUint16(o + 34, sdCode(sdH[i]), true);
      if (more !== undefined) this.putMore(more, i, o + PLAIN_RECORD);
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      if (y > y1) y1 = y;
      if (z < z0) z0 = z;
      if (z > z1) z1 = z;
      if (returnNumber >= 1 && returnNumber <= 15) byReturn[returnNumber - 1]++;
      filled++;
    }
    this.count += filled - this.filled;
    this.filled = filled;
    min[0] = x0;
    min[1] = y0;
    min[2] = z0;
    max[0] = x1;
    max[1] = y1;
    max[2] = z1;
    return i;
  }

  private putMore(columns: ReadonlyArray<ArrayLike<number>>, i: number, at: number): void {
    for (let k = 0; k < this.more.length; k++) {
      const { bytes } = this.more[k];
      if (bytes === 2) this.view.setUint16(at, columns[k][i], true);
      else this.view.setUint32(at, columns[k][i], true);
      at += bytes;
    }
  }

  private async flush(): Promise<void> {
    const bytes = this.record.subarray(0, this.filled * this.step);
    this.filled = 0;
    // the disk writes one buffer while the other is filled
    await this.pending;
    [this.record, this.other] = [this.other, this.record];
    this.view = new DataView(this.record.buffer);
    this.pending = this.out.write(bytes);
    this.pending.catch(() => undefined);
  }

  /** Writes what is left and the final header. The caller finishes the output file. */
  async finish(): Promise<void> {
    await this.flush();
    await this.pending;
    await this.out.writeAt(this.head(), 0);
  }

  private head(): Uint8Array {
    const wktBytes = new TextEncoder().encode(`${this.wkt}\0`);
    const vlrs = [
      vlr('LASF_Projection', 2112, 'OGC WKT coordinate system', wktBytes),
      vlr('LASF_Spec', 4, 'Extra bytes', extraBytes(this.more)),
    ];
    const pointOffset = HEADER + vlrs.reduce((sum, v) => sum + v.length, 0);
    const out = new Uint8Array(pointOffset);
    const view = new DataView(out.buffer);
    putText(out, 0, 'LASF', 4);
    view.setUint16(6, 1 | 16, true);
    out[24] = 1;
    out[25] = 4;
    putText(out, 26, 'MERGE', 32);
    putText(out, 58, this.software, 32);
    const year = this.created.getUTCFullYear();
    view.setUint16(90, Math.floor((this.created.getTime() - Date.UTC(year, 0, 1)) / 86400000) + 1, true);
    view.setUint16(92, year, true);
    view.setUint16(94, HEADER, true);
    view.setUint32(96, pointOffset, true);
    view.setUint32(100, vlrs.length, true);
    out[104] = 6;
    view.setUint16(105, this.step, true);
    for (let k = 0; k < 3; k++) {
      view.setFloat64(131 + 8 * k, SCALE, true);
      view.setFloat64(155 + 8 * k, this.offset[k], true);
      const empty = this.count === 0;
      view.setFloat64(179 + 16 * k, empty ? 0 : this.max[k] * SCALE + this.offset[k], true);
      view.setFloat64(187 + 16 * k, empty ? 0 : this.min[k] * SCALE + this.offset[k], true);
    }
    view.setBigUint64(247, BigInt(this.count), true);
    for (let k = 0; k < 15; k++) view.setBigUint64(255 + 8 * k, BigInt(this.byReturn[k]), true);
    let at = HEADER;
    for (const v of vlrs) {
      out.set(v, at);
      at += v.length;
    }
    return out;
  }
}

function sdCode(sdM: number): number {
  const code = Math.floor(sdM * 10000 + 0.5);
  return code > 65535 ? 65535 : code;
}

function extraBytes(more: readonly MoreColumn[]): Uint8Array {
  const out = new Uint8Array(192 * (EXTRA.length + more.length));
  const view = new DataView(out.buffer);
  EXTRA.forEach(([name, description], i) => {
    const o = 192 * i;
    out[o + 2] = 3; // unsigned short
    out[o + 3] = 8; // a scale is given
    putText(out, o + 4, name, 32);
    view.setFloat64(o + 112, SCALE, true);
    putText(out, o + 160, description, 32);
  });
  more.forEach(({ name, description, bytes }, i) => {
    const o = 192 * (EXTRA.length + i);
    out[o + 2] = bytes === 2 ? 3 : 5; // unsigned short, unsigned long
    putText(out, o + 4, name, 32);
    putText(out, o + 160, description, 32);
  });
  return out;
}
