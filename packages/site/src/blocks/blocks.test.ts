import { describe, expect, it } from 'vitest';
import {
  adjustBlock,
  orientByTies,
  sphereOf,
  type AdjustedBlock,
  type Block,
  type BlockCamera,
} from '@longheron/core/photo';
import { cameraEffectPx, normalisedErrors, rejectedOf } from './errors';
import { drawBlock, type TrueBlock } from './flown';
import { blockOf } from './adjusted';
import { drawPanoramas, type TruePanoramas } from './panoramas';
import { drawRoom, ROOM_PLAN } from './room';

const rms = (v: readonly number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);
describe('twenty drawn blocks with three wrong rays in a hundred', () => {
  const drawn = Array.from({ length: 20 }, (_, k) => {
    const t = drawBlock({ seed: k + 1, wrong: 0.03 });
    return { t, a: adjustBlock({ block: blockOf(t), calibrate: 'auto' }) };
  });

  it('have the scatter they were given', () => {
    for (const { a } of drawn) {
      expect(a.sigma0).toBeGreaterThan(0.95);
      expect(a.sigma0).toBeLessThan(1.05);
      expect(a.rayScales[0]).toBe(1);
    }
  });

  it('lose the wrong rays and hardly any other', () => {
    const all = drawn.map(({ t, a }) => rejectedOf(t, a));
    const sum = (key: keyof (typeof all)[number]) => all.reduce((s, r) => s + r[key], 0);
    const [wrong, found, good, lost] = (['wrong', 'found', 'good', 'lost'] as const).map(sum);
    expect(wrong).toBeGreaterThan(1500);
    expect(found / wrong).toBeGreaterThan(0.98);
    expect(lost / good).toBeLessThan(0.003);
  });

  it('err by what they state, in pictures, points and cameras', () => {
    const all = new Map<string, number[]>();
    for (const { t, a } of drawn)
      for (const [what, v] of normalisedErrors(t, a)) all.set(what, [...(all.get(what) ?? []), ...v]);
    expect([...all.keys()].sort()).toEqual(['camera', 'centres', 'check', 'control', 'tie']);
    for (const [what, v] of all) {
      expect(rms(v), what).toBeGreaterThan(0.7);
      expect(rms(v), what).toBeLessThan(1.4);
    }
  });

  it('hold the term that they cannot tell, and say so', () => {
    for (const { a } of drawn) expect(a.held).toContainEqual({ camera: 0, term: 'k3', reason: 'not determined' });
  });
});

