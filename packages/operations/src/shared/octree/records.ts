import { LAS_CLASS } from '@longheron/core/cloud';
import { COLOUR_OFFSET, hasColour, hasTime, WITHHELD, type LasFile } from '@longheron/formats/las';
import { type Density } from './density';

/** Columns of a run of points, reused from block to block. Coordinates are metres in the cloud's system. */
export interface Block {
  count: number;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  time: Float64Array;
  intensity: Uint16Array;
  strip: Uint16Array;
  sdH: Float32Array;
  echo: Uint8Array;
  echoes: Uint8Array;
  cls: Uint8Array;
  /** Of files with colours, as they are written there. */
  red: Uint16Array;
  green: Uint16Array;
  blue: Uint16Array;
  /** 1 for what the file says is withheld, and is no noise. */
  withheld: Uint8Array;
}

/** Withheld in the byte of the class, in point formats 0 to 5. */
const LEGACY_WITHHELD = 128;
/** Noise is withheld by its class. */
const isNoise = (cls: number) => cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise;

function block(n: number, coloured: boolean): Block {
  return {
    count: 0,
    x: new Float64Array(n),
    y: new Float64Array(n),
    z: new Float64Array(n),
    time: new Float64Array(n),
    intensity: new Uint16Array(n),
    strip: new Uint16Array(n),
    sdH: new Float32Array(n),
    echo: new Uint8Array(n),
    echoes: new Uint8Array(n),
    cls: new Uint8Array(n),
    red: new Uint16Array(coloured ? n : 0),
    green: new Uint16Array(coloured ? n : 0),
    blue: new Uint16Array(coloured ? n : 0),
    withheld: new Uint8Array(n),
  };
}

/** A square of density grid is a metre; larger clouds than this have none. */
const MAX_DENSITY_CELLS = 25_000_000;

/** Reads what the store of a cloud keeps of each point, block by block, as often as asked. */
export class RecordReader {
  readonly count: number;
  readonly coloured: boolean;
  private out: Block;

  constructor(
    private readonly file: LasFile,
    private readonly metresPerUnit: number,
    private readonly verticalMetresPerUnit: number,
  ) {
    this.count = file.header.pointCount;
    this.coloured = hasColour(file.header.pointFormat);
    this.out = block(1 << 16, this.coloured);
  }

  /** Extent in the header, metres. */
  extent(): { min: [number, number, number]; max: [number, number, number] } {
    const { min, max } = this.file.header;
    const per = [this.metresPerUnit, this.metresPerUnit, this.verticalMetresPerUnit];
    const metres = (v: ArrayLike<number>) => [0, 1, 2].map((k) => v[k] * per[k]) as [number, number, number];
    return { min: metres(min), max: metres(max) };
  }

  async *blocks(): AsyncGenerator<Block> {
    const { header } = this.file;
    const step = header.pointBytes;
    const modern = header.pointFormat >= 6;
    const timeAt = modern ? 22 : hasTime(header.pointFormat) ? 20 : -1;
    const [sx, sy] = [header.scale[0] * this.metresPerUnit, header.scale[1] * this.metresPerUnit];
    const sz = header.scale[2] * this.verticalMetresPerUnit;
    const [ox, oy] = [header.offset[0] * this.metresPerUnit, header.offset[1] * this.metresPerUnit];
    const oz = header.offset[2] * this.verticalMetresPerUnit;
    const sd = this.file.extraDimensions().find((d) => d.name === 'sd_h' && d.type === 3);
    const sdAt = sd ? sd.at : -1;
    const sdScale = sd?.scale ?? 0;
    const colourAt = COLOUR_OFFSET[header.pointFormat] ?? -1;
    for await (const batch of this.file.records()) {
      if (batch.count > this.out.x.length) this.out = block(batch.count, this.coloured);
      const b = this.out;
      const { bytes } = batch;
      const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
      b.count = batch.count;
      for (let i = 0, o = 0; i < batch.count; i++, o += step) {
        b.x[i] = view.getInt32(o, true) * sx + ox;
        b.y[i] = view.getInt32(o + 4, true) * sy + oy;
        b.z[i] = view.getInt32(o + 8, true) * sz + oz;
        b.intensity[i] = view.getUint16(o + 12, true);
        const returns = bytes[o + 14];
        if (modern) {
          b.echo[i] = returns & 15;
          b.echoes[i] = returns >> 4;
          b.cls[i] = bytes[o + 16];
          b.strip[i] = view.getUint16(o + 20, true);
          b.withheld[i] = bytes[o + 15] & WITHHELD && !isNoise(b.cls[i]) ? 1 : 0;
        } else {
          b.echo[i] = returns & 7;
          b.echoes[i] = (returns >> 3) & 7;
          b.cls[i] = bytes[o + 15] & 31;
          b.strip[i] = view.getUint16(o + 18, true);
          b.withheld[i] = bytes[o + 15] & LEGACY_WITHHELD && !isNoise(b.cls[i]) ? 1 : 0;
        }
        b.time[i] = timeAt < 0 ? 0 : view.getFloat64(o + timeAt, true);
        b.sdH[i] = sdAt < 0 ? 0 : view.getUint16(o + sdAt, true) * sdScale;
        if (colourAt < 0) continue;
        b.red[i] = view.getUint16(o + colourAt, true);
        b.green[i] = view.getUint16(o + colourAt + 2, true);
        b.blue[i] = view.getUint16(o + colourAt + 4, true);
      }
      yield b;
    }
  }

  /** A density grid over the extent in the header, or undefined when that is too large. */
  densityGrid(): { add(x: Float64Array, y: Float64Array, count: number): void; finish(): Density } | undefined {
    const { header } = this.file;
    const edge = (v: number) => v * this.metresPerUnit;
    const westM = Math.floor(edge(header.min[0]));
    const northM = Math.ceil(edge(header.max[1]) + 1e-6);
    const columns = Math.ceil(edge(header.max[0]) + 1e-6) - westM;
    const rows = northM - Math.floor(edge(header.min[1]));
    if (!(columns > 0 && rows > 0 && columns * rows <= MAX_DENSITY_CELLS)) return undefined;
    const perM2 = new Uint32Array(columns * rows);
    return {
      add(x, y, count) {
        for (let i = 0; i < count; i++) {
          const c = Math.floor(x[i] - westM);
          const r = Math.floor(northM - y[i]);
          if (c >= 0 && r >= 0 && c < columns && r < rows) perM2[r * columns + c]++;
        }
      },
      finish: () => ({ westM, northM, columns, rows, perM2 }),
    };
  }
}
