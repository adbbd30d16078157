import { beforeAll, describe, expect, it } from 'vitest';
import { rotationFromAngles } from '../../frames/attitude';
import { multiply3, type Vector3 } from '../../numeric/matrix3';
import { Random } from '../../numeric/random';
import { type Camera, directionOf } from '../camera';
import { type OrientedPicture } from '../points/picture';
import { bitsOf, censusOf } from './census';
import { HeightFusion, type FusedSurface } from './fuse';
import { matchPair } from './matchPair';
import { choosePairs } from './pairs';
import { drawRectified, rectify, wayOf, type RectifiedPair } from './rectify';
import { aggregate } from './semiGlobal';

const CAMERA: Camera = {
  widthPx: 300,
  heightPx: 220,
  focalPx: 400,
  cxPx: 151,
  cyPx: 108,
  k1: -0.05,
  k2: 0.01,
  k3: 0,
  p1: 0.0005,
  p2: -0.0004,
};
/** A slope of 8 % with a house of 5 m on it. */
const HOUSE = { west: -4, east: 5, south: -3, north: 4, topM: 6 };
const groundAt = (x: number) => 0.08 * x;

/** Grain of the ground, from half a metre down to what a pixel shows; 0 to 255. */
function toneAt(x: number, y: number, kind: number): number {
  let tone = 0;
  for (const [wave, size] of [
    [2.3, 30],
    [0.61, 45],
    [0.17, 35],
  ]) {
    const [u, v] = [x / wave + 91.7 * kind, y / wave];
    const [i, j] = [Math.floor(u), Math.floor(v)];
    const at = (p: number, q: number) => {
      let h = Math.imul(p, 374_761_393) + Math.imul(q, 668_265_263) + kind * 977;
      h = Math.imul(h ^ (h >>> 13), 1_274_126_177);
      return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32 - 0.5;
    };
    const [a, b] = [u - i, v - j];
    tone +=
      size * ((1 - b) * ((1 - a) * at(i, j) + a * at(i + 1, j)) + b * ((1 - a) * at(i, j + 1) + a * at(i + 1, j + 1)));
  }
  return 120 + 25 * kind + tone;
}

/** Looks down from a place, a little tilted. */
function pictureAt(name: string, at: Vector3, roll: number, pitch: number, headingDeg: number): OrientedPicture {
  const down = Float64Array.of(1, 0, 0, 0, -1, 0, 0, 0, -1);
  const turn = rotationFromAngles(roll, pitch, (headingDeg * Math.PI) / 180);
  return { name, camera: CAMERA, centreM: at, rotation: multiply3(down, turn), sdCentreM: [0, 0, 0], sdTurnRad: 0 };
}

/** What it sees, beam by beam, with two grey values of noise. */
function draw({ centreM: c, rotation: r, name }: OrientedPicture): Uint8Array {
  const random = new Random(5, name);
  const out = new Uint8Array(3 * CAMERA.widthPx * CAMERA.heightPx);
  for (let v = 0; v < CAMERA.heightPx; v++)
    for (let u = 0; u < CAMERA.widthPx; u++) {
      const d = directionOf(CAMERA, u, v);
      const way = [0, 1, 2].map((k) => r[3 * k] * d[0] + r[3 * k + 1] * d[1] + r[3 * k + 2] * d[2]);
      const roof = (HOUSE.topM - c[2]) / way[2];
      const [rx, ry] = [c[0] + roof * way[0], c[1] + roof * way[1]];
      let tone: number;
      if (rx > HOUSE.west && rx < HOUSE.east && ry > HOUSE.south && ry < HOUSE.north) tone = toneAt(rx, ry, 1);
      else {
        const s = (groundAt(c[0]) - c[2]) / (way[2] - 0.08 * way[0]);
        const [x, y] = [c[0] + s * way[0], c[1] + s * way[1]];
        tone = x > HOUSE.west && x < HOUSE.east && y > HOUSE.south && y < HOUSE.north ? 60 : toneAt(x, y, 0);
      }
      const value = Math.max(0, Math.min(255, tone + 2 * random.normal()));
      out.fill(value, 3 * (v * CAMERA.widthPx + u), 3 * (v * CAMERA.widthPx + u) + 3);
    }
  return out;
}