describe('a block', () => {
  it('finds what its camera does to a seventh of a pixel', () => {
    const t = drawBlock({ seed: 7, lines: 6, ofLine: 10, acrossM: 60, alongM: 40, sdPx: 0.3, points: 2500 });
    const a = adjustBlock({ block: blockOf(t, { sdPx: 0.3 }), calibrate: 'auto' });
    expect(cameraEffectPx(t, a)).toBeLessThan(0.15);
  });

  it('names control in the wrong place, and places of two pictures that are exchanged', () => {
    const t = drawBlock({ seed: 3 });
    const block = blockOf(t);
    const at = block.points.findIndex((p) => p.name === 'C4');
    const points = block.points.map((p, i) =>
      i === at ? { ...p, givenM: [p.givenM![0] + 0.6, p.givenM![1], p.givenM![2]] as [number, number, number] } : p,
    );
    const given = (i: number) => {
      const other = block.images[i === 11 ? 12 : 11];
      return { ...block.images[i], centreM: other.centreM, given: other.given };
    };
    const images = block.images.map((image, i) => (i === 11 || i === 12 ? given(i) : image));
    const a = adjustBlock({ block: { ...block, points, images }, calibrate: 'auto' });
    expect(a.controlOut.map((c) => c.index)).toEqual([at]);
    expect(Math.abs(a.controlOut[0].offM[0])).toBeGreaterThan(0.005);
    expect(a.placesOut.map((p) => p.index).sort()).toEqual([11, 12]);
    // and without them it is as good as ever
    expect(a.sigma0).toBeLessThan(1.05);
  });

  it('finds that rays scatter by more than they state, and a shift that all places of a session share', () => {
    const t = drawBlock({ seed: 5 });
    const block = blockOf(t);
    const images = block.images.map((i) => ({
      ...i,
      given: {
        ...i.given!,
        placeM: i.given!.placeM.map((v, k) => v + [0.8, -0.5, 1.2][k]) as [number, number, number],
        session: 0,
      },
    }));
    const rays = { ...block.rays, sdPx: block.rays.sdPx.map((v) => v / 2) };
    const a = adjustBlock({ block: { ...block, images, rays }, calibrate: 'auto' });
    expect(a.rayScales[0]).toBeGreaterThan(1.9);
    expect(a.rayScales[0]).toBeLessThan(2.1);
    [0.8, -0.5, 1.2].forEach((v, k) => expect(Math.abs(a.state.shifts[k] - v)).toBeLessThan(0.15));
    expect(Math.max(...rmsOfChecks(t, a))).toBeLessThan(0.4);
  });

  it('carries places of the body to the camera by its arm', () => {
    const t = drawBlock({ seed: 9 });
    const block = blockOf(t);
    const arm: [number, number, number] = [0.3, -0.9, 1.4];
    const images = block.images.map((image, i) => {
      const axes = t.pictures[i].axes;
      const moved = image.given!.placeM.map(
        (v, k) => v - (axes[3 * k] * arm[0] + axes[3 * k + 1] * arm[1] + axes[3 * k + 2] * arm[2]),
      ) as [number, number, number];
      return { ...image, centreM: moved, given: { ...image.given!, placeM: moved, armM: arm } };
    });
    const a = adjustBlock({ block: { ...block, images }, calibrate: 'auto' });
    expect(a.placesOut).toEqual([]);
    expect(Math.max(...rmsOfChecks(t, a))).toBeLessThan(0.4);
    expect(a.sigma0).toBeLessThan(1.05);
  });

  it('of pictures without any place is of a shape of its own, as large as a distance says', () => {
    const t = drawBlock({ seed: 4, lines: 2, ofLine: 4, points: 250, control: 0, checks: 12 });
    const block = blockOf(t);
    const checks = t.points.flatMap((p, i) => (p.kind === 'check' ? [i] : []));
    const length = (a: number, b: number) => Math.hypot(...t.points[a].at.map((v, k) => v - t.points[b].at[k]));
    const loose: Block = {
      ...block,
      images: block.images.map(({ given, ...i }) => ({ ...i, centreM: given!.placeM })),
      points: block.points.map((p) => ({ ...p, kind: 'tie' as const })),
      distances: [
        { from: checks[0], to: checks[1], valueM: length(checks[0], checks[1]), sdM: 0.02, use: 'scale' },
        { from: checks[2], to: checks[3], valueM: length(checks[2], checks[3]), sdM: 0.02, use: 'check' },
      ],
    };
    const a = adjustBlock({ block: loose, calibrate: 'none' });
    expect(a.loose).toEqual({ place: true, scale: false });
    expect(a.distances[0].foundM).toBeCloseTo(loose.distances[0].valueM, 3);
    expect(a.distances[0].sdM).toBeCloseTo(0.02, 3);
    // nothing but rays and one length tells the other
    const { foundM, sdM } = a.distances[1];
    expect(sdM).toBeGreaterThan(0.005);
    expect(Math.abs(foundM - loose.distances[1].valueM)).toBeLessThan(2.5 * Math.hypot(sdM, 5));
  });

  it('says that nothing ties its pictures', () => {
    const t = drawBlock({ seed: 2, points: 0, control: 0, checks: 0 });
    expect(() => adjustBlock({ block: blockOf(t), calibrate: 'auto' })).toThrow(
      expect.objectContaining({ code: 'block-ties' }),
    );
  });
});

describe('set-ups in a chamber that nobody knows the place of', () => {
  const drawn = Array.from({ length: 12 }, (_, k) => {
    const t = drawRoom(k + 1);
    const block = blockOf(t, ROOM_PLAN);
    const at = (name: string) => t.points.findIndex((p) => p.name === name);
    const { bar, door } = t;
    const distances: Block['distances'] = [
      { from: at(bar.from), to: at(bar.to), valueM: bar.lengthM, sdM: 0.0005, use: 'scale' },
      { from: at(door.from), to: at(door.to), valueM: door.lengthM, sdM: 0.001, use: 'check' },
    ];
    const start = orientByTies({ ...block, distances });
    return { t, start, a: adjustBlock({ block: { ...block, distances }, calibrate: 'auto', start: start.state }) };
  });

  it('are all oriented by their ties', () => {
    for (const { start, a } of drawn) {
      expect(start.oriented.every(Boolean)).toBe(true);
      expect(a.loose).toEqual({ place: true, scale: false });
      expect(a.sigma0).toBeGreaterThan(0.8);
      expect(a.sigma0).toBeLessThan(1.2);
    }
  });

  it('have the bar’s length, and tell the door’s within what they state', () => {
    const off = drawn.map(({ a, t }) => {
      expect(a.distances[0].foundM).toBeCloseTo(t.bar.lengthM, 3);
      expect(a.distances[1].sdM).toBeLessThan(0.005);
      return (a.distances[1].foundM - t.door.lengthM) / a.distances[1].sdM;
    });
    expect(Math.max(...off.map(Math.abs))).toBeLessThan(3);
    expect(rms(off)).toBeGreaterThan(0.5);
    expect(rms(off)).toBeLessThan(1.5);
  });

  it('lie level along the view of the first, their middle at nought', () => {
    const { a, start } = drawn[0];
    const first = start.state.rotations.subarray(0, 9);
    // its x to the right, its z along y
    expect(first[0]).toBeCloseTo(1, 2);
    expect(first[5]).toBeCloseTo(1, 2);
    const middle = [0, 1, 2].map((k) => a.state.centres.reduce((s, v, i) => s + (i % 3 === k ? v : 0), 0));
    for (const v of middle) expect(Math.abs(v)).toBeLessThan(0.05);
  });
});

