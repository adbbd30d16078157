import { lengthOf, type SectionLine } from './cut';

/** A line that sections are led along: its corners in plan, metres, and the distance of each from the start along it. */
export interface Rail {
  at: Array<[number, number]>;
  stationM: number[];
  lengthM: number;
}

/** Corners nearer to each other than this, metres, are one: a vehicle that stands wanders by less. */
const NEAREST_M = 0.05;

export function railOf(points: Array<[number, number]>): Rail {
  const at: Rail['at'] = [];
  const stationM: number[] = [];
  for (const p of points) {
    const last = at.at(-1);
    const step = last ? Math.hypot(p[0] - last[0], p[1] - last[1]) : 0;
    if (last && step < NEAREST_M) continue;
    at.push(p);
    stationM.push((stationM.at(-1) ?? 0) + step);
  }
  return { at, stationM, lengthM: stationM.at(-1) ?? 0 };
}

/** Place and direction (unit vector) at a station; stations beyond the ends are those of the ends. */
function placeAt(rail: Rail, stationM: number): { at: [number, number]; u: [number, number] } {
  const { at, stationM: s } = rail;
  let [low, high] = [0, Math.max(0, at.length - 2)];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (s[middle] <= stationM) low = middle;
    else high = middle - 1;
  }
  const [a, b] = [at[low], at[Math.min(at.length - 1, low + 1)]];
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
  const u: [number, number] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  const along = Math.max(0, Math.min(length, stationM - s[low]));
  return { at: [a[0] + u[0] * along, a[1] + u[1] * along], u };
}

/**
 * The section across a rail at a station, from its left to its right.
 * @param halfM to each side. @param turnDeg clockwise from square to the rail.
 */
export function crossAt(rail: Rail, stationM: number, halfM: number, widthM: number, turnDeg: number): SectionLine {
  const { at, u } = placeAt(rail, stationM);
  const right: [number, number] = [u[1] * halfM, -u[0] * halfM];
  const square: SectionLine = {
    from: [at[0] - right[0], at[1] - right[1]],
    to: [at[0] + right[0], at[1] + right[1]],
    widthM,
  };
  return turnDeg ? turnedBy(square, turnDeg) : square;
}

/** A line turned about its middle, clockwise. */
export function turnedBy(s: SectionLine, deg: number): SectionLine {
  const [x, y] = [(s.from[0] + s.to[0]) / 2, (s.from[1] + s.to[1]) / 2];
  const [c, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  const turn = (p: readonly number[]): [number, number] => {
    const [dx, dy] = [p[0] - x, p[1] - y];
    return [x + dx * c + dy * sin, y - dx * sin + dy * c];
  };
  return { ...s, from: turn(s.from), to: turn(s.to) };
}

/** The station of the rail's place that is nearest to another. */
export function nearestStation(rail: Rail, [x, y]: readonly [number, number]): number {
  let [best, station] = [Infinity, 0];
  for (let i = 0; i + 1 < rail.at.length; i++) {
    const [a, b] = [rail.at[i], rail.at[i + 1]];
    const length = rail.stationM[i + 1] - rail.stationM[i];
    const t = ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / (length * length || 1);
    const u = Math.max(0, Math.min(1, t));
    const d = Math.hypot(x - a[0] - u * (b[0] - a[0]), y - a[1] - u * (b[1] - a[1]));
    if (d < best) [best, station] = [d, rail.stationM[i] + u * length];
  }
  return station;
}

/** A path with heights where it runs within a section: along the section and height, in runs. */
export function pathWithin(
  s: SectionLine,
  path: { eastingM: number[]; northingM: number[]; heightM?: number[] },
): Array<Array<[number, number]>> {
  const { heightM: h } = path;
  if (!h) return [];
  const length = lengthOf(s) || 1e-9;
  const [ux, uy] = [(s.to[0] - s.from[0]) / length, (s.to[1] - s.from[1]) / length];
  const local = (i: number) => {
    const [dx, dy] = [path.eastingM[i] - s.from[0], path.northingM[i] - s.from[1]];
    return [dx * ux + dy * uy, dy * ux - dx * uy, h[i]];
  };
  const out: Array<Array<[number, number]>> = [];
  let run: Array<[number, number]> = [];
  const end = () => {
    if (run.length) out.push(run);
    run = [];
  };
  const half = s.widthM / 2;
  for (let i = 0; i + 1 < path.eastingM.length; i++) {
    const [a, b] = [local(i), local(i + 1)];
    // the part of the step that lies in the section
    let [from, to] = [0, 1];
    for (const [k, low, high] of [
      [0, 0, length],
      [1, -half, half],
    ] as const) {
      const d = b[k] - a[k];
      if (Math.abs(d) < 1e-12) {
        if (a[k] < low || a[k] > high) to = -1;
        continue;
      }
      const [p, q] = [(low - a[k]) / d, (high - a[k]) / d];
      from = Math.max(from, Math.min(p, q));
      to = Math.min(to, Math.max(p, q));
    }
    if (from > to) {
      end();
      continue;
    }
    const at = (t: number): [number, number] => [a[0] + t * (b[0] - a[0]), a[2] + t * (b[2] - a[2])];
    if (from > 0 || run.length === 0) {
      end();
      run.push(at(from));
    }
    run.push(at(to));
    if (to < 1) end();
  }
  end();
  return out;
}