const PICTURES = [
  pictureAt('a', [-9, -6, 60], 0.02, -0.01, 3),
  pictureAt('b', [3, -6.5, 61], -0.01, 0.02, -2),
  pictureAt('c', [14, -5, 60], 0.01, 0.01, 1),
  pictureAt('d', [-8, 8, 59], 0, -0.02, 182),
  pictureAt('e', [4, 9, 60], 0.02, 0.01, 179),
  pictureAt('f', [15, 8, 60.5], -0.02, 0, 181),
];
const POINTS = Float64Array.from(
  Array.from({ length: 400 }, (_, k) => {
    const [x, y] = [-18 + (k % 20) * 2.1, -14 + Math.floor(k / 20) * 1.5];
    return [x, y, groundAt(x)];
  }).flat(),
);
/** A pixel on the ground, metres. */
const GROUND_PX_M = 60 / 400;

describe('two pictures along their base', () => {
  it('show each point in one row, its depth by how far its columns lie apart', () => {
    const [first, second] = [PICTURES[0], PICTURES[4]];
    const pair = rectify(first, second)!;
    const f = pair.focalPx;
    const m = pair.axes;
    for (const at of [
      [0, 0, 0],
      [-5, 3, 6],
      [6, -4, 2],
    ]) {
      const [p, q] = [first, second].map(({ centreM }) => {
        const d = at.map((v, k) => v - centreM[k]);
        return [0, 1, 2].map((k) => m[k] * d[0] + m[3 + k] * d[1] + m[6 + k] * d[2]);
      });
      expect(p[1] / p[2]).toBeCloseTo(q[1] / q[2], 12);
      expect((f * pair.baseM) / ((f * p[0]) / p[2] - (f * q[0]) / q[2])).toBeCloseTo(p[2], 9);
      const way = wayOf(pair, (f * p[0]) / p[2], (f * p[1]) / p[2]);
      way.forEach((v, k) => expect(first.centreM[k] + v * p[2]).toBeCloseTo(at[k], 9));
    }
  });

  it('are not rectified along their view, or from one place', () => {
    expect(rectify(PICTURES[0], { ...PICTURES[1], centreM: [-9, -6, 40] })).toBeUndefined();
    expect(rectify(PICTURES[0], PICTURES[0])).toBeUndefined();
  });

  it('are drawn as their lens saw them: what a node between is bent by does not matter', () => {
    const pair = rectify(PICTURES[0], PICTURES[1])!;
    const ramp = new Uint8Array(3 * CAMERA.widthPx * CAMERA.heightPx);
    for (let k = 0; k < ramp.length; k += 3) ramp.fill(((k / 3) % CAMERA.widthPx) * 0.8, k, k + 3);
    const image = drawRectified(pair, pair.first, PICTURES[0], ramp);
    const r = PICTURES[0].rotation;
    let most = 0;
    for (let k = 0; k < image.grey.length; k += 37) {
      if (!image.inside[k]) continue;
      const way = wayOf(pair, pair.first.left + (k % image.columns), pair.top + Math.floor(k / image.columns));
      const [x, y, z] = [0, 1, 2].map((i) => r[i] * way[0] + r[3 + i] * way[1] + r[6 + i] * way[2]);
      const [a, b] = [x / z, y / z];
      const q = a * a + b * b;
      const u =
        CAMERA.cxPx +
        CAMERA.focalPx *
          (a * (1 + q * (CAMERA.k1 + q * CAMERA.k2)) + 2 * CAMERA.p1 * a * b + CAMERA.p2 * (q + 2 * a * a));
      most = Math.max(most, Math.abs(image.grey[k] - 0.8 * u));
    }
    // the ramp itself is cut to whole grey values
    expect(most).toBeLessThan(1.6);
    expect(image.inside.reduce((s, v) => s + v, 0)).toBeGreaterThan(0.85 * CAMERA.widthPx * CAMERA.heightPx);
  });
});

describe('costs', () => {
  it('count comparisons that differ', () => {
    expect(bitsOf(0)).toBe(0);
    expect(bitsOf(0xffffff)).toBe(24);
    expect(bitsOf(0x800001)).toBe(2);
    const grey = Uint8Array.from({ length: 49 }, (_, k) => (k === 24 ? 100 : k < 24 ? 50 : 150));
    const census = censusOf(grey, 7, 7);
    // the 24 before the middle are darker, those after it are not
    expect([census[48], census[49]]).toEqual([0xffffff, 0]);
    // brightness and contrast do not matter
    expect(
      censusOf(
        grey.map((v) => v * 0.5 + 90),
        7,
        7,
      ),
    ).toEqual(census);
  });

  it('are carried along eight paths: an unclear pixel takes the label of those about it', () => {
    const [columns, rows, labels] = [5, 5, 4];
    const costs = new Uint8Array(columns * rows * labels).fill(20);
    for (let k = 0; k < columns * rows; k++) if (k !== 12) costs[k * labels + 2] = 2;
    const sums = aggregate(costs, new Uint8Array(25).fill(90), columns, rows, labels);
    const own = [...sums.subarray(12 * labels, 13 * labels)];
    expect(own.indexOf(Math.min(...own))).toBe(2);
    // on each of eight paths the pixel before has 2 for label 2, and for 1 and 3 a step of 7 and its own 20 more: 27; from there
    // label 2 comes free, 1 and 3 by a step from 2, and 0 by a step from 1
    expect(own).toEqual([8 * (20 + 27 + 7 - 2), 8 * (20 + 7), 8 * 20, 8 * (20 + 7)]);
  });
});

