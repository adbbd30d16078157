import { symmetricEigen } from '../../numeric/eigen';
import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { Random } from '../../numeric/random';
import { refineRelative, relativesOf, type Relative } from '../block/relative';

/** How two pictures see the same points, and which of their matches agree. */
export interface Agreement {
  relative: Relative;
  /** Of each match. */
  agrees: Uint8Array;
  count: number;
}

/** Rays of one point miss each other by less than so many times the usual miss, and by less than this, radians. */
const TIMES = 4;
const LEAST_RAD = 1.2e-3;
const MOST_RAD = 0.008;
const FEWEST = 8;
/** Samples drawn where nothing is known of the pair. */
const SAMPLES = 600;
/** Matches by which a pose is found. */
const ENOUGH = 100;
/** In samples rays that miss by less agree; places on a plane may lie this far from it, in depths. */
const SAMPLE_RAD = 0.004;
const PLANE = 0.03;

/**
 * Which matches of a pair fit one pose of both cameras (their rays and the base lie in one plane).
 * @param first, second unit directions in the axes of each camera, three numbers a match.
 * @param known about how the second is turned and in which direction it lies; without it samples are drawn: of eight
 * matches for places in space, of four for places on a plane.
 */
export function agreeing(
  first: Float64Array,
  second: Float64Array,
  known?: { rotation: Matrix3; direction: Vector3 },
): Agreement | undefined {
  const n = first.length / 3;
  if (n < FEWEST) return undefined;
  if (known) {
    const all = Array.from({ length: n }, (_, i) => i);
    const some = thin(all, ENOUGH);
    const relative = refineRelative(take(first, some), take(second, some), known.rotation, known.direction);
    return relative && judged(first, second, relative);
  }
  const sample = sampled(first, second);
  if (!sample || sample.length < FEWEST) return undefined;
  const some = thin(sample, ENOUGH);
  let best: Agreement | undefined;
  for (const relative of relativesOf(take(first, some), take(second, some))) {
    const found = judged(first, second, relative);
    if (found && found.count > (best?.count ?? 0)) best = found;
  }
  return best;
}

const take = (v: Float64Array, list: readonly number[]) =>
  Float64Array.from(list.flatMap((i) => [v[3 * i], v[3 * i + 1], v[3 * i + 2]]));

function thin(list: readonly number[], most: number): number[] {
  const every = Math.max(1, Math.ceil(list.length / most));
  return list.filter((_, k) => k % every === 0);
}

/** Angle by which both rays miss each other. */
function missOf(first: Float64Array, second: Float64Array, i: number, r: ArrayLike<number>, t: Vector3): number {
  const k = 3 * i;
  const [x, y, z] = [second[k], second[k + 1], second[k + 2]];
  const b = [r[0] * x + r[1] * y + r[2] * z, r[3] * x + r[4] * y + r[5] * z, r[6] * x + r[7] * y + r[8] * z];
  const c = [
    first[k + 1] * b[2] - first[k + 2] * b[1],
    first[k + 2] * b[0] - first[k] * b[2],
    first[k] * b[1] - first[k + 1] * b[0],
  ];
  // where both rays run beside the base, or each other, their plane tells nothing: by the larger of both
  const plane = [t[1] * b[2] - t[2] * b[1], t[2] * b[0] - t[0] * b[2], t[0] * b[1] - t[1] * b[0]];
  const size = Math.max(Math.hypot(c[0], c[1], c[2]), Math.hypot(plane[0], plane[1], plane[2]), 1e-9);
  return Math.abs(t[0] * c[0] + t[1] * c[1] + t[2] * c[2]) / size;
}

function judged(first: Float64Array, second: Float64Array, relative: Relative): Agreement | undefined {
  const n = first.length / 3;
  const miss = Float64Array.from({ length: n }, (_, i) =>
    missOf(first, second, i, relative.rotation, relative.direction),
  );
  const usual = miss.slice().sort()[Math.floor(0.5 * n)];
  const limit = Math.min(MOST_RAD, Math.max(LEAST_RAD, TIMES * usual));
  const agrees = Uint8Array.from(miss, (m) => (m < limit ? 1 : 0));
  const count = agrees.reduce((s, v) => s + v, 0);
  return count < FEWEST ? undefined : { relative, agrees, count };
}

/** The matches that agree with the best sample. */
function sampled(first: Float64Array, second: Float64Array): number[] | undefined {
  const n = first.length / 3;
  const random = new Random(n, 'pair');
  let best: number[] | undefined;
  for (let s = 0; s < SAMPLES; s++) {
    const plane = s % 2 === 1;
    const chosen = new Set<number>();
    while (chosen.size < (plane ? 4 : 8)) chosen.add(Math.min(n - 1, Math.floor(random.uniform() * n)));
    const normal = new Float64Array(81);
    for (const i of chosen) {
      const a = first.subarray(3 * i, 3 * i + 3);
      const b = second.subarray(3 * i, 3 * i + 3);
      if (plane) {
        add(normal, [0, 0, 0, ...b.map((v) => -a[2] * v), ...b.map((v) => a[1] * v)]);
        add(normal, [...b.map((v) => a[2] * v), 0, 0, 0, ...b.map((v) => -a[0] * v)]);
      } else
        add(
          normal,
          [0, 1, 2].flatMap((r) => [0, 1, 2].map((c) => a[r] * b[c])),
        );
    }
    const { values, vectors } = symmetricEigen(normal, 9);
    let least = 0;
    values.forEach((v, k) => {
      if (v < values[least]) least = k;
    });
    const m = vectors[least];
    const fits: number[] = [];
    for (let i = 0; i < n; i++) if (plane ? onPlane(m, first, second, i) : inPlane(m, first, second, i)) fits.push(i);
    if (fits.length > (best?.length ?? 0)) best = fits;
    // most agree: more samples tell nothing new
    if (best && best.length > 0.85 * n && s > 40) break;
  }
  return best;
}

function add(normal: Float64Array, row: readonly number[]): void {
  for (let i = 0; i < 9; i++) for (let k = 0; k < 9; k++) normal[9 * i + k] += row[i] * row[k];
}

/** Whether two rays lie in one plane with the base: aᵀ·E·b is nothing. */
function inPlane(e: ArrayLike<number>, a: Float64Array, b: Float64Array, i: number): boolean {
  const k = 3 * i;
  const l = [0, 1, 2].map((r) => e[3 * r] * b[k] + e[3 * r + 1] * b[k + 1] + e[3 * r + 2] * b[k + 2]);
  const m = [0, 1, 2].map((c) => e[c] * a[k] + e[3 + c] * a[k + 1] + e[6 + c] * a[k + 2]);
  const off = Math.abs(a[k] * l[0] + a[k + 1] * l[1] + a[k + 2] * l[2]);
  return off < SAMPLE_RAD * Math.max(1e-12, Math.min(Math.hypot(...l), Math.hypot(...m)));
}

/** Whether the second ray, carried over a plane, runs near the first: depths may differ a little. */
function onPlane(h: ArrayLike<number>, a: Float64Array, b: Float64Array, i: number): boolean {
  const k = 3 * i;
  const x = [0, 1, 2].map((r) => h[3 * r] * b[k] + h[3 * r + 1] * b[k + 1] + h[3 * r + 2] * b[k + 2]);
  const size = Math.hypot(...x);
  if (!(size > 0)) return false;
  const dot = (x[0] * a[k] + x[1] * a[k + 1] + x[2] * a[k + 2]) / size;
  return Math.abs(dot) > Math.cos(PLANE);
}
