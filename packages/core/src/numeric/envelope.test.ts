import { describe, expect, it } from 'vitest';
import { Cholesky } from './cholesky';
import { Envelope, nearOrder } from './envelope';
import { Random } from './random';

/** A positive definite matrix of a drawn shape, whole and by its envelope. */
function drawn(seed: number, n: number): { whole: Float64Array; envelope: Envelope } {
  const r = new Random(seed, 'envelope');
  const first = Int32Array.from({ length: n }, (_, i) =>
    Math.max(0, (i < n / 2 ? i : i - (i % 6)) - Math.floor(r.between(0, i < n / 2 ? 6 : 1.3))),
  );
  first[n - 1] = 0;
  const envelope = new Envelope(first);
  const whole = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = first[i]; j <= i; j++) {
      const v = i === j ? 3 + n / 4 : r.between(-0.5, 0.5);
      whole[i * n + j] = whole[j * n + i] = v;
      envelope.values[envelope.at(i, j)] = v;
    }
  return { whole, envelope };
}

describe('a matrix in its envelope', () => {
  it('is factored, solved and inverted as the whole one', () => {
    for (let seed = 1; seed < 6; seed++) {
      const n = 12 * seed;
      const { whole, envelope } = drawn(seed, n);
      const b = Float64Array.from({ length: n }, (_, i) => Math.sin(i));
      const x = Cholesky.of(whole, n)!.solve(b);
      const factor = envelope.copy();
      expect(factor.factor()).toBe(true);
      factor.solve(b).forEach((v, i) => expect(v).toBeCloseTo(x[i], 11));
      const inverse = Cholesky.of(whole, n)!.inverse();
      const z = factor.inverse();
      for (let i = 0; i < n; i++)
        for (let j = envelope.first[i]; j <= i; j++) expect(z.values[z.at(i, j)]).toBeCloseTo(inverse[i * n + j], 12);
      // the matrix itself is as it was
      expect(envelope.values[envelope.at(n - 1, 0)]).toBe(whole[(n - 1) * n]);
    }
  });

  it('says that it is not positive definite', () => {
    const { envelope } = drawn(3, 10);
    envelope.values[envelope.at(7, 7)] = -1;
    expect(envelope.factor()).toBe(false);
  });
});

describe('an order in which linked nodes stand near each other', () => {
  const spread = (links: ReadonlyArray<ReadonlySet<number>>, order: Int32Array) => {
    const at = new Map([...order].map((node, k) => [node, k]));
    return Math.max(...links.flatMap((l, a) => [...l].map((b) => Math.abs(at.get(a)! - at.get(b)!))));
  };

  it('has a chain in its own order, however its nodes are numbered', () => {
    const n = 40;
    const name = (k: number) => (k * 17) % n;
    const links = Array.from({ length: n }, () => new Set<number>());
    for (let k = 0; k + 1 < n; k++) {
      links[name(k)].add(name(k + 1));
      links[name(k + 1)].add(name(k));
    }
    expect(spread(links, nearOrder(links))).toBe(1);
  });

  it('has a lattice within its shorter side, and every part of what is not linked', () => {
    const links = Array.from({ length: 5 * 20 + 3 }, () => new Set<number>());
    const join = (a: number, b: number) => links[a].add(b) && links[b].add(a);
    for (let r = 0; r < 20; r++)
      for (let c = 0; c < 5; c++) {
        if (c < 4) join(5 * r + c, 5 * r + c + 1);
        if (r < 19) join(5 * r + c, 5 * r + c + 5);
      }
    join(100, 101);
    const order = nearOrder(links);
    expect([...order].sort((a, b) => a - b)).toEqual(links.map((_, k) => k));
    expect(spread(links, order)).toBeLessThanOrEqual(6);
  });
});
