import { describe, expect, it } from 'vitest';
import { Random } from '../../numeric/random';
import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { FINEST_M, patchesOf, registerScans, Voxels, type Registered, type RegisterRequest } from '.';

const DEG = Math.PI / 180;
const LEVEL = 0.003 * DEG;
const RANGE = 0.003;
const STEP_DEG = 0.9;

/** A rectangle in space: a corner and its two edges, which stand square to each other. */
interface Rectangle {
  corner: Vector3;
  edges: [Vector3, Vector3];
}
type Truth = { atM: Vector3; rotation: Matrix3 };

/** The four walls and the top of a block, turned in plan. */
function block(x: number, y: number, turnDeg: number, long: number, wide: number, high: number): Rectangle[] {
  const [c, s] = [Math.cos(turnDeg * DEG), Math.sin(turnDeg * DEG)];
  const at = (u: number, v: number, z: number): Vector3 => [x + c * u - s * v, y + s * u + c * v, z];
  const along: Vector3 = [long * c, long * s, 0];
  const across: Vector3 = [-wide * s, wide * c, 0];
  const up: Vector3 = [0, 0, high];
  return [
    { corner: at(0, 0, 0), edges: [along, up] },
    { corner: at(0, wide, 0), edges: [along, up] },
    { corner: at(0, 0, 0), edges: [across, up] },
    { corner: at(long, 0, 0), edges: [across, up] },
    { corner: at(0, 0, high), edges: [along, across] },
  ];
}
const ground: Rectangle = {
  corner: [-30, -30, 0],
  edges: [
    [130, 0, 0.9],
    [0, 60, 0],
  ],
};

const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: readonly number[], b: readonly number[]): Vector3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** Beams all round, unit vectors of a scanner's frame. */
const beams: Float64Array[] = [[], [], []].map((_, k) => {
  const out: number[] = [];
  for (let e = -60; e <= 75; e += STEP_DEG)
    for (let t = 0; t < 360; t += STEP_DEG) {
      const [ce, z] = [Math.cos(e * DEG), Math.sin(e * DEG)];
      out.push([ce * Math.sin(t * DEG), ce * Math.cos(t * DEG), z][k]);
    }
  return Float64Array.from(out);
});
const FARTHEST = 40;

/** How far each beam goes before it meets one of the rectangles. */
function ranges(scene: readonly Rectangle[], { atM, rotation: r }: Truth): Float64Array {
  const planes = scene.map(({ corner, edges: [a, b] }) => {
    const n = cross(a, b);
    const from = [0, 1, 2].map((k) => corner[k] - atM[k]);
    // along each edge, as shares of it
    const [u, v] = [a, b].map((e) => e.map((x) => x / dot(e, e)));
    return Float64Array.of(...n, dot(n, from), ...u, dot(u, from), ...v, dot(v, from));
  });
  return beams[0].map((x, i) => {
    const [y, z] = [beams[1][i], beams[2][i]];
    const d0 = r[0] * x + r[1] * y + r[2] * z;
    const d1 = r[3] * x + r[4] * y + r[5] * z;
    const d2 = r[6] * x + r[7] * y + r[8] * z;
    let range = FARTHEST;
    for (const p of planes) {
      const far = p[3] / (p[0] * d0 + p[1] * d1 + p[2] * d2);
      if (!(far > 0.5 && far < range)) continue;
      const u = far * (p[4] * d0 + p[5] * d1 + p[6] * d2) - p[7];
      if (u < 0 || u > 1) continue;
      const v = far * (p[8] * d0 + p[9] * d1 + p[10] * d2) - p[11];
      if (v >= 0 && v <= 1) range = far;
    }
    return range;
  });
}

/** What stays is met once by the beams of a stand, what moves for each scan. */
const met = new Map<string, Float64Array>();
function scan(
  scene: readonly Rectangle[],
  pose: Truth,
  random: Random,
  moving: readonly Rectangle[] = [],
): Float64Array[] {
  const key = JSON.stringify([pose.atM, [...pose.rotation], scene.length, scene[scene.length - 1]]);
  let still = met.get(key);
  if (!still) met.set(key, (still = ranges(scene, pose)));
  const other = moving.length ? ranges(moving, pose) : still;
  const out: number[][] = [[], [], []];
  still.forEach((far, i) => {
    const range = Math.min(far, other[i]);
    if (range === FARTHEST) return;
    const read = range + RANGE * random.normal();
    for (let k = 0; k < 3; k++) out[k].push(read * beams[k][i]);
  });
  return out.map((c) => Float64Array.from(c));
}

