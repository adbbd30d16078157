/**
 * Adaptive models of symbols and bits as the open LAZ specification defines them, after A. Said (2004), "Introduction
 * to arithmetic coding". Coder and decoder share them: both must change them alike after every symbol.
 */
export class SymbolModel {
  /** Sum of the probabilities before each symbol, in units of 2^-15. */
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

  private update(): void {
    const { counts, distribution, symbols } = this;
    this.total += this.cycle;
    if (this.total > 1 << 15) {
      this.total = 0;
      for (let n = 0; n < symbols; n++) this.total += counts[n] = (counts[n] + 1) >>> 1;
    }
    const scale = Math.floor(0x80000000 / this.total);
    let sum = 0;
    for (let k = 0; k < symbols; k++) {
      // at most 2^31, so the product stays an unsigned 32-bit number
      distribution[k] = Math.imul(scale, sum) >>> 16;
      sum += counts[k];
    }
    this.cycle = Math.min((5 * this.cycle) >>> 2, (symbols + 6) << 3);
    this.left = this.cycle;
  }

  seen(symbol: number): void {
    this.counts[symbol]++;
    if (--this.left === 0) this.update();
  }
}

export class BitModel {
  private cycle = 4;
  private left = 4;
  private zeros = 1;
  private total = 2;
  /** Of a zero, in units of 2^-13. */
  probability = 1 << 12;

  seen(bit: number): void {
    if (bit === 0) this.zeros++;
    if (--this.left > 0) return;
    this.total += this.cycle;
    if (this.total > 1 << 13) {
      this.total = (this.total + 1) >>> 1;
      this.zeros = (this.zeros + 1) >>> 1;
      if (this.zeros === this.total) this.total++;
    }
    const scale = Math.floor(0x80000000 / this.total);
    this.probability = Math.floor((this.zeros * scale) / 2 ** (31 - 13));
    this.cycle = Math.min((5 * this.cycle) >>> 2, 64);
    this.left = this.cycle;
  }
}

/** Models made when first used, one for each context. */
export class ModelSet {
  private readonly models: (SymbolModel | undefined)[];

  constructor(
    contexts: number,
    private readonly symbols: number,
  ) {
    this.models = new Array<SymbolModel | undefined>(contexts).fill(undefined);
  }

  of(context: number): SymbolModel {
    return (this.models[context] ??= new SymbolModel(this.symbols));
  }
}
