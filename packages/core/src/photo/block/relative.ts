import { rotationFromAngles } from '../../frames/attitude';
import { solveNormal } from '../../numeric/leastSquares';
import { smallestAxis } from '../../numeric/smallestAxis';
import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { turnOf } from '../../numeric/turn';

/** Two cameras that see the same points: the second's axes into the first's, and where it lies, in a length of one. */
export interface Relative {
  rotation: Matrix3;
  direction: Vector3;
  /** Usual angle by which rays of a point miss each other, radians. */
  missRad: number;
  /** Points that lie before both. */
  ahead: number;
}

/** Turns about which a relative pose is sought: headings, pitches and rolls of a whole sphere. */
const STARTS: Matrix3[] = [];
for (let heading = 0; heading < 360; heading += 30)
  for (const pitch of [-40, 0, 40])
    for (const roll of [0, 90, 180, 270])
      STARTS.push(rotationFromAngles(roll * (Math.PI / 180), pitch * (Math.PI / 180), heading * (Math.PI / 180)));
const BEST_STARTS = 16;
/** Solutions kept: those that miss by so much more than the best, as far as they differ. */
const MOST = 3;
const ALIKE = 3;
const APART = 0.004;
const ROUNDS = 25;
/** Rays that miss by less, radians, are as good as each other. */
const NEAR_RAD = 2e-4;

/** The axes about which starts are turned: x ahead, y right, z down of a camera that looks ahead. */
const AHEAD: Matrix3 = Float64Array.of(0, 0, 1, 1, 0, 0, 0, 1, 0);

/** Start turns in the axes of a camera. */
export const startTurns = (): Matrix3[] => STARTS.map((s) => multiply3(transpose3(AHEAD), multiply3(s, AHEAD)));

/**
 * Relative orientation of two cameras by directions of common points: coplanarity of both rays and the base, by least
 * squares from turns all over the sphere; rays that miss count less.
 * @param first, second unit directions in the axes of each camera, three numbers a point.
 * @returns solutions that fit about as well, the best first: of points on a plane there are two, which only a third camera
 * tells apart; none with less than six points.
 */
export function relativesOf(first: Float64Array, second: Float64Array): Relative[] {
  const n = first.length / 3;
  if (n < 6) return [];
  const ranked = startTurns()
    .map((rotation) => ({ rotation, ...baseOf(first, second, rotation) }))
    .sort((a, b) => a.cost - b.cost)
    .slice(0, BEST_STARTS);
  const found = ranked
    .flatMap((s) => refineRelative(first, second, s.rotation, s.direction) ?? [])
    .filter((f) => f.ahead > 0.75 * n)
    .sort((a, b) => a.missRad - b.missRad);
  const out: Relative[] = [];
  for (const f of found)
    if (f.missRad < ALIKE * found[0].missRad + NEAR_RAD && !out.some((o) => same(o, f)) && out.length < MOST)
      out.push(f);
  return out;
}

/** Whether two solutions are one. */
function same(a: Relative, b: Relative): boolean {
  let trace = 0;
  for (let k = 0; k < 9; k++) trace += a.rotation[k] * b.rotation[k];
  const along = a.direction[0] * b.direction[0] + a.direction[1] * b.direction[1] + a.direction[2] * b.direction[2];
  return trace > 3 - APART && along > 1 - APART;
}

/** The base that suits a turn best, and how badly. */
function baseOf(first: Float64Array, second: Float64Array, r: Matrix3): { direction: Vector3; cost: number } {
  const m = new Float64Array(6);
  for (let i = 0; i < first.length; i += 3) {
    const n = normalOf(first, second, i, r);
    m[0] += n[0] * n[0];
    m[1] += n[0] * n[1];
    m[2] += n[0] * n[2];
    m[3] += n[1] * n[1];
    m[4] += n[1] * n[2];
    m[5] += n[2] * n[2];
  }
  const out = new Float64Array(6);
  smallestAxis(m[0], m[1], m[2], m[3], m[4], m[5], out);
  return { direction: [out[3], out[4], out[5]], cost: out[0] / (m[0] + m[3] + m[5]) };
}

function normalOf(first: Float64Array, second: Float64Array, i: number, r: Matrix3): Vector3 {
  const [x, y, z] = [second[i], second[i + 1], second[i + 2]];
  const b = [r[0] * x + r[1] * y + r[2] * z, r[3] * x + r[4] * y + r[5] * z, r[6] * x + r[7] * y + r[8] * z];
  return [
    first[i + 1] * b[2] - first[i + 2] * b[1],
    first[i + 2] * b[0] - first[i] * b[2],
    first[i] * b[1] - first[i + 1] * b[0],
  ];
}