/** Bearing of y, and small tilts about x and y. */
function attitude(bearing: number, tiltX: number, tiltY: number): Matrix3 {
  const z = [tiltX, tiltY, 1];
  const length = Math.hypot(...z);
  const up = z.map((v) => v / length);
  const ahead = [Math.sin(bearing), Math.cos(bearing), 0];
  const y = ahead.map((v, k) => v - dot(ahead, up) * up[k]);
  const ly = Math.hypot(...y);
  const yy = y.map((v) => v / ly);
  const x = cross(yy, up);
  return Float64Array.of(x[0], yy[0], up[0], x[1], yy[1], up[1], x[2], yy[2], up[2]);
}

function surfaces(points: Float64Array[]) {
  const v = new Voxels(FINEST_M);
  v.add(points[0], points[1], points[2]);
  return patchesOf(v, true);
}

interface Drawn {
  truth: Map<string, Truth>;
  request: RegisterRequest;
}

/** Scanners in a scene; what is said of them is off by 0.3 m and 3 degrees, but for the first. */
function drawn(
  seed: number,
  at: readonly Vector3[],
  sceneOf: (k: number) => readonly Rectangle[],
  movingOf: (k: number) => readonly Rectangle[] = () => [],
): Drawn {
  const random = new Random(seed, 'surfaces');
  // how they stand is one for all seeds
  const stance = new Random(1, 'stands');
  const truth: Drawn['truth'] = new Map();
  const patches = new Map<string, ReturnType<typeof surfaces>>();
  const stations = at.map((p, k) => {
    const bearing = stance.between(0, 2 * Math.PI);
    const pose = { atM: p, rotation: attitude(bearing, LEVEL * stance.normal(), LEVEL * stance.normal()) };
    truth.set(`s${k}`, pose);
    patches.set(`s${k}`, surfaces(scan(sceneOf(k), pose, random, movingOf(k))));
    const way = [random.normal(), random.normal(), 0.3 * random.normal()];
    const off = k === 0 ? 0 : 0.3 / Math.hypot(...way);
    return {
      name: `s${k}`,
      atM: p.map((v, i) => v + off * way[i]) as Vector3,
      sdM: [0.3, 0.3, 0.3] as Vector3,
      bearingRad: bearing + (k === 0 ? 0 : (random.uniform() < 0.5 ? -3 : 3) * DEG),
      sdBearingRad: 3 * DEG,
      rough: true,
    };
  });
  return {
    truth,
    request: { scans: [...truth.keys()], seen: [], control: [], stations, levelSdRad: LEVEL, surfaces: patches },
  };
}

/**
 * How far poses are off beside the first: metres, degrees of the largest turn, and in deviations but for the 0.3 mm that
 * ranges of a true scanner share, of which noise alone has none.
 */
function errors({ truth }: Drawn, { scans }: Registered): Array<{ offM: number; turnDeg: number; inSd: number[] }> {
  return scans.map((s) => {
    const t = truth.get(s.name)!;
    const d = (a: number, b: number) =>
      [0, 1, 2].reduce((sum, k) => sum + t.rotation[3 * k + a] * s.rotation[3 * k + b], 0);
    const turn = [(d(2, 1) - d(1, 2)) / 2, (d(0, 2) - d(2, 0)) / 2, (d(1, 0) - d(0, 1)) / 2];
    const off = s.atM.map((v, k) => v - t.atM[k]);
    return {
      offM: Math.hypot(...off),
      turnDeg: Math.hypot(...turn) / DEG,
      inSd: [...off, ...turn].map((v, k) => v / Math.sqrt(s.covariance[7 * k] - (k < 3 ? 0.0003 : 0.0003 / 15) ** 2)),
    };
  });
}

