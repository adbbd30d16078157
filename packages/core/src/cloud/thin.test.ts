import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { thinPoints } from '.';

describe('thinning', () => {
  it('keeps one point of each cube, the most precise where that is asked for', () => {
    const random = new Random(8, 'thin');
    const n = 3000;
    const column = () => Float64Array.from({ length: n }, () => 5 * random.uniform());
    const set = { count: n, x: column(), y: column(), z: column(), origin: [0, 0, 0] as [number, number, number] };
    const sd = Float32Array.from({ length: n }, () => random.uniform());
    const skip = new Uint8Array(n);
    skip[5] = 1;
    const low = [set.x, set.y, set.z].map((c) => Math.min(...c.filter((_, i) => !skip[i])));
    const key = (i: number) => [set.x, set.y, set.z].map((c, k) => Math.floor((c[i] - low[k]) / 0.5)).join();
    const cubes = new Map<string, number[]>();
    for (let i = 0; i < n; i++) if (!skip[i]) cubes.set(key(i), [...(cubes.get(key(i)) ?? []), i]);
    const kept = (rank?: Float32Array) => [...thinPoints(set, skip, 0.5, rank)].flatMap((keep, i) => (keep ? [i] : []));
    const first = [...cubes.values()].map((list) => list[0]).sort((a, b) => a - b);
    const best = [...cubes.values()].map((l) => l.reduce((a, b) => (sd[b] < sd[a] ? b : a))).sort((a, b) => a - b);
    expect(kept()).toEqual(first);
    expect(kept(sd)).toEqual(best);
  });
});
