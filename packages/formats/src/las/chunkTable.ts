import { Problem } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';
import { type LasHeader } from './header';

export interface LazChunk {
  offset: number;
  bytes: number;
  points: number;
}

/**
 * The table of compressed chunks. Its entries are differences coded by an adaptive arithmetic coder (Said 2004,
 * "Introduction to arithmetic coding", as laid down in the open LAZ specification).
 */
export async function readChunkTable(source: ByteSource, header: LasHeader, chunkSize: number): Promise<LazChunk[]> {
  const damaged = (what: string, place: string) =>
    new Problem(what, {
      code: 'laz-table',
      file: source.name,
      place,
      remedy: 'The file was cut off or damaged: copy it again from its origin.',
    });
  const start = header.pointOffset + 8;
  const pointerBytes = await source.read(header.pointOffset, 8);
  let tableAt = Number(new DataView(pointerBytes.buffer).getBigInt64(0, true));
  if (tableAt === -1) {
    const tail = await source.read(source.size - 8, 8);
    tableAt = Number(new DataView(tail.buffer).getBigInt64(0, true));
  }
  if (!(tableAt >= start && tableAt + 8 <= source.size))
    throw damaged(
      `The table of compressed chunks is said to be at byte ${tableAt} of ${source.size}.`,
      `byte ${header.pointOffset}`,
    );
  const head = new DataView((await source.read(tableAt, 8)).buffer);
  const count = head.getUint32(4, true);
  if (head.getUint32(0, true) !== 0 || count > source.size / 8)
    throw damaged('The table of compressed chunks makes no sense.', `byte ${tableAt}`);
  if (count === 0) return [];
  const data = await source.read(tableAt + 8, source.size - tableAt - 8);
  const variable = chunkSize === 0xffffffff;
  const decoder = new ArithmeticDecoder(data);
  const integers = new IntegerDecoder(decoder, 32, 2);
  const out: LazChunk[] = [];
  let offset = start;
  let lastBytes = 0;
  let lastPoints = 0;
  let total = 0;
  for (let i = 0; i < count; i++) {
    let points = Math.min(chunkSize, header.pointCount - total);
    if (variable) {
      lastPoints = integers.decode(lastPoints, 0);
      points = lastPoints;
    }
    lastBytes = integers.decode(lastBytes, 1);
    if (lastBytes <= 0 || points <= 0 || offset + lastBytes > tableAt)
      throw damaged(`Compressed chunk ${i + 1} of ${count} reaches beyond its place.`, `byte ${offset}`);
    out.push({ offset, bytes: lastBytes, points });
    offset += lastBytes;
    total += points;
  }
  if (total !== header.pointCount)
    throw damaged(
      `The header declares ${header.pointCount} points, the compressed chunks hold ${total}.`,
      `byte ${tableAt}`,
    );
  return out;
}

/** Adaptive model of symbols, as the LAZ specification defines it. */
class SymbolModel {
  readonly distribution: Uint32Array;
  private readonly counts: Uint32Array;
  private total = 0;
  private cycle: number;
  private left: number;

  constructor(readonly symbols: number) {
    this.distribution = new Uint32Array(symbols);
    this.counts = new Uint32Array(symbols).fill(1);
    this.cycle = symbols;
    this.left = 0;
    this.update();
    this.left = this.cycle = (symbols + 6) >>> 1;
  }

  update(): void {
    this.total += this.cycle;
    if (this.total > 1 << 15) {
      this.total = 0;
      for (let n = 0; n < this.symbols; n++) this.total += this.counts[n] = (this.counts[n] + 1) >>> 1;
    }
    const scale = Math.floor(0x80000000 / this.total);
    let sum = 0;
    for (let k = 0; k < this.symbols; k++) {
      this.distribution[k] = Math.floor((scale * sum) / 65536);
      sum += this.counts[k];
    }
    this.cycle = Math.min((5 * this.cycle) >>> 2, (this.symbols + 6) << 3);
    this.left = this.cycle;
  }