/** The pose near a start, or undefined where rays tell none. Directions as in {@link relativesOf}. */
export function refineRelative(
  first: Float64Array,
  second: Float64Array,
  r0: Matrix3,
  t0: Vector3,
): Relative | undefined {
  let r = r0;
  let t = t0;
  const n = first.length / 3;
  const miss = new Float64Array(n);
  const row = new Float64Array(5);
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(25);
    const right = new Float64Array(5);
    const [e, f] = acrossOf(t);
    for (let i = 0; i < n; i++) {
      const k = 3 * i;
      const c = normalOf(first, second, k, r);
      const size = Math.max(1e-9, Math.hypot(c[0], c[1], c[2]));
      const off = (t[0] * c[0] + t[1] * c[1] + t[2] * c[2]) / size;
      miss[i] = Math.abs(off);
      // (t × d₁) in the axes of the second
      const v = [
        t[1] * first[k + 2] - t[2] * first[k + 1],
        t[2] * first[k] - t[0] * first[k + 2],
        t[0] * first[k + 1] - t[1] * first[k],
      ];
      const a = [0, 1, 2].map((j) => r[j] * v[0] + r[3 + j] * v[1] + r[6 + j] * v[2]);
      row[0] = (second[k + 1] * a[2] - second[k + 2] * a[1]) / size;
      row[1] = (second[k + 2] * a[0] - second[k] * a[2]) / size;
      row[2] = (second[k] * a[1] - second[k + 1] * a[0]) / size;
      row[3] = (e[0] * c[0] + e[1] * c[1] + e[2] * c[2]) / size;
      row[4] = (f[0] * c[0] + f[1] * c[1] + f[2] * c[2]) / size;
      const w = round < 3 ? 1 : 1 / Math.max(NEAR_RAD, miss[i]);
      for (let p = 0; p < 5; p++) {
        right[p] -= w * row[p] * off;
        for (let q = 0; q < 5; q++) normal[5 * p + q] += w * row[p] * row[q];
      }
    }
    for (let p = 0; p < 5; p++) normal[6 * p] *= 1 + 1e-3 / (1 + round);
    if (!solveNormal(normal, right, 5)) return undefined;
    const length = Math.hypot(right[0], right[1], right[2]);
    const by = length > 0.4 ? 0.4 / length : 1;
    r = multiply3(r, turnOf(by * right[0], by * right[1], by * right[2]));
    const moved = t.map((v, k) => v + by * (e[k] * right[3] + f[k] * right[4]));
    const size = Math.hypot(moved[0], moved[1], moved[2]);
    t = moved.map((v) => v / size) as Vector3;
    if (length < 1e-10) break;
  }
  // planes through the base are the same from both its ends, and with the second camera turned half round about it: of these
  // four that one from which points lie ahead
  const sorted = miss.slice().sort();
  const missRad = sorted[Math.floor(0.6 * n)];
  const back = t.map((v) => -v) as Vector3;
  const half = Float64Array.from(r, (_, k) => 2 * t[Math.floor(k / 3)] * t[k % 3] - (k % 4 === 0 ? 1 : 0));
  let best: Relative | undefined;
  for (const rotation of [r, multiply3(half, r)])
    for (const direction of [t, back]) {
      const ahead = aheadOf(first, second, rotation, direction);
      if (!best || ahead > best.ahead) best = { rotation, direction, missRad, ahead };
    }
  return best;
}

/** Two directions across a third. */
function acrossOf(t: Vector3): [Vector3, Vector3] {
  const other: Vector3 = Math.abs(t[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0];
  const cross = (a: Vector3, b: Vector3): Vector3 => [
    a[1] * b[2] - a[2] * b[1],
    a[2] * b[0] - a[0] * b[2],
    a[0] * b[1] - a[1] * b[0],
  ];
  const e = cross(t, other);
  const size = Math.hypot(...e);
  const unit = e.map((v) => v / size) as Vector3;
  return [unit, cross(t, unit)];
}

/** Points that lie before both cameras. */
function aheadOf(first: Float64Array, second: Float64Array, r: Matrix3, t: Vector3): number {
  let count = 0;
  for (let i = 0; i < first.length; i += 3) {
    const b = apply3(r, second.subarray(i, i + 3));
    const a = [first[i], first[i + 1], first[i + 2]];
    // s·a − q·b = t by least squares
    const ab = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    const [at, bt] = [a[0] * t[0] + a[1] * t[1] + a[2] * t[2], b[0] * t[0] + b[1] * t[1] + b[2] * t[2]];
    const det = 1 - ab * ab;
    if (det < 1e-9) continue;
    if ((at - ab * bt) / det > 0 && (ab * at - bt) / det > 0) count++;
  }
  return count;
}
