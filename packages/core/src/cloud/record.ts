/**
 * The stored point, docs/formats/cloud-store.md: whoever writes or reads its bytes does it here. Little-endian, four
 * columns, a point at the same place in each: position, attributes, class, row in the file it came from.
 */

/** Metres to a step of stored positions. */
export const POSITION_SCALE_M = 0.001;
/** Metres to a step of the stored deviation of height. */
export const SD_STEP_M = 1e-4;
/** x, y, z in steps about the cloud's origin, 32 bits each. */
export const POSITION_BYTES = 12;
/** Intensity, strip (16 bits each), time in steps (32), deviation of height in steps (16), echo, echo count (8 each). */
export const ATTRIBUTE_BYTES = 12;
export const CLASS_BYTES = 1;
/** Row in the file, 32 bits. */
export const ORDER_BYTES = 4;
/** Red, green, blue, where the file has them. */
export const COLOUR_BYTES = 3;
/** Bytes of a point in each column, in the order in which they are written; colours come last, if at all. */
export const COLUMN_BYTES = [POSITION_BYTES, ATTRIBUTE_BYTES, CLASS_BYTES, ORDER_BYTES, COLOUR_BYTES] as const;

/** 32-bit words of a point while a cloud is being built: position, attributes, class with colour, row. */
export const RECORD_WORDS = 8;

/** Positions as whole steps, three a point. The bytes must begin where four divides. */
export const positionsOf = (bytes: ArrayBufferLike, byteOffset: number, count: number) =>
  new Int32Array(bytes, byteOffset, 3 * count);

/** The attributes of points that follow each other, read in place. The bytes must begin where four divides. */
export class Attributes {
  private readonly half: Uint16Array;
  private readonly whole: Uint32Array;
  private readonly byte: Uint8Array;

  constructor(
    bytes: ArrayBufferLike,
    byteOffset: number,
    readonly count: number,
  ) {
    this.half = new Uint16Array(bytes, byteOffset, 6 * count);
    this.whole = new Uint32Array(bytes, byteOffset, 3 * count);
    this.byte = new Uint8Array(bytes, byteOffset, ATTRIBUTE_BYTES * count);
  }

  /** 0 to 65535. */
  intensity(i: number): number {
    return this.half[6 * i];
  }
  strip(i: number): number {
    return this.half[6 * i + 1];
  }
  /** Steps of time from the cloud's zero. */
  time(i: number): number {
    return this.whole[3 * i + 1];
  }
  /** 1 SD of height in steps of `SD_STEP_M`; 0 where nothing is stated. */
  sdSteps(i: number): number {
    return this.half[6 * i + 4];
  }
  /** 1 SD of height, metres; 0 where nothing is stated. */
  sdM(i: number): number {
    return this.half[6 * i + 4] * SD_STEP_M;
  }
  /** Number of the echo, from 1. */
  echo(i: number): number {
    return this.byte[ATTRIBUTE_BYTES * i + 10];
  }
  /** Echoes of the pulse. */
  echoes(i: number): number {
    return this.byte[ATTRIBUTE_BYTES * i + 11];
  }
}

/** The attributes of points that a buffer begins with. */
export const attributesOf = (b: { buffer: ArrayBufferLike; byteOffset: number }, count: number) =>
  new Attributes(b.buffer, b.byteOffset, count);

/** Puts the attributes of a point into three words, from `o` on. Deviations beyond 6.5535 m are stored as that. */
export function putAttributes(
  words: Int32Array,
  o: number,
  intensity: number,
  strip: number,
  timeSteps: number,
  sdM: number,
  echo: number,
  echoes: number,
): void {
  words[o] = intensity | (strip << 16);
  words[o + 1] = timeSteps;
  words[o + 2] = Math.min(65535, Math.floor(sdM * 10000 + 0.5)) | (echo << 16) | (echoes << 24);
}

/** The word of class and colour. @param red, green, blue 0 to 255. */
export const classWord = (cls: number, red: number, green: number, blue: number) =>
  cls | (red << 8) | (green << 16) | (blue << 24);

/** Buffers for the columns of points on their way to the disk. */
export class ColumnBuffers {
  readonly bytes: readonly Uint8Array[];
  private readonly position: Int32Array;
  private readonly attributes: Int32Array;
  private readonly order: Int32Array;
  filled = 0;

  /** @param points for which there is room. @param coloured whether colours are written. */
  constructor(
    readonly points: number,
    coloured: boolean,
  ) {
    this.bytes = COLUMN_BYTES.slice(0, coloured ? 5 : 4).map((b) => new Uint8Array(b * points));
    [this.position, this.attributes, , this.order] = this.bytes.map(
      (b) => new Int32Array(b.buffer, 0, b.byteLength >> 2),
    );
  }

  /** Appends records `rows[first]` to `rows[to - 1]`; there must be room. */
  add(records: Int32Array, rows: Uint32Array, first: number, to: number): void {
    const { position, attributes, order } = this;
    const [, , classes, , colours] = this.bytes;
    let { filled } = this;
    for (let k = first; k < to; k++) {
      const from = rows[k] * RECORD_WORDS;
      const at = 3 * filled;
      position[at] = records[from];
      position[at + 1] = records[from + 1];
      position[at + 2] = records[from + 2];
      attributes[at] = records[from + 3];
      attributes[at + 1] = records[from + 4];
      attributes[at + 2] = records[from + 5];
      classes[filled] = records[from + 6];
      order[filled] = records[from + 7];
      if (colours) {
        const word = records[from + 6];
        colours[COLOUR_BYTES * filled] = word >> 8;
        colours[COLOUR_BYTES * filled + 1] = word >> 16;
        colours[COLOUR_BYTES * filled + 2] = word >> 24;
      }
      filled++;
    }
    this.filled = filled;
  }

  /** What was filled, column by column. */
  full(): Uint8Array[] {
    return this.bytes.map((b, i) => b.subarray(0, COLUMN_BYTES[i] * this.filled));
  }
}
