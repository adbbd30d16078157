import { fitCorner, fitSphere, fitTwoTone, type Mark } from '@longheron/core/accuracy';
import { LAS_CLASS } from '@longheron/core/cloud';
import { median, robustPlane } from '@longheron/core/numeric';
import { tick, type Watch } from '@longheron/core/shared';
import { decodeExtra, WITHHELD } from '@longheron/formats/las';
import { type LoadedCloud } from '../shared/cloud';
import { drawPatch, PATCH_M, type Patch } from './patch';

/** What stands or is painted at the marks, and how large it is. */
export type TargetKind = 'two-tone' | 'sphere' | 'corner';

export interface PlanSettings {
  target: TargetKind;
  /** Edge of a two-tone target, metres. */
  edgeM: number;
  /** Radius of a sphere, metres. */
  radiusM: number;
  /** How far from the given place the target is looked for, metres. */
  searchM: number;
}

export const PLAN_DEFAULTS: PlanSettings = { target: 'two-tone', edgeM: 0.6, radiusM: 0.0725, searchM: 0.5 };

/** The ground about a mark as a plane: height at the given place and slopes. */
export interface LocalPlane {
  heightM: number;
  slopeE: number;
  slopeN: number;
  sdM: number;
  points: number;
}

/** What the cloud has at one mark. */
export interface MarkSight {
  mark: Mark;
  /** Measured − reference; undefined when nothing was found. */
  fit?: { dE: number; dN: number; dH?: number; sdE: number; sdN: number; sdH?: number; note: string };
  /** Why nothing was found. */
  reason?: string;
  points: number;
  plane?: LocalPlane;
  /** Picture of the brightness about the mark; undefined with too few points. */
  patch?: Patch;
}

export interface Sighted {
  marks: MarkSight[];
  /** The cloud's own statement of its precision in plan, median, metres; 0 when it has none. */
  cloudSdM: number;
}

/** Points nearer than this make the local plane, metres. */
const PLANE_M = 0.8;
const MIN_OF_PICTURE = 60;
/** Points on a plane of a corner lie within this, metres. */
const CORNER_TOLERANCE_M = 0.01;

/** Looks for the targets of marks in a cloud, and draws what is to be seen about each. */
export async function findMarks(
  cloud: LoadedCloud,
  marks: Mark[],
  settings: PlanSettings,
  watch?: Watch,
): Promise<Sighted> {
  const { set, points } = cloud;
  const near = pointsNear(cloud, marks, Math.SQRT1_2 * PATCH_M);
  const cloudSdM = await statedPlanSdM(cloud);
  // one scale of brightness for all pictures, so that a mark looks the same in each
  const sample: number[] = [];
  for (const list of near) for (let k = 0; k < list.length; k += 7) sample.push(points.intensity[list[k]]);
  sample.sort((a, b) => a - b);
  const at = (f: number) => sample[Math.min(sample.length - 1, Math.floor(f * sample.length))] ?? 0;
  const range: [number, number] = [at(0.01), Math.max(at(0.01) + 1, at(0.99))];
  const out = marks.map((mark, m): MarkSight => {
    tick(watch, m / marks.length, `Looking at ${mark.name}`);
    const all = near[m];
    const e0 = mark.eastingM - set.origin[0];
    const n0 = mark.northingM - set.origin[1];
    const column = (list: number[], a: ArrayLike<number>, shift: number) =>
      Float64Array.from(list, (i) => a[i] - shift);
    // what is painted lies on the ground: where that is known the rest is left out
    const grounded = all.filter((i) => points.classification[i] === LAS_CLASS.ground);
    const flat = grounded.length >= MIN_OF_PICTURE ? grounded : all;
    const plane = localPlane(set.x, set.y, set.z, flat, e0, n0, set.origin[2]);
    const sight: MarkSight = { mark, points: flat.length, plane };
    if (flat.length >= MIN_OF_PICTURE)
      sight.patch = drawPatch(
        column(flat, set.x, e0),
        column(flat, set.y, n0),
        Float64Array.from(flat, (i) => points.intensity[i]),
        range,
      );
    if (all.length === 0) {
      sight.reason = 'no points about the mark';
      return sight;
    }
    const within = (list: number[], radius: number) =>
      list.filter((i) => Math.hypot(set.x[i] - e0, set.y[i] - n0) <= radius);
    if (settings.target === 'two-tone') {
      const list = within(flat, settings.searchM + settings.edgeM);
      const found = fitTwoTone(
        {
          dx: column(list, set.x, e0),
          dy: column(list, set.y, n0),
          brightness: Float64Array.from(list, (i) => points.intensity[i]),
        },
        settings,
      );
      if (typeof found === 'string') sight.reason = found;
      else
        sight.fit = {
          dE: found.dxM,
          dN: found.dyM,
          sdE: found.sdXM,
          sdN: found.sdYM,
          note: `${found.points} points, correlation ${found.correlation.toFixed(2)}, turned ${Math.round(found.turnDeg) || 0}°`,
        };
      return sight;
    }
    const h0 = mark.heightM - set.origin[2];
    const around = within(all, settings.searchM + settings.radiusM).filter(
      (i) => Math.abs(set.z[i] - h0) <= settings.searchM + settings.radiusM,
    );
    const [x, y, z] = [column(around, set.x, e0), column(around, set.y, n0), column(around, set.z, h0)];
    const found =
      settings.target === 'sphere'
        ? fitSphere(x, y, z, settings.radiusM, [0, 0, 0])
        : fitCorner(x, y, z, CORNER_TOLERANCE_M);
    if (typeof found === 'string') sight.reason = found;
    else {
      const center = 'center' in found ? found.center : found.at;
      if (Math.hypot(center[0], center[1], center[2]) > settings.searchM)
        sight.reason = `what was found is ${Math.hypot(...center).toFixed(2)} m away`;
      else
        sight.fit = {
          dE: center[0],
          dN: center[1],
          dH: center[2],
          sdE: found.sd[0],
          sdN: found.sd[1],
          sdH: found.sd[2],
          note: `${'center' in found ? found.points : found.points.reduce((a, b) => a + b)} points, ${(1000 * found.rmsM).toFixed(1)} mm RMS`,
        };
    }
    return sight;
  });
  return { marks: out, cloudSdM };
}

