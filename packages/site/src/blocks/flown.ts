import { Random } from '@longheron/core/numeric';
import { attitude } from '../platform';

/** How a block is flown and seen. */
export interface BlockPlan {
  seed: number;
  lines: number;
  ofLine: number;
  alongM: number;
  acrossM: number;
  aboveM: number;
  /** Points of the ground that pictures are searched for, altogether. */
  points: number;
  /** 1 SD of a ray, pixels; and share of rays that are somewhere else, by at least so many pixels. */
  sdPx: number;
  wrong: number;
  wrongPx: number;
  /** 1 SD of the given places, plan and height, metres; and of a start attitude, degrees. */
  planSdM: number;
  heightSdM: number;
  startDeg: number;
  control: number;
  controlSdM: number;
  checks: number;
  /** By how much the camera is off what is said of it, in deviations of 3 % of the focal length and so on. */
  off: number;
}

export const BLOCK_PLAN: BlockPlan = {
  seed: 1,
  lines: 4,
  ofLine: 9,
  alongM: 55,
  acrossM: 95,
  aboveM: 250,
  points: 1400,
  sdPx: 0.5,
  wrong: 0,
  wrongPx: 8,
  planSdM: 0.03,
  heightSdM: 0.05,
  startDeg: 0.5,
  control: 5,
  controlSdM: 0.01,
  checks: 10,
  off: 1,
};

/** What a lens does, written out for this simulator alone. */
export interface TrueLens {
  f: number;
  cx: number;
  cy: number;
  k: [number, number, number];
  p: [number, number];
}

export interface TruePicture {
  name: string;
  lens: TrueLens;
  /** East, north, up. */
  at: [number, number, number];
  /** Columns: picture right, picture down, along the view, in east, north, up. */
  axes: Float64Array;
}

export interface SeenPoint {
  image: number;
  point: number;
  u: number;
  v: number;
  /** Not where the point is. */
  wrong: boolean;
}

export interface TrueBlock {
  widthPx: number;
  heightPx: number;
  nominal: TrueLens;
  pictures: TruePicture[];
  points: Array<{ name: string; kind: 'control' | 'check' | 'tie'; at: [number, number, number] }>;
  seen: SeenPoint[];
  /** As given: places of pictures, start axes, control. */
  places: Array<[number, number, number]>;
  startAxes: Float64Array[];
  given: Array<[number, number, number] | undefined>;
}

const [WIDTH, HEIGHT] = [1200, 800];

/** Where a lens puts a direction of the camera; undefined beside the picture or behind. */
export function seenAt(lens: TrueLens, x: number, y: number, z: number): [number, number] | undefined {
  if (z <= 0) return undefined;
  const [a, b] = [x / z, y / z];
  const q = a * a + b * b;
  if (q > 0.6) return undefined;
  const bend = 1 + lens.k[0] * q + lens.k[1] * q * q + lens.k[2] * q * q * q;
  const u = lens.cx + lens.f * (a * bend + 2 * lens.p[0] * a * b + lens.p[1] * (q + 2 * a * a));
  const v = lens.cy + lens.f * (b * bend + lens.p[0] * (q + 2 * b * b) + 2 * lens.p[1] * a * b);
  return u > 2 && v > 2 && u < WIDTH - 3 && v < HEIGHT - 3 ? [u, v] : undefined;
}

/** Heights of the ground: hills, and a step here and there. */
const ground = (e: number, n: number) =>
  8 * Math.sin(e / 70) + 6 * Math.cos(n / 55 + e / 200) + (Math.sin(e / 31) * Math.sin(n / 27) > 0.75 ? 9 : 0);

/** Axes of a camera that looks down, with the top of its picture ahead, on a body of these angles; east, north, up. */
function axesOf(rollDeg: number, pitchDeg: number, headingDeg: number): Float64Array {
  const rad = Math.PI / 180;
  const ned = attitude(rollDeg * rad, pitchDeg * rad, headingDeg * rad);
  const out = new Float64Array(9);
  // picture right is the body's right, picture down is backwards, the view is down; north, east, down to east, north, up
  for (let row = 0; row < 3; row++) {
    const from = row === 0 ? 1 : row === 1 ? 0 : 2;
    const sign = row === 2 ? -1 : 1;
    out[3 * row] = sign * ned[3 * from + 1];
    out[3 * row + 1] = -sign * ned[3 * from];
    out[3 * row + 2] = sign * ned[3 * from + 2];
  }
  return out;
}

