import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '../../frames';
import { apply3, multiply3, Random, transpose3, type Matrix3, type Vector3 } from '../../numeric';
import { type Camera } from '../camera';
import { agreeing, FeatureGrid, matchFeatures, searchTies, spread, tracksOf, type Features, type TiePicture } from '.';

const WORDS = 16;
const CAMERA: Camera = {
  widthPx: 1000,
  heightPx: 700,
  focalPx: 1200,
  cxPx: 499.5,
  cyPx: 349.5,
  k1: 0,
  k2: 0,
  k3: 0,
  p1: 0,
  p2: 0,
};

/** Features at places of a picture, with descriptions of the points they show. */
function features(list: ReadonlyArray<{ u: number; v: number; words: Uint32Array }>): Features {
  const words = new Uint32Array(WORDS * list.length);
  list.forEach((f, i) => words.set(f.words, WORDS * i));
  return {
    count: list.length,
    uPx: Float64Array.from(list, (f) => f.u),
    vPx: Float64Array.from(list, (f) => f.v),
    strength: Float32Array.from(list, (_, i) => 1 / (1 + i)),
    words,
    wordsEach: WORDS,
  };
}
const description = (r: Random) => Uint32Array.from({ length: WORDS }, () => r.uint32());
/** The same description with some bits the other way round. */
function blurred(words: Uint32Array, bits: number, r: Random): Uint32Array {
  const out = words.slice();
  for (let k = 0; k < bits; k++) out[Math.floor(r.uniform() * WORDS)] ^= 1 << Math.floor(r.uniform() * 32);
  return out;
}

interface Scene {
  points: Vector3[];
  words: Uint32Array[];
}
function scene(count: number, seed: number, relief = 6): Scene {
  const r = new Random(seed, 'scene');
  return {
    points: Array.from({ length: count }, () => [r.between(-150, 250), r.between(-90, 90), relief * r.uniform()]),
    words: Array.from({ length: count }, () => description(r)),
  };
}
/** Looks down, x of the picture along x of the scene, turned a little. */
const down = (roll: number, pitch: number, heading: number): Matrix3 =>
  multiply3(Float64Array.of(1, 0, 0, 0, -1, 0, 0, 0, -1), rotationFromAngles(roll, pitch, heading));

/** What a picture shows of a scene: features of points in the frame, some of nothing besides. */
function taken(s: Scene, centre: Vector3, rotation: Matrix3, seed: number, noisePx = 0.15) {
  const r = new Random(seed, 'taken');
  const list: Array<{ u: number; v: number; words: Uint32Array; point: number }> = [];
  s.points.forEach((p, point) => {
    const [x, y, z] = apply3(
      transpose3(rotation),
      p.map((v, k) => v - centre[k]),
    );
    const u = (CAMERA.focalPx * x) / z + CAMERA.cxPx + noisePx * r.normal();
    const v = (CAMERA.focalPx * y) / z + CAMERA.cyPx + noisePx * r.normal();
    if (z > 0 && u > 0 && v > 0 && u < CAMERA.widthPx && v < CAMERA.heightPx)
      list.push({ u, v, words: blurred(s.words[point], 40, r), point });
  });
  for (let k = 0; k < 100; k++)
    list.push({ u: r.between(0, 999), v: r.between(0, 699), words: description(r), point: -1 });
  return { features: features(list), points: list.map((f) => f.point) };
}

