import { type ArithmeticEncoder } from './encoder';
import { IntegerEncoder } from './integers';
import { SymbolModel } from './models';

const MOST = 500;
const LEAST = -10;

/**
 * Codes the 64 bits of times as multiples of the last step, of up to four sequences that run beside each other. The
 * pointwise form has codes for a time that did not change; in the layered form that is said elsewhere.
 */
export class TimeEncoder {
  private readonly multiples: SymbolModel;
  private readonly first: SymbolModel;
  private readonly steps: IntegerEncoder;
  private readonly highs = new Int32Array(4);
  private readonly lows = new Uint32Array(4);
  private readonly lastSteps = new Int32Array(4);
  private readonly extremes = new Int32Array(4);
  private last = 0;
  private next = 0;
  private readonly unchanged: number;
  private readonly whole: number;

  constructor(
    private readonly encoder: ArithmeticEncoder,
    form: 'pointwise' | 'layered',
    high: number,
    low: number,
  ) {
    this.unchanged = form === 'pointwise' ? 1 : 0;
    this.whole = MOST - LEAST + 1 + this.unchanged;
    this.multiples = new SymbolModel(this.whole + 4);
    this.first = new SymbolModel(5 + this.unchanged);
    this.steps = new IntegerEncoder(encoder, 32, 9);
    this.highs[0] = high;
    this.lows[0] = low;
  }

  /** The step from a sequence's last time, NaN when it does not fit 32 bits. */
  private step(sequence: number, high: number, low: number): number {
    const d = (high - this.highs[sequence]) * 4294967296 + (low - this.lows[sequence]);
    return d >= -2147483648 && d <= 2147483647 ? d : NaN;
  }

  encode(high: number, low: number): void {
    const { encoder, unchanged } = this;
    for (;;) {
      const s = this.last;
      const fresh = this.lastSteps[s] === 0;
      if (unchanged && this.highs[s] === high && this.lows[s] === low) {
        if (fresh) encoder.symbol(this.first, 0);
        else encoder.symbol(this.multiples, MOST - LEAST + 1);
        return;
      }
      const d = this.step(s, high, low);
      if (d === d) {
        if (fresh) {
          encoder.symbol(this.first, unchanged);
          this.steps.encode(0, d, 0);
          this.lastSteps[s] = d;
          this.extremes[s] = 0;
        } else this.multiple(s, d);
        break;
      }
      let other = 1;
      while (other < 4 && this.step((s + other) & 3, high, low) !== this.step((s + other) & 3, high, low)) other++;
      if (other < 4) {
        if (fresh) encoder.symbol(this.first, other + 1 + unchanged);
        else encoder.symbol(this.multiples, this.whole + other);
        this.last = (s + other) & 3;
        continue;
      }
      if (fresh) encoder.symbol(this.first, 1 + unchanged);
      else encoder.symbol(this.multiples, this.whole);
      this.steps.encode(this.highs[s], high, 8);
      encoder.word(low);
      this.next = (this.next + 1) & 3;
      this.last = this.next;
      this.lastSteps[this.last] = 0;
      this.extremes[this.last] = 0;
      break;
    }
    this.highs[this.last] = high;
    this.lows[this.last] = low;
  }

  private multiple(s: number, d: number): void {
    const { encoder, steps } = this;
    const usual = this.lastSteps[s];
    const ratio = Math.fround(d) / Math.fround(usual);
    const m = ratio >= 0 ? Math.floor(ratio + 0.5) : Math.ceil(ratio - 0.5);
    let extreme = false;
    if (m === 1) {
      encoder.symbol(this.multiples, 1);
      steps.encode(usual, d, 1);
      this.extremes[s] = 0;
    } else if (m > 0) {
      extreme = m >= MOST;
      const by = extreme ? MOST : m;
      encoder.symbol(this.multiples, by);
      steps.encode(Math.imul(by, usual), d, extreme ? 4 : m < 10 ? 2 : 3);
    } else if (m < 0) {
      extreme = m <= LEAST;
      const by = extreme ? LEAST : m;
      encoder.symbol(this.multiples, MOST - by);
      steps.encode(Math.imul(by, usual), d, extreme ? 6 : 5);
    } else {
      extreme = true;
      encoder.symbol(this.multiples, 0);
      steps.encode(0, d, 7);
    }
    if (extreme && ++this.extremes[s] > 3) {
      this.lastSteps[s] = d;
      this.extremes[s] = 0;
    }
  }
}