/** A block drawn from a seed: parallel lines to and fro over hills. */
export function drawBlock(change: Partial<BlockPlan> = {}): TrueBlock {
  const plan = { ...BLOCK_PLAN, ...change };
  const r = new Random(plan.seed, 'block');
  const nominal: TrueLens = { f: 1480, cx: 599.5, cy: 399.5, k: [0, 0, 0], p: [0, 0] };
  const lens: TrueLens = {
    f: 1480 * (1 + 0.015 * plan.off * r.normal()),
    cx: 599.5 + 3 * plan.off * r.normal(),
    cy: 399.5 + 3 * plan.off * r.normal(),
    k: [0.04 * plan.off * r.normal(), 0.02 * plan.off * r.normal(), 0],
    p: [0.0005 * plan.off * r.normal(), 0.0005 * plan.off * r.normal()],
  };
  const pictures: TruePicture[] = [];
  const startAxes: Float64Array[] = [];
  const places: TrueBlock['places'] = [];
  for (let line = 0; line < plan.lines; line++)
    for (let k = 0; k < plan.ofLine; k++) {
      const back = line % 2 === 1;
      const along = (back ? plan.ofLine - 1 - k : k) * plan.alongM;
      const at: [number, number, number] = [
        line * plan.acrossM + 4 * r.normal(),
        along + 4 * r.normal(),
        plan.aboveM + 5 * r.normal(),
      ];
      const angles = [3 * r.normal(), 3 * r.normal(), (back ? 180 : 0) + 4 * r.normal()];
      pictures.push({
        name: `p${String(pictures.length + 1).padStart(3, '0')}.jpg`,
        lens,
        at,
        axes: axesOf(angles[0], angles[1], angles[2]),
      });
      const off = angles.map((v) => v + plan.startDeg * r.normal());
      startAxes.push(axesOf(off[0], off[1], off[2]));
      places.push([
        at[0] + plan.planSdM * r.normal(),
        at[1] + plan.planSdM * r.normal(),
        at[2] + plan.heightSdM * r.normal(),
      ]);
    }
  const [wide, long] = [(plan.lines - 1) * plan.acrossM, (plan.ofLine - 1) * plan.alongM];
  const points: TrueBlock['points'] = [];
  const seen: SeenPoint[] = [];
  const put = (name: string, kind: 'control' | 'check' | 'tie', e: number, n: number) => {
    const at: [number, number, number] = [e, n, ground(e, n)];
    const rays: SeenPoint[] = [];
    pictures.forEach((p, image) => {
      const d = at.map((v, k) => v - p.at[k]);
      const [x, y, z] = [0, 1, 2].map((c) => d[0] * p.axes[c] + d[1] * p.axes[3 + c] + d[2] * p.axes[6 + c]);
      const uv = seenAt(p.lens, x, y, z);
      // not every picture that sees a point has it measured
      if (uv && (kind !== 'tie' || r.uniform() < 0.75))
        rays.push({ image, point: points.length, u: uv[0], v: uv[1], wrong: false });
    });
    if (rays.length < 2) return;
    points.push({ name, kind, at });
    for (const ray of rays) {
      ray.u += plan.sdPx * r.normal();
      ray.v += plan.sdPx * r.normal();
      if (kind === 'tie' && rays.length > 2 && r.uniform() < plan.wrong) {
        const [way, far] = [r.between(0, 2 * Math.PI), plan.wrongPx * (1 + 4 * r.uniform())];
        ray.u += far * Math.cos(way);
        ray.v += far * Math.sin(way);
        ray.wrong = true;
      }
      seen.push(ray);
    }
  };
  const [e, n] = [() => r.between(-60, wide + 60), () => r.between(-40, long + 40)];
  for (let k = 0; k < plan.points; k++) put(`t${k}`, 'tie', e(), n());
  const corner = [
    [0.05, 0.05],
    [0.95, 0.05],
    [0.05, 0.95],
    [0.95, 0.95],
    [0.5, 0.5],
  ];
  for (let k = 0; k < plan.control; k++) put(`C${k}`, 'control', wide * corner[k % 5][0], long * corner[k % 5][1]);
  for (let k = 0; k < plan.checks; k++) put(`K${k}`, 'check', r.between(0, wide), r.between(0, long));
  const given = points.map((p): [number, number, number] | undefined =>
    p.kind === 'control'
      ? ([0, 1, 2].map((k) => p.at[k] + plan.controlSdM * r.normal()) as [number, number, number])
      : undefined,
  );
  return { widthPx: WIDTH, heightPx: HEIGHT, nominal, pictures, points, seen, places, startAxes, given };
}
