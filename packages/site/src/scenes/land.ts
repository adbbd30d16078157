import { type Random } from '@longheron/core/numeric';

/** A line across the land, wavering: distance to its left is positive. */
interface Course {
  angleRad: number;
  offsetM: number;
  waverM: number;
  waveM: number;
  phase: number;
}

/** The land to the left of a course stands higher by `riseM`, over `widthM` on the way up. */
export interface Rise {
  course: Course;
  riseM: number;
  widthM: number;
}

/** A valley along a course: level bed of `bedM` half width, sides of `sideM` width. */
export interface Ravine {
  course: Course;
  depthM: number;
  bedM: number;
  sideM: number;
}

/** Land in closed form: tilted, wavy, with rises (banks, terraces, cliffs) and ravines. */
export interface Land {
  baseM: number;
  tilt: [number, number];
  waves: Array<{ kx: number; ky: number; phase: number; sizeM: number }>;
  rises: Rise[];
  ravines: Ravine[];
}

const RAD = Math.PI / 180;

export function drawCourse(r: Random, offsetM: number, angleRad: number): Course {
  return { angleRad, offsetM, waverM: r.between(0, 4), waveM: r.between(30, 90), phase: r.between(0, 6.28) };
}

/** Width in plan of a rise or side of this height and slope, metres. */
export function widthOf(heightM: number, slopeDeg: number): number {
  return heightM / Math.tan(slopeDeg * RAD);
}

/** Waves of one length scale: their steepest slopes together stay below `steepest`. */
export function drawWaves(r: Random, count: number, lengthM: [number, number], steepest: number): Land['waves'] {
  return Array.from({ length: count }, () => {
    const k = (2 * Math.PI) / r.between(...lengthM);
    const way = r.between(0, 6.28);
    return {
      kx: k * Math.cos(way),
      ky: k * Math.sin(way),
      phase: r.between(0, 6.28),
      sizeM: (steepest * r.between(0.4, 1)) / (count * k),
    };
  });
}

function across(c: Course, x: number, y: number): number {
  const cos = Math.cos(c.angleRad);
  const sin = Math.sin(c.angleRad);
  const along = x * cos + y * sin;
  return y * cos - x * sin - c.offsetM - c.waverM * Math.sin((2 * Math.PI * along) / c.waveM + c.phase);
}

/** Height of the land at a place, metres. */
export function landHeight(land: Land, x: number, y: number): number {
  let h = land.baseM + land.tilt[0] * x + land.tilt[1] * y;
  for (const w of land.waves) h += w.sizeM * Math.sin(w.kx * x + w.ky * y + w.phase);
  for (const { course, riseM, widthM } of land.rises) {
    const d = across(course, x, y);
    h += riseM * Math.max(0, Math.min(1, d / widthM + 0.5));
  }
  for (const { course, depthM, bedM, sideM } of land.ravines) {
    const d = Math.abs(across(course, x, y)) - bedM;
    h -= depthM * Math.max(0, Math.min(1, 1 - d / sideM));
  }
  return h;
}

/** Direction straight out of the land, unit length. */
export function landNormal(land: Land, x: number, y: number): [number, number, number] {
  const e = 1e-3;
  const dx = (landHeight(land, x + e, y) - landHeight(land, x - e, y)) / (2 * e);
  const dy = (landHeight(land, x, y + e) - landHeight(land, x, y - e)) / (2 * e);
  const norm = Math.hypot(dx, dy, 1);
  return [-dx / norm, -dy / norm, 1 / norm];
}
