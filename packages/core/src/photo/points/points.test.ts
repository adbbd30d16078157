import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '../../frames/attitude';
import { Random } from '../../numeric/random';
import { type Vector3 } from '../../numeric/matrix3';
import { sphereOf, type Camera } from '../camera';
import { residualsOverPicture } from '../block';
import { enoughPicks } from './enough';
import { expectedAt } from './expect';
import { intersectRays } from './intersect';
import { type OrientedPicture, type PictureRay } from './picture';
import { ellipseOf, epipolarIn, predictIn } from './predict';
import { refineTarget, type GreyPicture } from './refine';

const CAMERA: Camera = {
  widthPx: 1200,
  heightPx: 800,
  focalPx: 1500,
  cxPx: 602,
  cyPx: 397,
  k1: -0.04,
  k2: 0.02,
  k3: 0,
  p1: 0.0004,
  p2: -0.0003,
};
const IDEAL: Camera = { ...CAMERA, cxPx: 599.5, cyPx: 399.5, k1: 0, k2: 0, p1: 0, p2: 0 };
/** Looks down from a place: x of the picture east, y south. */
const DOWN = Float64Array.of(1, 0, 0, 0, -1, 0, 0, 0, -1);
const picture = (centreM: Vector3, more: Partial<OrientedPicture> = {}): OrientedPicture => ({
  name: 'a',
  camera: IDEAL,
  centreM,
  rotation: DOWN,
  sdCentreM: [0, 0, 0],
  sdTurnRad: 0,
  ...more,
});
/** Seen by formulas of Brown 1971, written out here once more. */
function seen({ camera: c, centreM, rotation: r }: OrientedPicture, at: Vector3): [number, number] {
  const d = at.map((v, k) => v - centreM[k]);
  const [x, y, z] = [0, 1, 2].map((k) => r[k] * d[0] + r[3 + k] * d[1] + r[6 + k] * d[2]);
  const [a, b] = [x / z, y / z];
  const r2 = a * a + b * b;
  const m = 1 + c.k1 * r2 + c.k2 * r2 * r2;
  return [
    c.cxPx + c.focalPx * (a * m + 2 * c.p1 * a * b + c.p2 * (r2 + 2 * a * a)),
    c.cyPx + c.focalPx * (b * m + c.p1 * (r2 + 2 * b * b) + 2 * c.p2 * a * b),
  ];
}
const rayTo = (p: OrientedPicture, at: Vector3, sdPx = 0.5): PictureRay => {
  const [uPx, vPx] = seen(p, at);
  return { picture: p, uPx, vPx, sdPx };
};

