import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { applyEdits, decodeRuns, encodeRuns, RunBuilder, type CloudEdit, type EditAct } from '.';

const runsOf = (rows: number[]) => {
  const b = new RunBuilder();
  for (const r of rows) b.add(r);
  return b.finish();
};
const random = new Random(11, 'edits');
const below = (n: number) => Math.floor(random.uniform() * n);

describe('runs of rows', () => {
  it('come back from bytes, for any rows', () => {
    expect([...encodeRuns(runsOf([0, 1, 2, 300, 301]))]).toEqual([2, 0, 3, 0xa9, 2, 2]);
    for (let k = 0; k < 200; k++) {
      const rows: number[] = [];
      for (let row = below(1000); row < 4e9 && rows.length < 300; row += 1 + (below(3) ? 0 : below(2 ** below(31))))
        rows.push(row);
      const runs = runsOf(rows);
      const back = decodeRuns(encodeRuns(runs));
      expect(back).toEqual(runs);
      expect(back.count).toBe(rows.length);
    }
  });

  it('are refused when damaged', () => {
    const good = encodeRuns(runsOf([5, 6, 9]));
    expect(() => decodeRuns(good.slice(0, good.length - 1))).toThrow(/damaged/);
    expect(() => decodeRuns(Uint8Array.of(...good, 0))).toThrow(/damaged/);
    expect(() => decodeRuns(Uint8Array.of(255, 255, 255, 255, 255, 255))).toThrow(/damaged/);
    expect(() => decodeRuns(new Uint8Array())).toThrow(/damaged/);
    expect(() => decodeRuns(Uint8Array.of(1, 4, 0))).toThrow(/damaged/);
  });
});

describe('edits', () => {
  /** A cloud kept the plain way: an act at a time on a list of points, with every state remembered. */
  class Plain {
    states: Array<{ cls: Uint8Array; rejected: Uint8Array }>;
    constructor(readonly n: number) {
      const cls = Uint8Array.from({ length: n }, () => [1, 2, 5, 7, 18][below(5)]);
      this.states = [{ cls, rejected: new Uint8Array(n) }];
    }
    get now() {
      return this.states[this.states.length - 1];
    }
    act(act: EditAct, rows: number[]): void {
      const [cls, rejected] = [this.now.cls.slice(), this.now.rejected.slice()];
      for (const r of rows) {
        if (act.kind === 'class') cls[r] = act.to;
        if (act.kind === 'reject') rejected[r] = 1;
        if (act.kind === 'restore') {
          rejected[r] = 0;
          if (cls[r] === 7 || cls[r] === 18) cls[r] = 1;
        }
      }
      this.states.push({ cls, rejected });
    }
  }

  it('in any sequence with undos give back the exact bytes, read whole or in pieces', () => {
    for (let trial = 0; trial < 60; trial++) {
      const plain = new Plain(50 + below(400));
      const edits: CloudEdit[] = [];
      for (let k = 0; k < 40; k++) {
        if (edits.length && below(3) === 0) {
          plain.states.pop();
          edits.pop();
        } else {
          const acts: EditAct[] = [{ kind: 'reject' }, { kind: 'restore' }, { kind: 'class', to: below(256) }];
          const act = acts[below(3)];
          const share = random.uniform() ** 2;
          const rows = Array.from({ length: plain.n }, (_, i) => i).filter(() => random.uniform() < share);
          plain.act(act, rows);
          edits.push({ act, runs: decodeRuns(encodeRuns(runsOf(rows))) });
        }
        const from = below(plain.n);
        const to = from + below(plain.n - from + 1);
        const cls = plain.states[0].cls.slice(from, to);
        const flags = new Uint8Array(to - from);
        applyEdits(edits, from, cls, flags);
        expect(cls).toEqual(plain.now.cls.slice(from, to));
        expect(flags).toEqual(plain.now.rejected.slice(from, to));
      }
    }
  });

  it('say where rejection was decided', () => {
    const touched = new Uint8Array(4);
    const edits: CloudEdit[] = [
      { act: { kind: 'class', to: 6 }, runs: runsOf([0, 1]) },
      { act: { kind: 'restore' }, runs: runsOf([1, 2]) },
    ];
    applyEdits(edits, 0, new Uint8Array(4), new Uint8Array(4), touched);
    expect([...touched]).toEqual([0, 1, 1, 0]);
  });
});
