import { apply3, multiply3, transpose3 } from '../../../numeric/matrix3';
import { type Pose } from '../model';
import { type PatchIndex } from './patchIndex';
import { type ScanPatches } from './patches';

/** Pieces of one scan on planes of another: point a of scan `from` on the plane of piece b of scan `to`. */
export interface Ties {
  from: number;
  to: number;
  count: number;
  a: Int32Array;
  b: Int32Array;
  /** Distance of the point from the plane, and variance of it by both pieces, m and m². */
  offM: Float64Array;
  varianceM2: Float64Array;
  /** What each counts, 0…1: less the farther it is off and the more often its plane serves. */
  weight: Float64Array;
  /** Pieces of `from` with anything of `to` near them. */
  near: number;
}

export interface Reach {
  /** Pieces that may be off by more than this are left for later. */
  mostM: number;
  /** How far apart middles may lie: so much, and so much more for each metre from the scanner; at least a piece's edge. */
  reachM: number;
  reachPerM: number;
  leastCos: number;
  /** How far a point may lie beside the middle of the plane's piece, in edges of the piece; infinite while coarse. */
  besideEdges: number;
}

const TUKEY = 4.7;
/** Pieces whose middles lie within so many edges may show one plane. */
const NEAR_EDGES = 1.5;

/** Finds ties from the chosen pieces of one scan to another, at these poses. */
export function tiesOf(
  from: number,
  to: number,
  patches: ScanPatches,
  chosen: Int32Array,
  index: PatchIndex,
  poses: readonly Pose[],
  { mostM, reachM, reachPerM, leastCos, besideEdges }: Reach,
): Ties {
  const other = index.patches;
  const eitherWay = !patches.facing || !other.facing;
  const [p, q] = [poses[from], poses[to]];
  const back = transpose3(q.rotation);
  const turn = multiply3(back, p.rotation);
  const shift = apply3(back, [p.atM[0] - q.atM[0], p.atM[1] - q.atM[1], p.atM[2] - q.atM[2]]);
  const out = {
    a: new Int32Array(chosen.length),
    b: new Int32Array(chosen.length),
    offM: new Float64Array(chosen.length),
    varianceM2: new Float64Array(chosen.length),
  };
  let count = 0;
  let nearby = 0;
  const near = new Uint8Array(1);
  const { at, normal, varianceM2 } = patches;
  for (const a of chosen) {
    const [x, y, z] = [at[3 * a], at[3 * a + 1], at[3 * a + 2]];
    const slack = reachM + reachPerM * Math.sqrt(x * x + y * y + z * z);
    if (slack > mostM) continue;
    const u0 = turn[0] * x + turn[1] * y + turn[2] * z + shift[0];
    const u1 = turn[3] * x + turn[4] * y + turn[5] * z + shift[1];
    const u2 = turn[6] * x + turn[7] * y + turn[8] * z + shift[2];
    const n = apply3(turn, [normal[3 * a], normal[3 * a + 1], normal[3 * a + 2]]);
    const reach = Math.max(slack, NEAR_EDGES * patches.sizeM[a]);
    const b = index.nearest(u0, u1, u2, n, reach, leastCos, eitherWay, near);
    nearby += near[0];
    if (b < 0) continue;
    const d0 = u0 - other.at[3 * b];
    const d1 = u1 - other.at[3 * b + 1];
    const d2 = u2 - other.at[3 * b + 2];
    const off = other.normal[3 * b] * d0 + other.normal[3 * b + 1] * d1 + other.normal[3 * b + 2] * d2;
    const beside2 = Math.max(0, d0 * d0 + d1 * d1 + d2 * d2 - off * off);
    if (beside2 > (besideEdges * other.sizeM[b]) ** 2) continue;
    out.a[count] = a;
    out.b[count] = b;
    out.offM[count] = off;
    out.varianceM2[count] = varianceM2[a] + other.varianceM2[b] + other.slopeVariance[b] * beside2;
    count++;
  }
  return {
    from,
    to,
    count,
    near: nearby,
    a: out.a.slice(0, count),
    b: out.b.slice(0, count),
    offM: out.offM.slice(0, count),
    varianceM2: out.varianceM2.slice(0, count),
    weight: new Float64Array(count),
  };
}

