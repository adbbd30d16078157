import { type BitModel, type SymbolModel } from './models';

const SHORTEST = 0x01000000;

/**
 * Arithmetic coder of the open LAZ specification (Said 2004). Low end and length of the interval are kept as signed
 * 32-bit numbers and read as unsigned, which spares the engine floating point.
 */
export class ArithmeticEncoder {
  private base = 0;
  private length = -1;
  private bytes: Uint8Array;
  private at = 0;

  constructor(capacity = 1 << 16) {
    this.bytes = new Uint8Array(capacity);
  }

  /** Begins anew; what was coded before is dropped. */
  reset(): void {
    this.base = 0;
    this.length = -1;
    this.at = 0;
  }

  bit(model: BitModel, bit: number): void {
    const x = Math.imul(model.probability, this.length >>> 13);
    if (bit === 0) this.length = x;
    else {
      this.base = (this.base + x) | 0;
      if (this.base >>> 0 < x >>> 0) this.carry();
      this.length = (this.length - x) | 0;
    }
    if (this.length >>> 0 < SHORTEST) this.renormalise();
    model.seen(bit);
  }

  symbol(model: SymbolModel, symbol: number): void {
    const { distribution } = model;
    const unit = this.length >>> 15;
    const x = Math.imul(distribution[symbol], unit);
    const end = symbol === model.symbols - 1 ? this.length : Math.imul(distribution[symbol + 1], unit);
    this.base = (this.base + x) | 0;
    if (this.base >>> 0 < x >>> 0) this.carry();
    this.length = (end - x) | 0;
    if (this.length >>> 0 < SHORTEST) this.renormalise();
    model.seen(symbol);
  }

  /** Up to 32 bits without a model. */
  bits(count: number, value: number): void {
    if (count > 19) {
      this.plain(16, value & 0xffff);
      this.plain(count - 16, value >>> 16);
    } else this.plain(count, value);
  }

  private plain(count: number, value: number): void {
    this.length = this.length >>> count;
    const x = Math.imul(value, this.length);
    this.base = (this.base + x) | 0;
    if (this.base >>> 0 < x >>> 0) this.carry();
    if (this.length >>> 0 < SHORTEST) this.renormalise();
  }

  word(value: number): void {
    this.plain(16, value & 0xffff);
    this.plain(16, value >>> 16);
  }

  /** Ends the code. @returns its bytes, a view that the next `reset` makes invalid. */
  finish(): Uint8Array {
    const before = this.base >>> 0;
    let padding: number;
    if (this.length >>> 0 > 2 * SHORTEST) {
      this.base = (this.base + SHORTEST) | 0;
      this.length = SHORTEST >>> 1;
      padding = 3;
    } else {
      this.base = (this.base + (SHORTEST >>> 1)) | 0;
      this.length = SHORTEST >>> 9;
      padding = 2;
    }
    if (this.base >>> 0 < before) this.carry();
    this.renormalise();
    this.room(padding);
    // the decoder reads four bytes ahead
    for (let k = 0; k < padding; k++) this.bytes[this.at++] = 0;
    return this.bytes.subarray(0, this.at);
  }

  private carry(): void {
    let p = this.at - 1;
    while (this.bytes[p] === 255) this.bytes[p--] = 0;
    this.bytes[p]++;
  }

  private renormalise(): void {
    if (this.at + 4 > this.bytes.length) this.room(4);
    do {
      this.bytes[this.at++] = this.base >>> 24;
      this.base <<= 8;
      this.length <<= 8;
    } while (this.length >>> 0 < SHORTEST);
  }

  private room(count: number): void {
    if (this.at + count <= this.bytes.length) return;
    const larger = new Uint8Array(2 * this.bytes.length);
    larger.set(this.bytes.subarray(0, this.at));
    this.bytes = larger;
  }
}
