import { Cholesky } from '../../numeric/cholesky';
import { symmetricEigen } from '../../numeric/eigen';
import { type Vector3 } from '../../numeric/matrix3';
import { type PlacedScan, type Unplaced } from './model';
import { HELD_SD, rowsOf, type Work } from './rows';
import { normalOf } from './solve';
import { facesOf, type Faces } from './surfaces/faces';
import { addTies, type Ties } from './surfaces/ties';

/** A pose that is less sure than this is not claimed. */
const LEAST_SURE_M = 0.05;
const LEAST_SURE_RAD = 0.005;
/** What nothing tells at all has this deviation, metres and radians. */
const OPEN_M = 10;
const OPEN_RAD = 1;

/** The least sure direction of a place, its deviation, and that of the least sure turn, from a 6 × 6 covariance. */
export function weakestOf(covariance: Float64Array): PlacedScan['weakest'] {
  const part = (at: number) =>
    Float64Array.from({ length: 9 }, (_, k) => covariance[6 * (at + Math.floor(k / 3)) + at + (k % 3)]);
  const most = (a: Float64Array) => {
    const { values, vectors } = symmetricEigen(a, 3);
    const k = values.indexOf(Math.max(...values));
    return { sd: Math.sqrt(Math.max(0, values[k])), vector: vectors[k] };
  };
  const place = most(part(0));
  return { direction: [place.vector[0], place.vector[1], place.vector[2]], sdM: place.sd, sdTurnRad: most(part(3)).sd };
}

/** Covariance of one scan's pose. @param scale of deviations. */
export function poseCovariance(inverse: Float64Array, n: number, scan: number, scale = 1): Float64Array {
  const out = new Float64Array(36);
  for (let r = 0; r < 6; r++)
    for (let c = 0; c < 6; c++) out[6 * r + c] = scale ** 2 * inverse[(6 * scan + r) * n + 6 * scan + c];
  return out;
}

/** Which scans are known surely enough, whether of the ground or beside the others; and how weak each pair is alone. */
export interface Sureness {
  unplaced: Unplaced[];
  pairs: Map<string, { direction: Vector3; sdM: number }>;
}

export const pairKey = (a: number, b: number): string => `${a} ${b}`;

/**
 * Judges how surely poses are known with each surface counting as the plane that it is: the scatter of the normals of its
 * pieces would else hold a scan along a bare wall.
 */
export function surenessOf(work: Work): Sureness {
  const surfaces = work.surfaces!;
  const { patches, all, scale, unlike } = surfaces;
  const faces = facesOf(all, patches, work.poses);
  const known = rowsOf({ ...work, held: undefined });
  const { n, normal } = normalOf(work, known);
  all.forEach((ties, k) =>
    addTies(ties, patches, work.poses, scale, 0, normal, undefined, n, (t) => wayOf(faces, k, t)),
  );
  const scans = work.scans.length;
  for (let i = 0; i < 6 * scans; i++) normal[i * (n + 1)] += 1 / (i % 6 < 3 ? OPEN_M : OPEN_RAD) ** 2;
  const sure = (pinned?: number): Array<PlacedScan['weakest']> => {
    const a = normal.slice();
    if (pinned !== undefined) for (let i = 6 * pinned; i < 6 * pinned + 6; i++) a[i * (n + 1)] += 1 / HELD_SD ** 2;
    const inverse = Cholesky.of(a, n)?.inverse();
    return work.scans.map((_, i) =>
      inverse ? weakestOf(poseCovariance(inverse, n, i)) : { direction: [0, 0, 1], sdM: Infinity, sdTurnRad: Infinity },
    );
  };
  const enough = (w: PlacedScan['weakest']) => w.sdM <= LEAST_SURE_M && w.sdTurnRad <= LEAST_SURE_RAD;
  const ground = sure();
  let best: Array<PlacedScan['weakest']> | undefined;
  const candidates = work.held === undefined ? work.scans.map((_, i) => i) : [work.held, ...work.scans.keys()];
  const count = (list: Array<PlacedScan['weakest']> | undefined) => (list ? list.filter(enough).length : -1);
  for (const pinned of ground.every(enough) ? [] : candidates) {
    const beside = sure(pinned);
    if (count(beside) > count(best)) best = beside;
    if (count(best) === scans) break;
  }
  const unplaced = work.scans.flatMap((name, i): Unplaced[] => {
    if (i === work.fixedAt) return [];
    if (enough(ground[i]) && !onlyUnlike(i, all, unlike, work)) return [];
    if (best && count(best) > 1 && enough(best[i])) return [];
    if (onlyUnlike(i, all, unlike, work)) return [{ name, why: 'unlike' }];
    const weakest = best?.[i].sdM === 0 || (best && enough(best[i])) ? ground[i] : (best ?? ground)[i];
    return [{ name, why: weakest.sdM > 0.5 * OPEN_M && !tied(i, all) ? 'apart' : 'weak', weakest }];
  });
  return { unplaced, pairs: pairsAlone(work, faces) };
}

const wayOf = (faces: Faces, set: number, t: number): readonly number[] | undefined => {
  const way = faces.of[set][t];
  return way < 0 ? undefined : faces.ways[way];
};

const tied = (scan: number, all: readonly Ties[]): boolean =>
  all.some((t) => (t.from === scan || t.to === scan) && t.weight.some((w) => w > 0));

/** A scan that overlaps others and fits none of them, whatever else is said of it. */
function onlyUnlike(scan: number, all: readonly Ties[], unlike: Array<[number, number]>, work: Work): boolean {
  if (tied(scan, all) || !unlike.some((p) => p.includes(scan))) return false;
  return !work.seen.some((s) => s.scan === work.scans[scan]);
}

function pairsAlone(work: Work, faces: Faces): Sureness['pairs'] {
  const { patches, all, scale } = work.surfaces!;
  const out: Sureness['pairs'] = new Map();
  const n = 6 * work.scans.length;
  for (let k = 0; k + 1 < all.length; k += 2) {
    const normal = new Float64Array(n * n);
    for (const set of [k, k + 1])
      addTies(all[set], patches, work.poses, scale, 0, normal, undefined, n, (t) => wayOf(faces, set, t));
    const at = 6 * all[k].from;
    const own = new Float64Array(36);
    for (let r = 0; r < 6; r++) for (let c = 0; c < 6; c++) own[6 * r + c] = normal[(at + r) * n + at + c];
    for (let i = 0; i < 6; i++) own[7 * i] += 1 / (i < 3 ? OPEN_M : OPEN_RAD) ** 2;
    const inverse = Cholesky.of(own, 6)?.inverse();
    if (!inverse) continue;
    const { direction, sdM } = weakestOf(inverse);
    out.set(pairKey(all[k].from, all[k].to), { direction, sdM });
  }
  return out;
}