/** Distances anew, after poses moved a little. */
export function measure(ties: Ties, all: readonly ScanPatches[], poses: readonly Pose[]): void {
  const [pa, pb] = [all[ties.from], all[ties.to]];
  const [p, q] = [poses[ties.from], poses[ties.to]];
  const back = transpose3(q.rotation);
  const turn = multiply3(back, p.rotation);
  const shift = apply3(back, [p.atM[0] - q.atM[0], p.atM[1] - q.atM[1], p.atM[2] - q.atM[2]]);
  for (let t = 0; t < ties.count; t++) {
    const [a, b] = [3 * ties.a[t], 3 * ties.b[t]];
    const u = apply3(turn, [pa.at[a], pa.at[a + 1], pa.at[a + 2]]);
    let off = 0;
    for (let k = 0; k < 3; k++) off += pb.normal[b + k] * (u[k] + shift[k] - pb.at[b + k]);
    ties.offM[t] = off;
  }
}

/**
 * Weighs ties by how far they are off in units of `scale` deviations (Beaton & Tukey 1974); a plane that serves several
 * points counts once.
 * @param slackM added to each deviation while poses are still coarse.
 */
export function weigh(ties: Ties, scale: number, slackM: number, served: Uint16Array): void {
  served.fill(0);
  for (let t = 0; t < ties.count; t++) {
    const unit = Math.sqrt(ties.varianceM2[t] + slackM * slackM) * scale;
    const e = Math.abs(ties.offM[t]) / (TUKEY * unit);
    ties.weight[t] = e < 1 ? (1 - e * e) ** 2 : 0;
    if (ties.weight[t] > 0) served[ties.b[t]]++;
  }
  for (let t = 0; t < ties.count; t++) if (ties.weight[t] > 0) ties.weight[t] /= served[ties.b[t]];
}

/** Normalised distances of ties, for their scale. */
export function normalised(all: readonly Ties[], slackM: number): Float64Array {
  const out = new Float64Array(all.reduce((s, t) => s + t.count, 0));
  let at = 0;
  for (const ties of all)
    for (let t = 0; t < ties.count; t++)
      out[at++] = Math.abs(ties.offM[t]) / Math.sqrt(ties.varianceM2[t] + slackM * slackM);
  return out;
}

/** A tie's twelve derivatives: place and turn of `from`, then of `to`; by its normal in the axes of the frame. */
export function derivatives(
  ties: Ties,
  t: number,
  all: readonly ScanPatches[],
  poses: readonly Pose[],
  inFrame: readonly number[],
  out: Float64Array,
): void {
  const a = 3 * ties.a[t];
  const { at } = all[ties.from];
  const [x, y, z] = [at[a], at[a + 1], at[a + 2]];
  const [p, q] = [poses[ties.from], poses[ties.to]];
  const [n0, n1, n2] = inFrame;
  const rp = p.rotation;
  const rq = q.rotation;
  // normal in the axes of either scan
  const m0 = rp[0] * n0 + rp[3] * n1 + rp[6] * n2;
  const m1 = rp[1] * n0 + rp[4] * n1 + rp[7] * n2;
  const m2 = rp[2] * n0 + rp[5] * n1 + rp[8] * n2;
  const o0 = rq[0] * n0 + rq[3] * n1 + rq[6] * n2;
  const o1 = rq[1] * n0 + rq[4] * n1 + rq[7] * n2;
  const o2 = rq[2] * n0 + rq[5] * n1 + rq[8] * n2;
  // the point in the frame, and from the other scanner in its axes
  const f0 = p.atM[0] + rp[0] * x + rp[1] * y + rp[2] * z - q.atM[0];
  const f1 = p.atM[1] + rp[3] * x + rp[4] * y + rp[5] * z - q.atM[1];
  const f2 = p.atM[2] + rp[6] * x + rp[7] * y + rp[8] * z - q.atM[2];
  const u0 = rq[0] * f0 + rq[3] * f1 + rq[6] * f2;
  const u1 = rq[1] * f0 + rq[4] * f1 + rq[7] * f2;
  const u2 = rq[2] * f0 + rq[5] * f1 + rq[8] * f2;
  out[0] = n0;
  out[1] = n1;
  out[2] = n2;
  out[3] = y * m2 - z * m1;
  out[4] = z * m0 - x * m2;
  out[5] = x * m1 - y * m0;
  out[6] = -n0;
  out[7] = -n1;
  out[8] = -n2;
  out[9] = o1 * u2 - o2 * u1;
  out[10] = o2 * u0 - o0 * u2;
  out[11] = o0 * u1 - o1 * u0;
}

