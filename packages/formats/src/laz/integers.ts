import { type ArithmeticEncoder } from './encoder';
import { BitModel, ModelSet, SymbolModel } from './models';

/** Corrections with more bits than this have their low bits written without a model. */
const MODELLED_BITS = 8;

/**
 * Codes integers as corrections to a prediction: first a class (how many bits the correction has) by context, then
 * the bits. Of the open LAZ specification.
 */
export class IntegerEncoder {
  private readonly classes: ModelSet;
  private readonly first = new BitModel();
  private readonly correctors: (SymbolModel | undefined)[];
  /** Class of the last correction: the context of other values. */
  k = 0;

  /** @param bits 32, or 16 for values that wrap within a short. */
  constructor(
    private readonly encoder: ArithmeticEncoder,
    private readonly bits: number,
    contexts: number,
  ) {
    this.classes = new ModelSet(contexts, bits + 1);
    this.correctors = new Array<SymbolModel | undefined>(bits + 1).fill(undefined);
  }

  encode(predicted: number, value: number, context: number): void {
    let c = (value - predicted) | 0;
    // a short wraps around
    if (this.bits === 16) c = (c << 16) >> 16;
    // for the lowest number the negation stays negative, which has 32 bits, as it must
    const k = 32 - Math.clz32(c <= 0 ? -c | 0 : c - 1);
    this.k = k;
    const { encoder } = this;
    encoder.symbol(this.classes.of(context), k);
    if (k === 0) encoder.bit(this.first, c);
    else if (k < 32) {
      c = c < 0 ? c + ((1 << k) - 1) : c - 1;
      const model = (this.correctors[k] ??= new SymbolModel(1 << Math.min(k, MODELLED_BITS)));
      if (k <= MODELLED_BITS) encoder.symbol(model, c);
      else {
        const low = k - MODELLED_BITS;
        encoder.symbol(model, c >>> low);
        encoder.bits(low, c & ((1 << low) - 1));
      }
    }
  }
}