/** A street with houses, set back and turned, and a few low blocks. */
const street: Rectangle[] = [
  ground,
  ...block(-4, 9, 4, 22, 8, 7),
  ...block(22, 11, -5, 18, 8, 6),
  ...block(44, 9, 2, 26, 8, 8),
  ...block(-2, -17, -3, 20, 8, 6),
  ...block(24, -16, 3, 25, 7, 7),
  ...block(55, -17, -2, 20, 8, 5),
  ...block(12, 3.5, 20, 1.5, 0.8, 1.4),
  ...block(31, -5, 70, 1.2, 1.2, 1.9),
  ...block(52, 4.5, 40, 2, 0.6, 1.2),
  // walls that close it, with gaps
  ...block(77, 2.5, 4, 0.6, 6, 3),
  ...block(79, -9, 2, 0.6, 7, 3),
  ...block(-9, 2, -3, 0.6, 6, 3),
  ...block(-11, -9, 2, 0.6, 7, 3),
  // gate posts and walls between the gardens
  ...[0, 1, 2, 3, 4, 5, 6].flatMap((k) => block(-2 + 12 * k, 5 + (k % 3), 4 * k, 0.6, 2.5, 2.2)),
  ...[0, 1, 2, 3, 4, 5].flatMap((k) => block(5 + 12 * k, -9.5, -3 * k, 0.6, 3, 2)),
];
const car = (x: number, y: number, turnDeg: number) => block(x, y, turnDeg, 4.2, 1.8, 1.5);
const STANDS: Vector3[] = [0, 1, 2, 3, 4, 5].map((k) => [4 + 12 * k, 2 * (k % 2) - 1, 1.6 + 0.5]);
const SEEDS = Array.from({ length: 20 }, (_, k) => k + 1);

describe('scans brought together by their surfaces', () => {
  // cars move between the scans
  const all = SEEDS.map((seed) => {
    const truth = drawn(
      seed,
      STANDS,
      () => street,
      (k) => [...car(2 + 9 * ((k * 7 + seed) % 8), -3, 2), ...car(5 + 11 * ((k * 3 + seed) % 6), 5, -3)],
    );
    return { truth, found: registerScans(truth.request) };
  });

  it('lie within 5 mm and a hundredth of a degree from 0.3 m and 3 degrees off', () => {
    const off = all.map(({ truth, found }) => {
      const e = errors(truth, found);
      return {
        scans: e.length,
        offM: Math.max(...e.map((v) => v.offM)),
        turnDeg: Math.max(...e.map((v) => v.turnDeg)),
      };
    });
    const good = off.filter((o) => o.scans === 6 && o.offM < 0.005 && o.turnDeg < 0.01);
    expect(good.length).toBeGreaterThanOrEqual(19);
  });

  it('are as far off as their deviations say', () => {
    const inSd = all.flatMap(({ truth, found }) =>
      errors(truth, found)
        .slice(1)
        .flatMap((e) => e.inSd),
    );
    const rms = Math.sqrt(inSd.reduce((s, v) => s + v * v, 0) / inSd.length);
    expect(rms).toBeGreaterThan(0.75);
    expect(rms).toBeLessThan(1.3);
  });

  it('are never said to be placed where they are not, begun too far off', () => {
    let placed = 0;
    for (const { truth } of all.slice(0, 8)) {
      const stations = truth.request.stations.map((s, k) => ({
        ...s,
        atM: [s.atM[0], s.atM[1] + (k % 2 ? 3 : 0) + (k === 4 ? 5 : 0), s.atM[2]] as Vector3,
        bearingRad: s.bearingRad! + (k === 3 ? 12 * DEG : 0),
      }));
      const found = registerScans({ ...truth.request, stations });
      placed += found.scans.length;
      expect(found.scans.length + found.unplaced.length).toBe(6);
      if (found.scans.some((s) => s.name === 's0'))
        for (const e of errors(truth, found)) expect(e.offM).toBeLessThan(0.02);
    }
    expect(placed).toBeLessThan(48);
  });

  it('leave out what moved, and say how much agrees', () => {
    for (const { found } of all) {
      expect(found.unplaced).toEqual([]);
      for (const p of found.pairs.filter((q) => Number(q.b[1]) - Number(q.a[1]) === 1)) {
        expect(p.surfaces!.agreeing).toBeGreaterThan(0.5);
        expect(p.surfaces!.rmsM).toBeLessThan(0.003);
        expect(p.surfaces!.overlap).toBeGreaterThan(0.1);
      }
    }
  });
});

