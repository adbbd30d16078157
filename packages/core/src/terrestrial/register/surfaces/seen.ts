import { apply3, multiply3, transpose3 } from '../../../numeric/matrix3';
import { type Pose } from '../model';
import { wayOf, WAYS, type ScanPatches } from './patches';

const COLUMNS = 360;
const ROWS = 180;
const DEG = Math.PI / 180;
/** A piece is where another scan sees nothing if that sees so much farther there: metres, and a share of the range. */
const BEYOND_M = 0.3;
const BEYOND_SHARE = 0.05;
/** Cosine between ray and normal below which a piece is not judged. */
const GLANCING = 0.25;
/** Pieces that face one way, fewer of which say nothing. */
const FEWEST = 60;

/** How near the nearest piece is in each direction from a scanner: cells of a degree, infinite where none is. */
export function rangesOf({ count, at, sizeM }: ScanPatches): Float32Array {
  const out = new Float32Array(COLUMNS * ROWS).fill(Infinity);
  for (let p = 0; p < count; p++) {
    const [x, y, z] = [at[3 * p], at[3 * p + 1], at[3 * p + 2]];
    const flat = Math.hypot(x, y);
    const range = Math.hypot(flat, z);
    const half = Math.min(30, Math.asin(Math.min(1, (0.6 * sizeM[p]) / range)) / DEG);
    const turn = Math.atan2(y, x) / DEG + 180;
    const rise = Math.atan2(z, flat) / DEG + 90;
    const wide = Math.min(180, half / Math.max(0.05, flat / range));
    for (let row = Math.max(0, Math.floor(rise - half)); row <= Math.min(ROWS - 1, Math.floor(rise + half)); row++)
      for (let c = Math.floor(turn - wide); c <= Math.floor(turn + wide); c++) {
        const cell = row * COLUMNS + ((c + COLUMNS) % COLUMNS);
        if (range < out[cell]) out[cell] = range;
      }
  }
  return out;
}

/**
 * Whether pieces of one scan stand where another sees past them: in the open, or seen through. Each way that they face
 * counts by itself, since ground agrees with ground wherever it is moved to.
 * @param ranges of the other scan, by {@link rangesOf}.
 * @returns shares of pieces that the other sees past among those where it sees anything: of all, and the most of a way.
 */
export function seenPast(
  { at, normal }: ScanPatches,
  chosen: Int32Array,
  pose: Pose,
  other: Pose,
  ranges: Float32Array,
): { all: number; ofAWay: number } {
  const back = transpose3(other.rotation);
  const turn = multiply3(back, pose.rotation);
  const s = apply3(
    back,
    [0, 1, 2].map((k) => pose.atM[k] - other.atM[k]),
  );
  const past = new Int32Array(WAYS);
  const of = new Int32Array(WAYS);
  for (const p of chosen) {
    const [a, b, c] = [at[3 * p], at[3 * p + 1], at[3 * p + 2]];
    const x = turn[0] * a + turn[1] * b + turn[2] * c + s[0];
    const y = turn[3] * a + turn[4] * b + turn[5] * c + s[1];
    const z = turn[6] * a + turn[7] * b + turn[8] * c + s[2];
    const flat = Math.hypot(x, y);
    const range = Math.hypot(flat, z);
    // what the other would see at a glancing angle lies at any range in a cell
    const [n0, n1, n2] = [normal[3 * p], normal[3 * p + 1], normal[3 * p + 2]];
    const towards =
      x * (turn[0] * n0 + turn[1] * n1 + turn[2] * n2) +
      y * (turn[3] * n0 + turn[4] * n1 + turn[5] * n2) +
      z * (turn[6] * n0 + turn[7] * n1 + turn[8] * n2);
    if (Math.abs(towards) < GLANCING * range) continue;
    const row = Math.min(ROWS - 1, Math.floor(Math.atan2(z, flat) / DEG + 90));
    const sees = ranges[row * COLUMNS + (Math.floor(Math.atan2(y, x) / DEG + 180) % COLUMNS)];
    if (sees === Infinity) continue;
    const way = wayOf(normal, p);
    of[way]++;
    if (sees > range * (1 + BEYOND_SHARE) + BEYOND_M) past[way]++;
  }
  let [ofAWay, sumPast, sum] = [0, 0, 0];
  for (let way = 0; way < WAYS; way++) {
    sumPast += past[way];
    sum += of[way];
    if (of[way] >= FEWEST) ofAWay = Math.max(ofAWay, past[way] / of[way]);
  }
  return { all: sum >= FEWEST ? sumPast / sum : 0, ofAWay };
}
