import { Problem } from '../../shared/problem';

/** Rows of a stored cloud as runs: first rows ascending, and how many follow each. */
export interface Runs {
  first: Uint32Array;
  length: Uint32Array;
  /** Rows in all. */
  count: number;
}

/** Collects rows that come in ascending order. */
export class RunBuilder {
  private first = new Uint32Array(1024);
  private length = new Uint32Array(1024);
  private runs = 0;
  private next = -1;
  count = 0;

  add(row: number): void {
    this.count++;
    if (row === this.next) {
      this.length[this.runs - 1]++;
      this.next++;
      return;
    }
    if (row < this.next) throw new Error('rows must ascend');
    if (this.runs === this.first.length) {
      const grown = (a: Uint32Array<ArrayBuffer>) => {
        const out = new Uint32Array(2 * a.length);
        out.set(a);
        return out;
      };
      [this.first, this.length] = [grown(this.first), grown(this.length)];
    }
    this.first[this.runs] = row;
    this.length[this.runs++] = 1;
    this.next = row + 1;
  }

  finish(): Runs {
    return { first: this.first.slice(0, this.runs), length: this.length.slice(0, this.runs), count: this.count };
  }
}

/** Runs as bytes: the number of runs, then for each the gap to the one before and its length, seven bits a byte. */
export function encodeRuns(runs: Runs): Uint8Array<ArrayBuffer> {
  const n = runs.first.length;
  const out = new Uint8Array(5 + 10 * n);
  let at = 0;
  const put = (v: number) => {
    while (v > 127) {
      out[at++] = (v & 127) | 128;
      v = Math.floor(v / 128);
    }
    out[at++] = v;
  };
  put(n);
  let end = 0;
  for (let i = 0; i < n; i++) {
    put(runs.first[i] - end);
    put(runs.length[i]);
    end = runs.first[i] + runs.length[i];
  }
  return out.slice(0, at);
}

/** @throws Problem when the bytes end early or say what cannot be. */
export function decodeRuns(bytes: Uint8Array): Runs {
  const wrong = () =>
    new Problem('The record of an edit is damaged.', {
      code: 'edit-damaged',
      place: `byte ${at}`,
      remedy: 'Undo to the revision before it; raw files are not concerned.',
    });
  let at = 0;
  const take = () => {
    let v = 0;
    let unit = 1;
    for (;;) {
      if (at >= bytes.length || unit > 2 ** 28) throw wrong();
      const b = bytes[at++];
      v += (b & 127) * unit;
      if (b < 128) return v;
      unit *= 128;
    }
  };
  const n = take();
  if (2 * n > bytes.length - at) throw wrong();
  const first = new Uint32Array(n);
  const length = new Uint32Array(n);
  let end = 0;
  let count = 0;
  for (let i = 0; i < n; i++) {
    first[i] = end + take();
    length[i] = take();
    end = first[i] + length[i];
    count += length[i];
    if (length[i] === 0 || end > 2 ** 32) throw wrong();
  }
  if (at !== bytes.length) throw wrong();
  return { first, length, count };
}
