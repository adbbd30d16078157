import { describe, expect, it } from 'vitest';
import { Random } from '../numeric/random';
import { AGREEMENT_DEFAULTS, stripAgreement } from '.';

const random = new Random(17, 'strips');
const NOISE = 0.004;

/** Strips over a roof of two slopes of 30°; each is moved by its own shift, easting, northing, height. */
function cloud(shifts: Array<[number, number, number]>, perStrip: number) {
  const n = shifts.length * perStrip;
  const set = {
    count: n,
    x: new Float64Array(n),
    y: new Float64Array(n),
    z: new Float64Array(n),
    origin: [0, 0, 0] as never,
  };
  const strip = new Uint16Array(n);
  const surface = (x: number) => (x < 10.5 ? Math.tan(Math.PI / 6) * x : Math.tan(Math.PI / 6) * (21 - x));
  for (let i = 0; i < n; i++) {
    const s = Math.floor(i / perStrip);
    const [dx, dy, dz] = shifts[s];
    const [x, y] = [20 * random.uniform(), 10 * random.uniform()];
    strip[i] = s + 1;
    [set.x[i], set.y[i], set.z[i]] = [x + dx, y + dy, surface(x) + dz + NOISE * random.normal()];
  }
  return { set, strip, skip: new Uint8Array(n), sd: new Float32Array(n).fill(0.01) };
}

describe('agreement of strips', () => {
  it('finds a shift in height along the normal, pair by pair', () => {
    const c = cloud(
      [
        [0, 0, 0],
        [0, 0, 0.02],
        [0, 0, 0],
      ],
      8000,
    );
    const found = stripAgreement(c.set, c.skip, c.strip, c.sd);
    expect(found.pairs.map((p) => [p.first, p.second])).toEqual([
      [1, 2],
      [1, 3],
      [2, 3],
    ]);
    const normal = 0.02 * Math.cos(Math.PI / 6);
    [normal, 0, -normal].forEach((v, k) => expect(found.pairs[k].meanM).toBeCloseTo(v, 3));
    // forty points a cell: planes are known to less than a millimetre
    found.pairs.forEach((p) => expect(p.sdM).toBeLessThan(0.0016));
    expect(found.pairs[0].expectedM).toBeCloseTo(Math.SQRT2 * 0.01 * Math.cos(Math.PI / 6), 3);
    expect(found.rmsM).toBeCloseTo(normal * Math.sqrt(2 / 3), 3);
    // the ridge is too rough for a plane
    expect(found.rough).toBeGreaterThan(0);
    expect(found.cells + found.rough).toBeLessThanOrEqual(20 * 10 + 40);
    const signed = found.map.valueM.filter((v) => !Number.isNaN(v));
    expect(signed.every((v) => Math.abs(Math.abs(v) - normal) < 0.008)).toBe(true);
  });

  it('shows a shift in plan on slopes with opposite signs, which all but cancel in the mean', () => {
    const c = cloud(
      [
        [0, 0, 0],
        [0.03, 0, 0],
      ],
      9000,
    );
    const [pair] = stripAgreement(c.set, c.skip, c.strip, c.sd).pairs;
    // the two slopes are 10.5 and 9.5 m wide
    expect(pair.meanM).toBeCloseTo((-0.03 * Math.sin(Math.PI / 6)) / 20, 3);
    expect(pair.rmsM).toBeCloseTo(0.03 * Math.sin(Math.PI / 6), 3);
  });

  it('tells two surfaces from one that is seen differently', () => {
    const c = cloud(
      [
        [0, 0, 0],
        [0, 0, 4.5],
      ],
      4000,
    );
    const found = stripAgreement(c.set, c.skip, c.strip, c.sd);
    expect(found.pairs).toEqual([]);
    expect(found.apart).toBeGreaterThan(150);
    expect(found.map.valueM.every(Number.isNaN)).toBe(true);
  });

  it('leaves out what is skipped, in no strip, too thin or too rough', () => {
    const c = cloud(
      [
        [0, 0, 0],
        [0, 0, 0.02],
      ],
      4000,
    );
    expect(
      stripAgreement(
        c.set,
        c.skip.map((_, i) => (c.strip[i] === 2 ? 1 : 0)),
        c.strip,
        c.sd,
      ).pairs,
    ).toEqual([]);
    expect(
      stripAgreement(
        c.set,
        c.skip,
        c.strip.map((s) => (s === 2 ? 0 : s)),
        c.sd,
      ).pairs,
    ).toEqual([]);
    expect(stripAgreement(c.set, c.skip, c.strip, c.sd, { ...AGREEMENT_DEFAULTS, fewest: 500 }).pairs).toEqual([]);
    const rough = stripAgreement(c.set, c.skip, c.strip, c.sd, { ...AGREEMENT_DEFAULTS, roughestM: 0.001 });
    expect(rough.cells).toBe(0);
    expect(rough.rough).toBeGreaterThan(150);
    const silent = stripAgreement(c.set, c.skip, c.strip, new Float32Array(c.set.count));
    expect(silent.pairs[0].expectedM).toBeNaN();
  });
});