describe('rays of two pictures', () => {
  it('meet in the normal case with the deviations of its closed form', () => {
    // Kraus 2007, normal case: sd of height = Z²/(B·f) · sd of parallax, of plan Z/f · sd
    const [z, base, f, sd] = [150, 60, 1500, 0.5];
    const pair = [picture([-base / 2, 0, z]), picture([base / 2, 0, z])];
    const found = intersectRays(pair.map((p) => rayTo(p, [0, 0, 0], sd)))!;
    found.at.forEach((v) => expect(v).toBeCloseTo(0, 8));
    expect(Math.sqrt(found.covM2[5])).toBeCloseTo(((z * z) / (base * f)) * Math.SQRT2 * sd, 6);
    // across the base both pictures measure the same: a mean of two
    expect(Math.sqrt(found.covM2[3])).toBeCloseTo(((z / f) * sd) / Math.SQRT2, 6);
    expect(found.angleRad).toBeCloseTo(2 * Math.atan(base / 2 / z), 9);
    expect(found.rmsPx).toBeCloseTo(0, 6);
  });

  it('scatter as it says, lens and tilt and poses included, over 400 draws', () => {
    const random = new Random(7, 'points');
    const at: Vector3 = [12, -7, 3];
    const truth = [-45, 0, 40].map((x, k) =>
      picture([x, 4 * k, 120], {
        camera: CAMERA,
        rotation: turned(DOWN, 0.05 * (k - 1), -0.04, 0.3 * k),
        sdCentreM: [0.02, 0.03, 0.04],
        sdTurnRad: 2e-4,
      }),
    );
    let [sum, tests, n] = [0, 0, 0];
    for (let k = 0; k < 400; k++) {
      const rays = truth.map((p) => {
        const known = { ...p, centreM: p.centreM.map((v, i) => v + p.sdCentreM[i] * random.normal()) as Vector3 };
        known.rotation = turned(p.rotation, ...([0, 1, 2].map(() => p.sdTurnRad * random.normal()) as Vector3));
        const [u, v] = seen(p, at);
        return { picture: known, uPx: u + 0.4 * random.normal(), vPx: v + 0.4 * random.normal(), sdPx: 0.4 };
      });
      const found = intersectRays(rays)!;
      for (const [i, c] of [0, 3, 5].entries()) sum += (found.at[i] - at[i]) ** 2 / found.covM2[c];
      tests += found.tests.reduce((s, t) => s + t * t, 0);
      n += 3;
    }
    expect(Math.sqrt(sum / n)).toBeGreaterThan(0.93);
    expect(Math.sqrt(sum / n)).toBeLessThan(1.07);
    // each ray's test is of two numbers
    expect(tests / n / 2).toBeGreaterThan(0.85);
    expect(tests / n / 2).toBeLessThan(1.15);
  });

  it('of pictures that are off together say so: their point is as uncertain, their residuals are not', () => {
    const pair = [-40, 0, 40].map((x) => picture([x, 0, 100], { sdCentreM: [0.1, 0.1, 0.1] }));
    const shift = Float64Array.from({ length: 36 }, (_, k) => (k % 7 === 0 && k < 21 ? 0.01 : 0));
    const rays = pair.map((p) => rayTo(p, [0, 0, 0], 0.2));
    rays[1].uPx += 2;
    const apart = intersectRays(rays)!;
    const together = intersectRays(rays, () => shift)!;
    // all are off by the same 10 cm: the point is too, and the picks add their own
    const own = intersectRays(rays.map((r) => ({ ...r, picture: { ...r.picture, sdCentreM: [0, 0, 0] as Vector3 } })))!;
    for (const c of [0, 3, 5]) expect(together.covM2[c]).toBeCloseTo(own.covM2[c] + 0.01, 9);
    expect(together.tests[1]).toBeCloseTo(own.tests[1], 6);
    expect(together.tests[1]).toBeGreaterThan(4 * apart.tests[1]);
  });

  it('name the one that is wrong', () => {
    const rays = [-50, -15, 20, 55].map((x) => rayTo(picture([x, 0, 140], { camera: CAMERA }), [3, 4, 0]));
    rays[2].vPx += 6;
    const { tests } = intersectRays(rays)!;
    expect(tests.indexOf(Math.max(...tests))).toBe(2);
    expect(tests[2]).toBeGreaterThan(8);
  });

  it('that are one, or as good as parallel, meet nowhere', () => {
    const one = rayTo(picture([0, 0, 100]), [0, 0, 0]);
    expect(intersectRays([one])).toBeUndefined();
    expect(intersectRays([one, rayTo(picture([0.05, 0, 100]), [0, 0, 0])])).toBeUndefined();
  });
});