describe('descriptions', () => {
  it('match where each is the other’s best and clearly so, within a window if there is one', () => {
    const r = new Random(1);
    const words = Array.from({ length: 6 }, () => description(r));
    const a = features(words.slice(0, 4).map((w, i) => ({ u: 100 * i + 50, v: 100, words: w })));
    const twin = blurred(words[2], 3, r);
    const b = features([
      { u: 400, v: 300, words: blurred(words[1], 50, r) },
      { u: 50, v: 60, words: blurred(words[0], 60, r) },
      // two places that look the same are none
      { u: 600, v: 300, words: blurred(words[2], 3, r) },
      { u: 800, v: 300, words: twin },
      { u: 700, v: 500, words: words[5] },
    ]);
    const grid = new FeatureGrid(b, 1000, 700);
    const all = matchFeatures(a, grid);
    expect([[...all.first], [...all.second]]).toEqual([
      [0, 1],
      [1, 0],
    ]);
    // the window keeps one of the twins out, and the right place of another
    const some = matchFeatures(a, grid, (i) =>
      i === 0
        ? { u0: 900, v0: 600, u1: 900, v1: 600, withinPx: 50 }
        : { u0: 380, v0: 290, u1: 650, v1: 310, withinPx: 30 },
    );
    expect([[...some.first], [...some.second]]).toEqual([
      [1, 2],
      [0, 2],
    ]);
  });

  it('are spread: each part of a picture has its share before any has more', () => {
    const r = new Random(2);
    const list = Array.from({ length: 400 }, (_, i) => ({
      u: i < 390 ? 10 + 60 * r.uniform() : 990 - 80 * (i - 390),
      v: i < 390 ? 10 + 40 * r.uniform() : 650,
      words: description(r),
    }));
    const kept = spread(features(list), 1000, 700, 20);
    expect(kept).toHaveLength(20);
    expect(kept.filter((i) => i >= 390)).toHaveLength(10);
  });
});

describe('a pair', () => {
  const ray = (p: Vector3, centre: Vector3, rotation: Matrix3): Vector3 => {
    const d = apply3(
      transpose3(rotation),
      p.map((v, k) => v - centre[k]),
    );
    const size = Math.hypot(...d);
    return d.map((v) => v / size) as Vector3;
  };
  for (const [what, relief] of [
    ['in space', 60],
    ['on a plane', 0],
  ] as const)
    it(`keeps the matches that fit one pose of both, of places ${what}`, () => {
      const s = scene(150, 3, relief);
      const r = new Random(4, what);
      const [c1, r1, c2, r2]: [Vector3, Matrix3, Vector3, Matrix3] = [
        [20, 0, 240],
        down(0.02, -0.03, 0.1),
        [85, 12, 245],
        down(-0.03, 0.02, 0.25),
      ];
      const wrong = s.points.map((_, i) => i % 4 === 0);
      const first = Float64Array.from(s.points.flatMap((p) => ray(p, c1, r1)));
      const second = Float64Array.from(
        s.points.flatMap((p, i) =>
          ray(wrong[i] ? [r.between(-150, 250), r.between(-90, 90), relief * r.uniform()] : p, c2, r2),
        ),
      );
      const found = agreeing(first, second)!;
      const good = [...found.agrees.keys()].filter((i) => !wrong[i]);
      expect(good.every((i) => found.agrees[i] === 1)).toBe(true);
      // a wrong one may lie by chance in the plane of its ray and the base
      const slipped = [...found.agrees.keys()].filter((i) => wrong[i] && found.agrees[i]).length;
      expect(slipped).toBeLessThan(5);
      const turn = multiply3(transpose3(r1), r2);
      if (relief) for (let k = 0; k < 9; k++) expect(found.relative.rotation[k]).toBeCloseTo(turn[k], 5);
    });

  it('of pictures that show nothing in common has no agreement', () => {
    const r = new Random(5);
    const random = () =>
      Float64Array.from(
        Array.from({ length: 60 }, () =>
          ray([r.between(-90, 90), r.between(-60, 60), 0], [0, 0, 240], down(0, 0, 0)),
        ).flat(),
      );
    const found = agreeing(random(), random());
    expect((found?.count ?? 0) / 60).toBeLessThan(0.5);
  });
});