  seen(symbol: number): void {
    this.counts[symbol]++;
    if (--this.left === 0) this.update();
  }
}

class BitModel {
  private update = 4;
  private left = 4;
  private zeros = 1;
  private total = 2;
  probability = 1 << 12;

  seen(bit: number): void {
    if (bit === 0) this.zeros++;
    if (--this.left > 0) return;
    this.total += this.update;
    if (this.total > 1 << 13) {
      this.total = (this.total + 1) >>> 1;
      this.zeros = (this.zeros + 1) >>> 1;
      if (this.zeros === this.total) this.total++;
    }
    const scale = Math.floor(0x80000000 / this.total);
    this.probability = Math.floor((this.zeros * scale) / 2 ** (31 - 13));
    this.update = Math.min((5 * this.update) >>> 2, 64);
    this.left = this.update;
  }
}

class ArithmeticDecoder {
  private at = 4;
  private value: number;
  private length = 0xffffffff;

  constructor(private readonly data: Uint8Array) {
    this.value = ((data[0] << 24) | (data[1] << 16) | (data[2] << 8) | data[3]) >>> 0;
  }

  private renormalise(): void {
    do {
      this.value = ((this.value << 8) | (this.data[this.at++] ?? 0)) >>> 0;
      this.length = (this.length << 8) >>> 0;
    } while (this.length < 0x01000000);
  }

  bit(model: BitModel): number {
    const x = Math.imul(model.probability, this.length >>> 13) >>> 0;
    const bit = this.value >= x ? 1 : 0;
    if (bit === 0) this.length = x;
    else {
      this.value -= x;
      this.length -= x;
    }
    if (this.length < 0x01000000) this.renormalise();
    model.seen(bit);
    return bit;
  }

  symbol(model: SymbolModel): number {
    const unit = this.length >>> 15;
    let low = 0;
    let high = model.symbols;
    let x = 0;
    let y = this.length;
    let k = high >> 1;
    do {
      const z = Math.imul(unit, model.distribution[k]) >>> 0;
      if (z > this.value) {
        high = k;
        y = z;
      } else {
        low = k;
        x = z;
      }
      k = (low + high) >> 1;
    } while (k !== low);
    this.value -= x;
    this.length = y - x;
    if (this.length < 0x01000000) this.renormalise();
    model.seen(low);
    return low;
  }

  bits(count: number): number {
    if (count > 19) {
      const low = this.bits(16);
      return ((this.bits(count - 16) << 16) | low) >>> 0;
    }
    this.length >>>= count;
    const value = Math.floor(this.value / this.length);
    this.value -= value * this.length;
    if (this.length < 0x01000000) this.renormalise();
    return value;
  }
}

/** Integers as corrections to a prediction: a class (number of bits) by context, then the bits. */
class IntegerDecoder {
  private readonly classes: SymbolModel[];
  private readonly first = new BitModel();
  private readonly correctors: SymbolModel[] = [];

  constructor(
    private readonly decoder: ArithmeticDecoder,
    bits: number,
    contexts: number,
  ) {
    this.classes = Array.from({ length: contexts }, () => new SymbolModel(bits + 1));
    for (let k = 1; k <= bits; k++) this.correctors.push(new SymbolModel(1 << Math.min(k, 8)));
  }

  decode(predicted: number, context: number): number {
    const k = this.decoder.symbol(this.classes[context]);
    let correction: number;
    if (k === 0) correction = this.decoder.bit(this.first);
    else if (k < 32) {
      const model = this.correctors[k - 1];
      let c = this.decoder.symbol(model);
      if (k > 8) c = c * 2 ** (k - 8) + this.decoder.bits(k - 8);
      correction = c >= 2 ** (k - 1) ? c + 1 : c - (2 ** k - 1);
    } else correction = -2147483648;
    return (predicted + correction) | 0;
  }
}