describe('a predicted place', () => {
  it('has the ellipse of its closed form', () => {
    // 100 m below, f 1500: 15 px to the metre
    const p = predictIn(picture([0, 0, 100]), [10, 20, 0], Float64Array.of(0.04, 0, 0, 0.01, 0, 0))!;
    expect(p).toMatchObject({ inside: true });
    expect(p.uPx).toBeCloseTo(599.5 + 150, 9);
    expect(p.vPx).toBeCloseTo(399.5 - 300, 9);
    expect(p.ellipse.majorPx).toBeCloseTo(15 * 0.2, 9);
    expect(p.ellipse.minorPx).toBeCloseTo(15 * 0.1, 9);
    expect(p.ellipse.angleRad).toBeCloseTo(0, 9);
  });
  it('is as uncertain as the pose: a turn about the view moves what is far from the middle', () => {
    const p = predictIn(picture([0, 0, 100], { sdTurnRad: 0.001 }), [0, 0, 0], new Float64Array(6))!;
    expect(p.ellipse.majorPx).toBeCloseTo(1.5, 6);
    expect(p.ellipse.minorPx).toBeCloseTo(1.5, 6);
    expect(predictIn(picture([0, 0, 100]), [0, 0, 120], new Float64Array(6))).toBeUndefined();
    expect(predictIn(picture([0, 0, 100]), [60, 0, 0], new Float64Array(6))!.inside).toBe(false);
  });
  it('turns its ellipse with the covariance', () => {
    const e = ellipseOf([2.5, 1.5, 2.5]);
    expect(e.majorPx).toBeCloseTo(2, 12);
    expect(e.minorPx).toBeCloseTo(1, 12);
    expect(e.angleRad).toBeCloseTo(Math.PI / 4, 12);
  });
  it('lies on the curve that another picture draws for its ray', () => {
    const [a, b] = [picture([-30, 0, 100], { camera: CAMERA }), picture([30, 5, 110], { camera: CAMERA })];
    const at: Vector3 = [4, -9, 2];
    const [u, v] = seen(a, at);
    const line = epipolarIn(a, u, v, b, [60, 200]);
    const [x, y] = seen(b, at);
    let near = Infinity;
    for (let k = 0; k + 3 < line.length; k += 2) {
      const [x0, y0, x1, y1] = line.slice(k, k + 4);
      const t = Math.min(
        1,
        Math.max(0, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / ((x1 - x0) ** 2 + (y1 - y0) ** 2)),
      );
      near = Math.min(near, Math.hypot(x0 + t * (x1 - x0) - x, y0 + t * (y1 - y0) - y));
    }
    expect(near).toBeLessThan(0.05);
  });
});

describe('a target', () => {
  const SIZE = 40;
  /** Drawn by areas, 16 × 16 parts a pixel, with noise. */
  function drawn(tone: (x: number, y: number) => number, u: number, v: number, noise: number): GreyPicture {
    const random = new Random(3, `${u} ${v}`);
    const grey = new Float64Array(SIZE * SIZE);
    for (let r = 0; r < SIZE; r++)
      for (let c = 0; c < SIZE; c++) {
        let sum = 0;
        for (let k = 0; k < 256; k++)
          sum += tone(c - 0.5 + ((k & 15) + 0.5) / 16 - u, r - 0.5 + ((k >> 4) + 0.5) / 16 - v);
        grey[SIZE * r + c] = sum / 256 + noise * random.normal();
      }
    return { widthPx: SIZE, heightPx: SIZE, grey };
  }
  const turnedBy = (deg: number, tone: (x: number, y: number) => number) => (x: number, y: number) => {
    const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
    return tone(c * x + s * y, -s * x + c * y);
  };
  const quarters = (half: number) => (x: number, y: number) =>
    Math.max(Math.abs(x), Math.abs(y)) > half ? 110 : x >= 0 === y >= 0 ? 230 : 20;
  const discOf = (radius: number) => (x: number, y: number) => (Math.hypot(x, y) < radius ? 230 : 60);

  it.each([
    ['quarters, 12 px', quarters(6), 6],
    ['quarters turned by 33 degrees', turnedBy(33, quarters(8)), 7],
    ['quarters, 3.6 px', quarters(1.8), 2.5],
    ['a disc', discOf(5), 7],
    ['an ellipse', (x: number, y: number) => discOf(5)(x, 1.6 * y), 7],
  ])('of %s is found to a few hundredths of a pixel, as it says', (_name, tone, radius) => {
    let [sum, normalised, n] = [0, 0, 0];
    for (let k = 0; k < 20; k++) {
      const [u, v] = [19 + 0.37 * k - Math.floor(0.37 * k), 18 + 0.61 * k - Math.floor(0.61 * k)];
      const found = refineTarget(drawn(tone, u, v, 3), u + 1.3, v - 1.1, radius, 3);
      if ('none' in found) throw new Error(`${k}: ${found.none}`);
      sum += (found.uPx - u) ** 2 + (found.vPx - v) ** 2;
      normalised += ((found.uPx - u) ** 2 + (found.vPx - v) ** 2) / found.sdPx ** 2;
      n += 2;
    }
    expect(Math.sqrt(sum / n)).toBeLessThan(0.08);
    expect(Math.sqrt(normalised / n)).toBeLessThan(1.4);
  });

  it('is not seen where there is none', () => {
    const none = (tone: (x: number, y: number) => number) => {
      const found = refineTarget(drawn(tone, 19, 19, 2), 19, 19, 6, 3);
      return 'none' in found ? found.none : found;
    };
    expect(none(() => 90)).toBe('too little contrast');
    expect(none((x) => (Math.abs(x) < 1.5 ? 220 : 60))).toBe('a line or an edge');
    expect(none((x, y) => (x + y > 0 ? 220 : 60))).not.toHaveProperty('uPx');
    expect(none((x, y) => (x > 0 && y > 0 ? 220 : 60))).toBe('not alike');
    expect(refineTarget(drawn(quarters(6), 2, 2, 1), 2, 2, 6, 3)).toEqual({ none: 'beside the picture' });
  });
});