describe('tracks', () => {
  it('join matches over pictures, and leave out what comes back to a picture at another place', () => {
    const pair = (a: number, b: number, list: Array<[number, number]>) => ({
      a,
      b,
      first: Int32Array.from(list, (m) => m[0]),
      second: Int32Array.from(list, (m) => m[1]),
    });
    const tracks = tracksOf(
      [3, 3, 3],
      [
        pair(0, 1, [
          [0, 2],
          [1, 1],
        ]),
        pair(1, 2, [
          [2, 0],
          [1, 2],
        ]),
        // the second track would be at two places of the first picture
        pair(0, 2, [[2, 2]]),
      ],
    );
    expect(tracks).toEqual([{ images: [0, 1, 2], features: [0, 2, 0] }]);
  });
});

describe('ties of a block', () => {
  const s = scene(2600, 7);
  const centres: Vector3[] = Array.from({ length: 8 }, (_, k) => [-60 + 45 * (k % 4), k < 4 ? -25 : 25, 240]);
  const r = new Random(8);
  const turns = centres.map(() => down(0.02 * r.normal(), 0.02 * r.normal(), 0.03 * r.normal()));
  const shown = centres.map((c, k) => taken(s, c, turns[k], 20 + k));
  const block = (poseOf: (k: number) => TiePicture['pose']): TiePicture[] =>
    shown.map(({ features: f }, k) => ({ name: `p${k}`, camera: CAMERA, features: f, pose: poseOf(k) }));
  const off = (k: number) => ({
    centreM: centres[k].map((v) => v + 0.5 * r.normal()) as Vector3,
    rotation: multiply3(turns[k], rotationFromAngles(0.004 * r.normal(), 0.004 * r.normal(), 0.006 * r.normal())),
  });
  /** Share of the tracks whose features are all of one point. */
  const right = (ties: ReturnType<typeof searchTies>) => {
    // features of ties are in an order of their own: by where they lie
    const pointAt = shown.map(
      ({ features: f, points }) => new Map(points.map((p, i) => [`${f.uPx[i]} ${f.vPx[i]}`, p])),
    );
    const good = ties.tracks.filter((t) => {
      const points = t.images.map((i, k) =>
        pointAt[i].get(`${ties.features[i].uPx[t.features[k]]} ${ties.features[i].vPx[t.features[k]]}`),
      );
      return points[0] !== -1 && points.every((p) => p === points[0]);
    });
    return good.length / ties.tracks.length;
  };
  const perPicture = (ties: ReturnType<typeof searchTies>) => {
    const count = shown.map(() => 0);
    for (const t of ties.tracks) for (const i of t.images) count[i]++;
    return count;
  };

  it('are found in predicted windows, spread over all pictures', () => {
    const ties = searchTies(block(off));
    expect(ties.misplaced).toEqual([]);
    expect(ties.depthM![0]).toBeLessThan(234);
    expect(ties.depthM![1]).toBeGreaterThan(240);
    expect(right(ties)).toBeGreaterThan(0.99);
    expect(Math.min(...perPicture(ties))).toBeGreaterThan(100);
    expect(ties.tracks.some((t) => t.images.length > 4)).toBe(true);
  });

  it('are found for a picture without a place, and for two whose places are exchanged, which are named', () => {
    const ties = searchTies(block((k) => (k === 1 ? undefined : k === 0 ? off(7) : k === 7 ? off(0) : off(k))));
    expect(ties.misplaced).toEqual([0, 7]);
    expect(right(ties)).toBeGreaterThan(0.99);
    for (const k of [0, 1, 7]) expect(perPicture(ties)[k]).toBeGreaterThan(40);
  });

  it('are found among pictures of which nothing is known', () => {
    const ties = searchTies(block(() => undefined));
    expect([ties.depthM, ties.misplaced]).toEqual([undefined, []]);
    expect(right(ties)).toBeGreaterThan(0.99);
    expect(Math.min(...perPicture(ties))).toBeGreaterThan(60);
  });
});