/** Adds ties to the normal equations of all poses (six unknowns each, the first of `n`). */
export function addTies(
  ties: Ties,
  all: readonly ScanPatches[],
  poses: readonly Pose[],
  scale: number,
  slackM: number,
  normal: Float64Array,
  right: Float64Array | undefined,
  n: number,
  /** Normals in the frame instead of each piece's own; none leaves the tie out. */
  faceOf?: (t: number) => readonly number[] | undefined,
): void {
  const d = new Float64Array(12);
  const block = new Float64Array(144);
  const sum = new Float64Array(12);
  const { normal: pieces } = all[ties.to];
  const { rotation } = poses[ties.to];
  const own: [number, number, number] = [0, 0, 0];
  for (let t = 0; t < ties.count; t++) {
    if (ties.weight[t] === 0) continue;
    const b = 3 * ties.b[t];
    for (let k = 0; k < 3; k++)
      own[k] = rotation[3 * k] * pieces[b] + rotation[3 * k + 1] * pieces[b + 1] + rotation[3 * k + 2] * pieces[b + 2];
    const face = faceOf ? faceOf(t) : own;
    if (!face) continue;
    derivatives(ties, t, all, poses, face, d);
    // each pair is tied both ways: half each
    const w = (0.5 * ties.weight[t]) / (scale * scale * (ties.varianceM2[t] + slackM * slackM));
    for (let i = 0; i < 12; i++) {
      const wi = w * d[i];
      sum[i] -= wi * ties.offM[t];
      for (let j = 0; j <= i; j++) block[12 * i + j] += wi * d[j];
    }
  }
  const column = (i: number) => (i < 6 ? 6 * ties.from + i : 6 * ties.to + i - 6);
  for (let i = 0; i < 12; i++) {
    if (right) right[column(i)] += sum[i];
    for (let j = 0; j <= i; j++) {
      normal[column(i) * n + column(j)] += block[12 * i + j];
      if (i !== j) normal[column(j) * n + column(i)] += block[12 * i + j];
    }
  }
}

/** How far normals of one plane differ while poses are coarse, 1 SD. */
const NORMAL_SD_RAD = 0.03;

/** Adds that tied pieces face one way: it tells turns however far places are off. */
export function addNormals(
  ties: Ties,
  all: readonly ScanPatches[],
  poses: readonly Pose[],
  normal: Float64Array,
  right: Float64Array,
  n: number,
): void {
  const [pa, pb] = [all[ties.from], all[ties.to]];
  const back = transpose3(poses[ties.from].rotation);
  const turn = multiply3(back, poses[ties.to].rotation);
  // in the axes of `from`: its turn, and that of `to` turned into them
  const weights = new Float64Array(9);
  const sum = new Float64Array(3);
  for (let t = 0; t < ties.count; t++) {
    const [a, b] = [3 * ties.a[t], 3 * ties.b[t]];
    const u = [pa.normal[a], pa.normal[a + 1], pa.normal[a + 2]];
    const v = apply3(turn, [pb.normal[b], pb.normal[b + 1], pb.normal[b + 2]]);
    const cos = u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
    const sign = cos < 0 ? -1 : 1;
    const off = [
      sign * (u[1] * v[2] - u[2] * v[1]),
      sign * (u[2] * v[0] - u[0] * v[2]),
      sign * (u[0] * v[1] - u[1] * v[0]),
    ];
    const e = Math.hypot(off[0], off[1], off[2]) / (TUKEY * NORMAL_SD_RAD);
    if (e >= 1) continue;
    const w = (1 - e * e) ** 2;
    for (let i = 0; i < 3; i++) {
      sum[i] += w * off[i];
      for (let j = 0; j < 3; j++) weights[3 * i + j] += w * ((i === j ? 1 : 0) - u[i] * u[j]);
    }
  }
  const per = 1 / NORMAL_SD_RAD ** 2;
  const [ca, cb] = [6 * ties.from + 3, 6 * ties.to + 3];
  const other = multiply3(weights, turn);
  const both = multiply3(transpose3(turn), other);
  const sumB = apply3(transpose3(turn), sum);
  for (let i = 0; i < 3; i++) {
    right[ca + i] += per * sum[i];
    right[cb + i] -= per * sumB[i];
    for (let j = 0; j < 3; j++) {
      normal[(ca + i) * n + ca + j] += per * weights[3 * i + j];
      normal[(cb + i) * n + cb + j] += per * both[3 * i + j];
      normal[(ca + i) * n + cb + j] -= per * other[3 * i + j];
      normal[(cb + j) * n + ca + i] -= per * other[3 * i + j];
    }
  }
}

/** How many ties of a set agree, and of how many pieces that had something near them. */
export function agreement(ties: Ties): { agree: number; near: number } {
  let agree = 0;
  for (let t = 0; t < ties.count; t++) if (ties.weight[t] > 0) agree++;
  return { agree, near: ties.near };
}