describe('a slope with a house, drawn six times', () => {
  let surface: FusedSurface;
  const grid = { westM: -14, northM: 10, cellM: GROUND_PX_M, columns: 200, rows: 130 };
  const placeOf = (cell: number): [number, number] => [
    grid.westM + ((cell % grid.columns) + 0.5) * grid.cellM,
    grid.northM - (Math.floor(cell / grid.columns) + 0.5) * grid.cellM,
  ];
  beforeAll(() => {
    const rgb = PICTURES.map(draw);
    const fusion = new HeightFusion(grid);
    for (const { first, second, shared } of choosePairs(PICTURES, POINTS)) {
      fusion.beginPair(
        first,
        second,
        PICTURES[second].centreM.map((v, k) => v - PICTURES[first].centreM[k]),
      );
      const pair: RectifiedPair = rectify(PICTURES[first], PICTURES[second])!;
      const images = [
        drawRectified(pair, pair.first, PICTURES[first], rgb[first]),
        drawRectified(pair, pair.second, PICTURES[second], rgb[second]),
      ];
      const { centreM } = PICTURES[first];
      const z = shared.map((p) =>
        [0, 1, 2].reduce((s, k) => s + pair.axes[3 * k + 2] * (POINTS[3 * p + k] - centreM[k]), 0),
      );
      const [near, far] = [Math.min(...z) - 8, Math.max(...z) + 4];
      const { depthM, grade } = matchPair(pair, images[0], images[1], [near, far]);
      depthM.forEach((d, k) => {
        if (Number.isNaN(d)) return;
        const way = wayOf(
          pair,
          pair.first.left + (k % images[0].columns),
          pair.top + Math.floor(k / images[0].columns),
        );
        const [e, n, h] = centreM.map((c, i) => c + d * way[i]);
        const perLabel = d ** 2 / (pair.focalPx * pair.baseM);
        fusion.add(e, n, h, perLabel, grade[k], images[0].rgb, k);
      });
      fusion.endPair();
    }
    surface = fusion.finish();
  }, 300_000);

  /** Beside walls what belongs to which is a matter of a pixel. */
  const beside = ([e, n]: [number, number], m: number) =>
    e > HOUSE.west - m && e < HOUSE.east + m && n > HOUSE.south - m && n < HOUSE.north + m;
  const errors = () => {
    const out = { ground: [] as number[], roof: [] as number[], normal: [] as number[] };
    for (let i = 0; i < surface.count; i++) {
      const at = placeOf(surface.cell[i]);
      if (!beside(at, 1.2)) {
        const off = surface.heightM[i] - groundAt(at[0]);
        out.ground.push(off);
        out.normal.push(off / surface.sdM[i]);
      } else if (beside(at, -0.5)) out.roof.push(surface.heightM[i] - HOUSE.topM);
    }
    return out;
  };

  it('is found within two pixels nearly everywhere', () => {
    const { ground, roof } = errors();
    let hard = 0;
    for (let k = 0; k < grid.columns * grid.rows; k++) if (!beside(placeOf(k), 1.2)) hard++;
    const good = ground.filter((v) => Math.abs(v) < 2 * GROUND_PX_M).length;
    expect(good / hard).toBeGreaterThan(0.95);
    const roofs = ((HOUSE.east - HOUSE.west - 1) * (HOUSE.north - HOUSE.south - 1)) / grid.cellM ** 2;
    expect(roof.filter((v) => Math.abs(v) < 2 * GROUND_PX_M).length / roofs).toBeGreaterThan(0.9);
  });

  it('errs by what it states', () => {
    const { normal } = errors();
    const inner = normal.filter((v) => Math.abs(v) < 6);
    expect(inner.length / normal.length).toBeGreaterThan(0.98);
    const rms = Math.sqrt(inner.reduce((s, v) => s + v * v, 0) / inner.length);
    expect(rms).toBeGreaterThan(0.7);
    expect(rms).toBeLessThan(1.4);
  });
});
