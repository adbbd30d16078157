import { type ArithmeticEncoder } from './encoder';
import { SymbolModel } from './models';

const clamp = (v: number) => (v < 0 ? 0 : v > 255 ? 255 : v);

/** Codes red, green and blue by bytes: which bytes changed, then differences, green and blue after red's. */
export class ColourEncoder {
  private readonly used = new SymbolModel(128);
  private readonly bytes = Array.from({ length: 6 }, () => new SymbolModel(256));

  constructor(private readonly encoder: ArithmeticEncoder) {}

  /**
   * @param data bytes that hold both colours, three little-endian shorts each.
   * @returns whether anything changed.
   */
  encode(data: Uint8Array, last: number, at: number): boolean {
    const { encoder, bytes } = this;
    let changed = 0;
    for (let k = 0; k < 6; k++) if (data[last + k] !== data[at + k]) changed |= 1 << k;
    const grey =
      data[at] === data[at + 2] &&
      data[at] === data[at + 4] &&
      data[at + 1] === data[at + 3] &&
      data[at + 1] === data[at + 5];
    if (!grey) changed |= 64;
    encoder.symbol(this.used, changed);
    for (let k = 0; k < 2; k++) if (changed & (1 << k)) encoder.symbol(bytes[k], (data[at + k] - data[last + k]) & 255);
    if (!grey) {
      // bytes 0, 2, 4 low; 1, 3, 5 high
      for (let k = 0; k < 2; k++) {
        let by = data[at + k] - data[last + k];
        const green = data[last + 2 + k];
        if (changed & (4 << k)) encoder.symbol(bytes[2 + k], (data[at + 2 + k] - clamp(by + green)) & 255);
        if (changed & (16 << k)) {
          by = Math.trunc((by + data[at + 2 + k] - green) / 2);
          encoder.symbol(bytes[4 + k], (data[at + 4 + k] - clamp(by + data[last + 4 + k])) & 255);
        }
      }
    }
    return (changed & 63) !== 0;
  }
}

/** Codes near infrared, one little-endian short, by bytes. */
export class InfraredEncoder {
  private readonly used = new SymbolModel(4);
  private readonly bytes = [new SymbolModel(256), new SymbolModel(256)];

  constructor(private readonly encoder: ArithmeticEncoder) {}

  encode(data: Uint8Array, last: number, at: number): boolean {
    let changed = 0;
    for (let k = 0; k < 2; k++) if (data[last + k] !== data[at + k]) changed |= 1 << k;
    this.encoder.symbol(this.used, changed);
    for (let k = 0; k < 2; k++)
      if (changed & (1 << k)) this.encoder.symbol(this.bytes[k], (data[at + k] - data[last + k]) & 255);
    return changed !== 0;
  }
}