/** Ground, and one long wall beside it. */
const wall: Rectangle[] = [
  ground,
  {
    corner: [-40, 6, -2],
    edges: [
      [150, 3, 0],
      [0, 0, 9],
    ],
  },
];

describe('scans that surfaces cannot place', () => {
  const along = drawn(3, STANDS.slice(0, 3), () => wall);
  const bare = registerScans(along.request);

  it('are not claimed along a bare wall; the way along it is named', () => {
    expect(bare.scans.map((s) => s.name)).toEqual([]);
    expect(bare.unplaced.map((u) => u.why)).toEqual(['weak', 'weak', 'weak']);
    for (const { weakest } of bare.unplaced) {
      // within a degree of the wall
      expect(Math.abs(dot(weakest!.direction, [150, 3, 0]) / Math.hypot(150, 3))).toBeGreaterThan(Math.cos(DEG));
      expect(weakest!.sdM).toBeGreaterThan(1);
    }
  });

  it('are placed where two targets hold what the wall leaves open', () => {
    const seen = [...along.truth].flatMap(([scan, { atM, rotation }]) =>
      [
        [2, 3, 1],
        [20, -4, 2],
      ].map((p, k) => {
        const d = p.map((v, i) => v - atM[i]);
        const own = [0, 1, 2].map((c) => rotation[c] * d[0] + rotation[3 + c] * d[1] + rotation[6 + c] * d[2]);
        return { scan, target: `t${k}`, atM: own as Vector3, sdM: 0.002 };
      }),
    );
    const both = registerScans({ ...along.request, seen });
    expect(both.unplaced).toEqual([]);
    for (const e of errors(along, both)) expect(e.offM).toBeLessThan(0.004);
    // and turns that two targets alone would leave to a hundredth of a degree
    for (const e of errors(along, both)) expect(e.turnDeg).toBeLessThan(0.006);
  });

  it('are said where one shows another place', () => {
    const other = drawn(5, STANDS.slice(0, 3), (k) => (k < 2 ? street : street.map(turned)));
    const found = registerScans(other.request);
    expect(found.scans.map((s) => s.name)).toEqual(['s0', 's1']);
    expect(found.unplaced.map((u) => u.name)).toEqual(['s2']);
  });
});

/** The street a quarter turn round, and elsewhere. */
function turned({ corner, edges }: Rectangle): Rectangle {
  const turn = ([x, y, z]: Vector3): Vector3 => [-y, x, z];
  const [x, y, z] = turn(corner);
  return { corner: [x + 31, y - 13, z], edges: [turn(edges[0]), turn(edges[1])] };
}

describe('a cloud in no frame', () => {
  it('is placed by the surfaces of a cloud that lies where it should', () => {
    const { truth, request } = drawn(7, STANDS.slice(1, 3), () => street);
    // all of the first scan's points in the frame, their scanner no longer known
    const { atM, rotation } = truth.get('s0')!;
    const [x, y, z] = scan(street, truth.get('s0')!, new Random(8, 'fixed'));
    const inFrame = [0, 1, 2].map((k) =>
      x.map((v, i) => atM[k] + rotation[3 * k] * v + rotation[3 * k + 1] * y[i] + rotation[3 * k + 2] * z[i]),
    );
    const v = new Voxels(FINEST_M);
    v.add(inFrame[0], inFrame[1], inFrame[2]);
    const { stations, surfaces: own } = request;
    const [said] = stations.filter((s) => s.name === 's1');
    const [sin, cos] = [Math.sin(said.bearingRad!), Math.cos(said.bearingRad!)];
    const found = registerScans({
      scans: ['s1'],
      seen: [],
      control: [],
      stations: [],
      levelSdRad: 1,
      surfaces: new Map([['s1', { ...own!.get('s1')!, facing: false }]]),
      fixed: { name: 'in place', patches: patchesOf(v, false) },
      starts: new Map([['s1', { atM: said.atM, rotation: Float64Array.of(cos, sin, 0, -sin, cos, 0, 0, 0, 1) }]]),
    });
    expect(found.unplaced).toEqual([]);
    expect(found.loose).toBe(false);
    const [e] = errors({ truth, request }, found);
    expect(e.offM).toBeLessThan(0.003);
    expect(e.turnDeg).toBeLessThan(0.01);
  });
});