describe('what a block expects of a place', () => {
  it('is the normal case of two pictures, and better with more', () => {
    const pair = [picture([-30, 0, 150]), picture([30, 0, 150])];
    const two = expectedAt(pair, [0, 0, 0], 0.5);
    expect(two.pictures).toBe(2);
    expect(Math.sqrt(two.covM2![5])).toBeCloseTo(((150 * 150) / (60 * 1500)) * Math.SQRT2 * 0.5, 6);
    const four = expectedAt([...pair, ...pair.map((p) => ({ ...p }))], [0, 0, 0], 0.5);
    expect(four.covM2![5]).toBeCloseTo(two.covM2![5] / 2, 9);
    expect(expectedAt(pair, [300, 0, 0], 0.5)).toEqual({ pictures: 0, covM2: undefined });
    expect(expectedAt(pair, [-80, 0, 0], 0.5)).toEqual({ pictures: 1, covM2: undefined });
  });
});

describe('residuals over the area of pictures', () => {
  it('are told by part: what is alike there, and how much it scatters', () => {
    const block = {
      cameras: [{ name: 'a', camera: IDEAL, sd: {} as never }],
      images: [{ camera: 0 }] as never,
      points: [],
      distances: [],
      rays: {
        count: 4,
        image: new Int32Array(4),
        point: new Int32Array(4),
        uPx: Float64Array.of(10, 20, 1190, 15),
        vPx: Float64Array.of(10, 20, 790, 15),
        sdPx: new Float64Array(4).fill(1),
      },
    };
    const residualPx = Float64Array.of(1, 0, 3, 0, -2, 2, 50, 50);
    const parts = residualsOverPicture(block, { alive: Uint8Array.of(1, 1, 1, 0), residualPx }, 0, 4, 2);
    expect(parts).toHaveLength(8);
    expect(parts[0]).toEqual({ column: 0, row: 0, rays: 2, duPx: 2, dvPx: 0, rmsPx: Math.sqrt(10 / 4) });
    expect(parts[7]).toEqual({ column: 3, row: 1, rays: 1, duPx: -2, dvPx: 2, rmsPx: 2 });
    expect(parts[3].rays).toBe(0);
  });
});

