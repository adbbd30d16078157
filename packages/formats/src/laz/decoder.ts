import { BitModel, SymbolModel } from './models';

/** Arithmetic decoder of the open LAZ specification (Said 2004). */
export class ArithmeticDecoder {
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
export class IntegerDecoder {
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
