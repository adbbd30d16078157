import { type Single, type SingleEpoch } from './single';

/** Numbers of a row. */
const WIDTH = 20;
/** Rows in a piece of memory of their own. */
const PIECE_ROWS = 1 << 14;
/** Epochs whose rows are kept as objects: the last ones that were asked for. */
const KEPT = 3;

/**
 * Rows of epochs as plain numbers: as objects those of a day would be gigabytes. An epoch's rows become objects when
 * they are asked for, anew each time but for the last few.
 */
export class SingleStore {
  private readonly pieces: Float64Array[] = [];
  private readonly satellites: string[] = [];
  private count = 0;
  private readonly kept: Array<{ from: number; rows: Single[] }> = [];

  /** Keeps an epoch. */
  add(epoch: number, sow: number, nearM: Float64Array, codeSdM: number, rows: Single[]): SingleEpoch {
    const from = this.count;
    for (const row of rows) this.put(this.count++, row);
    const { count: to } = this;
    const rowsOf = () => this.rows(from, to);
    return {
      epoch,
      sow,
      nearM,
      codeSdM,
      get rows() {
        return rowsOf();
      },
      renumbered: (changed) => changed.forEach((row, k) => this.putArcs(from + k, row)),
    };
  }

  private rows(from: number, to: number): Single[] {
    const { kept } = this;
    for (const k of kept) if (k.from === from && k.rows.length === to - from) return k.rows;
    const rows: Single[] = [];
    for (let k = from; k < to; k++) rows.push(this.get(k));
    kept.unshift({ from, rows });
    if (kept.length > KEPT) kept.pop();
    return rows;
  }

  private place(k: number): [Float64Array, number] {
    const n = Math.floor(k / PIECE_ROWS);
    return [(this.pieces[n] ??= new Float64Array(WIDTH * PIECE_ROWS)), WIDTH * (k % PIECE_ROWS)];
  }

  private put(k: number, r: Single): void {
    const [out, at] = this.place(k);
    this.satellites[r.index] = r.satellite;
    const flags = (r.told[0] ? 1 : 0) + (r.told[1] ? 2 : 0) + (r.apart ? 4 : 0);
    const numbers = [r.index, r.group, flags, r.sinEl, r.shellDifference, r.wet, r.wetDifference];
    out.set(numbers, at);
    let next = at + numbers.length;
    for (const list of [r.unit, r.wavelengthM, r.codeM, r.phaseM, r.arc, r.rawArc]) {
      out.set(list, next);
      next += list.length;
    }
  }

  private get(k: number): Single {
    const [p, at] = this.place(k);
    const flags = p[at + 2];
    const pair = (from: number): [number, number] => [p[at + from], p[at + from + 1]];
    return {
      satellite: this.satellites[p[at]],
      index: p[at],
      group: p[at + 1],
      sinEl: p[at + 3],
      shellDifference: p[at + 4],
      wet: p[at + 5],
      wetDifference: p[at + 6],
      unit: [p[at + 7], p[at + 8], p[at + 9]],
      wavelengthM: pair(10),
      codeM: pair(12),
      phaseM: pair(14),
      arc: pair(16),
      rawArc: pair(18),
      told: [(flags & 1) !== 0, (flags & 2) !== 0],
      apart: (flags & 4) !== 0,
    };
  }

  private putArcs(k: number, row: Single): void {
    const [out, at] = this.place(k);
    out.set(row.arc, at + 16);
  }
}