describe('how many picks a picture needs', () => {
  const at = (uPx: number, vPx: number, others = 1, known = false) => ({ uPx, vPx, others, known });
  it('counts those of use, and says where none is', () => {
    expect(enoughPicks([], 1200, 800)).toMatchObject({ state: 'needs more', moreToCompute: 4, moreToBeWell: 9 });
    const five = [at(100, 100), at(1100, 90), at(600, 400), at(80, 700), at(900, 720, 0)];
    expect(enoughPicks(five, 1200, 800)).toMatchObject({ useful: 4, state: 'needs more', moreToCompute: 2 });
    const marks = [at(100, 100, 0, true), at(1100, 90, 0, true), at(600, 400, 0, true), at(80, 700, 0, true)];
    expect(enoughPicks(marks, 1200, 800)).toMatchObject({ state: 'can be computed', moreToBeWell: 5 });
    expect(enoughPicks(marks, 1200, 800).emptyNinths).toEqual([1, 3, 5, 7, 8]);
    const nine = Array.from({ length: 9 }, (_, k) => at(200 + 400 * (k % 3), 130 + 260 * Math.floor(k / 3)));
    expect(enoughPicks(nine, 1200, 800)).toMatchObject({ state: 'well determined', emptyNinths: [] });
  });
  it('asks for one off the line where all lie on one', () => {
    const line = Array.from({ length: 10 }, (_, k) => at(100 * k + 50, 60 * k + 40 + (k % 2)));
    expect(enoughPicks(line, 1200, 800)).toMatchObject({ onOneLine: true, state: 'needs more', moreToCompute: 1 });
  });
});

/** Turned by small angles about the axes of the camera. */
function turned(r: Float64Array, x: number, y: number, z: number): Float64Array {
  const t = rotationFromAngles(x, y, z);
  const out = new Float64Array(9);
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) out[3 * i + j] += r[3 * i + k] * t[3 * k + j];
  return out;
}

describe('full panoramas', () => {
  const round = sphereOf(3600, 1800);
  const radPx = 1800 / Math.PI;
  /** x to the right, y down, the view northwards: column 1799.5 looks north. */
  const NORTH = Float64Array.of(1, 0, 0, 0, 0, 1, 0, -1, 0);
  const at = (centreM: Vector3, more = {}) => picture(centreM, { camera: round, rotation: NORTH, ...more });
  const way = ([x, y, z]: Vector3): [number, number] => [
    1799.5 + Math.atan2(x, y) * radPx,
    899.5 - Math.atan2(z, Math.hypot(x, y)) * radPx,
  ];

  it('meet behind themselves, with the deviations of the two angles', () => {
    // two angles at the ends of a base to a point before its middle: sd of the distance √2·r²σ/B, across r²σ/(√2·Z)
    const [base, far, sd] = [4, 6, 0.5];
    const rays = [-base / 2, base / 2].map((x): PictureRay => {
      const [uPx, vPx] = way([-x, -far, 0]);
      return { picture: at([x, 0, 0]), uPx, vPx, sdPx: sd };
    });
    const found = intersectRays(rays)!;
    const r2 = far ** 2 + (base / 2) ** 2;
    found.at.forEach((v, k) => expect(v).toBeCloseTo([0, -far, 0][k], 9));
    expect(Math.sqrt(found.covM2[3])).toBeCloseTo((Math.SQRT2 * r2 * sd) / radPx / base, 6);
    expect(Math.sqrt(found.covM2[0])).toBeCloseTo((r2 * sd) / radPx / Math.SQRT2 / far, 6);
    expect(found.angleRad).toBeCloseTo(2 * Math.atan(base / 2 / far), 9);
  });

  it('expect a place near the floor over more columns than rows', () => {
    const { uPx, vPx, inside, ellipse } = predictIn(at([0, 0, 0]), [0, 1, -Math.sqrt(3)], [1e-4, 0, 0, 1e-4, 0, 1e-4])!;
    expect([uPx, vPx, inside]).toEqual([expect.closeTo(1799.5, 9), expect.closeTo(1499.5, 9), true]);
    // a centimetre at two metres; a column there is half a pixel of the sphere
    expect(ellipse.majorPx).toBeCloseTo((0.01 / 2) * radPx * 2, 6);
    expect(ellipse.minorPx).toBeCloseTo((0.01 / 2) * radPx, 6);
  });

  it('show the way of a ray out at one edge and in at the other', () => {
    const [uPx, vPx] = way([-3, -3, 0]);
    const along = epipolarIn(at([1, 0, 0]), uPx, vPx, at([-3, 0, 0]), [1, 40]);
    const columns = along.filter((_, k) => k % 2 === 0);
    expect(along.length).toBe(98);
    expect(Math.min(...columns)).toBeLessThan(100);
    expect(Math.max(...columns)).toBeGreaterThan(3500);
  });
});
