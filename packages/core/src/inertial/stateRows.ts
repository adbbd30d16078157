import { STATE_WIDTH } from './mechanisation';

/** Rows in a piece of memory of their own. */
const PIECE_ROWS = 1 << 15;

/**
 * States by sample: position 3, velocity 3, rotation body to Earth 9. Kept in pieces that come to be when they are first
 * written, and that can be dropped when they have been read, since a day of a fast unit has gigabytes of them.
 */
export class StateRows {
  private readonly pieces: Array<Float64Array | undefined> = [];

  constructor(readonly count: number) {}

  /** The piece that row k is in. */
  piece(k: number): Float64Array {
    const n = Math.floor(k / PIECE_ROWS);
    return (this.pieces[n] ??= new Float64Array(STATE_WIDTH * Math.min(PIECE_ROWS, this.count - n * PIECE_ROWS)));
  }

  /** Where row k begins in its piece. */
  place(k: number): number {
    return STATE_WIDTH * (k % PIECE_ROWS);
  }

  /** Row k, in place. */
  at(k: number): Float64Array {
    const from = this.place(k);
    return this.piece(k).subarray(from, from + STATE_WIDTH);
  }

  /** Gives the memory of rows before k back, as far as whole pieces go; they read as zeros afterwards. */
  dropBefore(k: number): void {
    for (let n = Math.floor(k / PIECE_ROWS) - 1; n >= 0 && this.pieces[n]; n--) this.pieces[n] = undefined;
  }
}