function localPlane(
  x: Float64Array,
  y: Float64Array,
  z: Float64Array,
  list: number[],
  e0: number,
  n0: number,
  originH: number,
): LocalPlane | undefined {
  const inside = list.filter((i) => Math.hypot(x[i] - e0, y[i] - n0) <= PLANE_M);
  if (inside.length < 6) return undefined;
  const plane = robustPlane(
    inside.map((i) => x[i] - e0),
    inside.map((i) => y[i] - n0),
    inside.map((i) => z[i]),
  );
  return (
    plane && {
      heightM: plane.z0 + originH,
      slopeE: plane.slopeX,
      slopeN: plane.slopeY,
      sdM: plane.z0Sd,
      points: inside.length,
    }
  );
}

/** Points that are not rejected within a square of this half edge about each mark. */
function pointsNear({ set, points }: LoadedCloud, marks: Mark[], half: number): number[][] {
  const out: number[][] = marks.map(() => []);
  const cell = 2 * half;
  const cells = new Map<number, number[]>();
  marks.forEach((m, k) => {
    const [e, n] = [m.eastingM - set.origin[0], m.northingM - set.origin[1]];
    for (const c of new Set([e - half, e + half].map((v) => Math.floor(v / cell))))
      for (const r of new Set([n - half, n + half].map((v) => Math.floor(v / cell)))) {
        const key = c * 4194304 + r;
        const list = cells.get(key);
        if (list) list.push(k);
        else cells.set(key, [k]);
      }
  });
  for (let i = 0; i < set.count; i++) {
    const list = cells.get(Math.floor(set.x[i] / cell) * 4194304 + Math.floor(set.y[i] / cell));
    if (!list) continue;
    const cls = points.classification[i];
    if (points.flags[i] & WITHHELD || cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise) continue;
    for (const k of list)
      if (
        Math.abs(set.x[i] - (marks[k].eastingM - set.origin[0])) <= half &&
        Math.abs(set.y[i] - (marks[k].northingM - set.origin[1])) <= half
      )
        out[k].push(i);
  }
  return out;
}

async function statedPlanSdM({ file }: LoadedCloud): Promise<number> {
  const dimensions = ['sd_e', 'sd_n'].map((n) => file.extraDimensions().find((d) => d.name === n));
  if (!dimensions[0] || !dimensions[1]) return 0;
  const sample: number[] = [];
  const [e, n] = [new Float32Array(1 << 16), new Float32Array(1 << 16)];
  let batches = 0;
  for await (const batch of file.records()) {
    if (batches++ % 8 !== 0) continue;
    decodeExtra(file.header, batch.bytes, batch.count, dimensions[0], e, 0);
    decodeExtra(file.header, batch.bytes, batch.count, dimensions[1], n, 0);
    for (let i = 0; i < batch.count; i += 997) sample.push(Math.sqrt((e[i] ** 2 + n[i] ** 2) / 2));
  }
  return sample.length ? median(sample) : 0;
}