describe('full panoramas in a chamber', () => {
  const drawn = Array.from({ length: 12 }, (_, k) => {
    const t = drawPanoramas(k + 1);
    const block = panoramaBlock(t);
    const start = orientByTies(block);
    return { t, start, a: adjustBlock({ block, calibrate: 'auto', start: start.state }) };
  });

  it('are oriented by what is picked in them, to the scatter of the picks', () => {
    for (const { start, a } of drawn) {
      expect(start.oriented).toEqual([true, true, true, true]);
      expect(a.held).toEqual([]);
    }
    // of normal errors one ray in three hundred lies beyond 3.3 deviations
    const lost = drawn.reduce((n, { a }) => n + a.rejected.length, 0);
    expect(lost / drawn.reduce((n, { t }) => n + t.seen.length, 0)).toBeLessThan(0.006);
    expect(rms(drawn.map(({ a }) => a.sigma0))).toBeGreaterThan(0.95);
    expect(rms(drawn.map(({ a }) => a.sigma0))).toBeLessThan(1.05);
  });

  it('tell the door’s width within what they state', () => {
    const off = drawn.map(({ a, t }) => (a.distances[1].foundM - t.door.lengthM) / a.distances[1].sdM);
    expect(drawn[0].a.distances[1].sdM).toBeLessThan(0.004);
    expect(rms(off)).toBeGreaterThan(0.5);
    expect(rms(off)).toBeLessThan(1.5);
  });

  it('stand as far from each other as they truly do', () => {
    for (const { a, t } of drawn)
      for (let i = 1; i < 4; i++) {
        const found = Math.hypot(...[0, 1, 2].map((k) => a.state.centres[3 * i + k] - a.state.centres[k]));
        const truth = Math.hypot(...[0, 1, 2].map((k) => t.pictures[i].at[k] - t.pictures[0].at[k]));
        expect(Math.abs(found - truth)).toBeLessThan(0.01);
      }
  });

  it('lose a pick on the wrong target, wherever in the sphere it is', () => {
    const { t } = drawn[0];
    for (const name of ['t0', 't4', 't5']) {
      const block = panoramaBlock(t);
      const ray = t.seen.findIndex((s) => t.points[s.point].name === name);
      block.rays.uPx[ray] += 40;
      const { state } = orientByTies(block);
      const a = adjustBlock({ block, calibrate: 'auto', start: state });
      expect(a.rejected.map((r) => r.ray)).toEqual([ray]);
    }
  });
});

function panoramaBlock(t: TruePanoramas): Block {
  const exact = 1e-9;
  const sd = { focalPx: exact, cxPx: exact, cyPx: exact, k1: exact, k2: exact, k3: exact, p1: exact, p2: exact };
  const camera: BlockCamera = { name: 'round', camera: sphereOf(t.widthPx, t.heightPx), sd };
  const at = (name: string) => t.points.findIndex((p) => p.name === name);
  const unknown = { centreM: [Number.NaN, Number.NaN, Number.NaN] as [number, number, number] };
  return {
    cameras: [camera],
    images: t.pictures.map(({ name }) => ({ name, camera: 0, ...unknown, rotation: new Float64Array(9).fill(NaN) })),
    points: t.points.map(({ name }) => ({ name, kind: 'tie' })),
    rays: {
      count: t.seen.length,
      image: Int32Array.from(t.seen, (s) => s.image),
      point: Int32Array.from(t.seen, (s) => s.point),
      uPx: Float64Array.from(t.seen, (s) => s.u),
      vPx: Float64Array.from(t.seen, (s) => s.v),
      sdPx: new Float64Array(t.seen.length).fill(t.sdPx),
    },
    distances: [
      { from: at(t.bar.from), to: at(t.bar.to), valueM: t.bar.lengthM, sdM: 0.0005, use: 'scale' },
      { from: at(t.door.from), to: at(t.door.to), valueM: t.door.lengthM, sdM: 0.001, use: 'check' },
    ],
  };
}

function rmsOfChecks(t: TrueBlock, a: AdjustedBlock): number[] {
  const list = t.points.flatMap((p, i) => (p.kind === 'check' ? [i] : []));
  return [0, 1, 2].map((k) => rms(list.map((i) => a.state.points[3 * i + k] - t.points[i].at[k])));
}
