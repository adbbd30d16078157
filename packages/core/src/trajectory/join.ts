import { geodeticToEcef, GRS80 } from '../frames/ellipsoid';
import { Problem } from '../shared/problem';
import { intervalAt, type Trajectory } from './trajectory';

const COLUMNS = [
  ...(['latRad', 'lonRad', 'hEllM', 'rollRad', 'pitchRad', 'headingRad', 'vnMps', 'veMps', 'vdMps'] as const),
  ...(['sdNM', 'sdEM', 'sdDM', 'sdRollRad', 'sdPitchRad', 'sdHeadingRad', 'solution', 'satellites'] as const),
];

export interface JoinedTrajectory {
  trajectory: Trajectory;
  /** Where two sessions overlap: how far apart they are at most there, metres, and for how long. */
  overlaps: Array<{ first: number; second: number; lengthS: number; apartM: number }>;
  /** Spans of the parts as they stand in the result: place in the list given, seconds of the result's week. */
  parts: Array<{ part: number; startSow: number; endSow: number; epochs: number }>;
}

/**
 * Sessions as one trajectory, in time order; gaps between them stay gaps. Where two overlap, the first counts to the
 * middle of the overlap and the second from there. Columns that a part lacks are left out of the whole.
 * @param names for messages. @throws Problem when frames, epochs or points differ.
 */
export function joinTrajectories(list: Trajectory[], names: string[]): JoinedTrajectory {
  const order = list.map((_, k) => k).sort((a, b) => gps(list[a], 0) - gps(list[b], 0));
  const first = list[order[0]];
  for (const k of order.slice(1)) check(first, list[k], names[order[0]], names[k]);
  const span = (k: number) => [gps(list[k], 0), gps(list[k], list[k].sow.length - 1)];
  const overlaps: JoinedTrajectory['overlaps'] = [];
  const limits = order.map((k) => span(k) as [number, number]);
  for (let i = 1; i < order.length; i++) {
    const [a, b] = [limits[i - 1], limits[i]];
    if (b[0] > a[1]) continue;
    if (b[1] <= a[1])
      throw new Problem(`${names[order[i]]} lies wholly within the time of ${names[order[i - 1]]}.`, {
        code: 'join-within',
        file: names[order[i]],
        remedy: 'Leave one of the two out.',
      });
    overlaps.push({
      first: order[i - 1],
      second: order[i],
      lengthS: a[1] - b[0],
      apartM: apart(list[order[i - 1]], list[order[i]], b[0], a[1]),
    });
    const middle = (a[1] + b[0]) / 2;
    a[1] = middle;
    b[0] = middle + 1e-6;
  }
  const rows: Array<[number, number]> = [];
  const parts: JoinedTrajectory['parts'] = [];
  order.forEach((k, i) => {
    const t = list[k];
    const before = rows.length;
    for (let r = 0; r < t.sow.length; r++) {
      const time = gps(t, r);
      if (time >= limits[i][0] && time <= limits[i][1]) rows.push([k, r]);
    }
    if (rows.length === before) return;
    const sow = (at: number) => gps(list[rows[at][0]], rows[at][1]) - first.week * 604800;
    parts.push({
      part: k,
      startSow: sow(before),
      endSow: sow(rows.length - 1),
      epochs: rows.length - before,
    });
  });
  const out = { ...first, sow: Float64Array.from(rows, ([k, r]) => gps(list[k], r) - first.week * 604800) };
  for (const c of COLUMNS) {
    if (list.some((t) => !t[c])) delete (out as Partial<Trajectory>)[c];
    else {
      const column = new (first[c]!.constructor as Float64ArrayConstructor)(rows.length);
      rows.forEach(([k, r], at) => (column[at] = list[k][c]![r]));
      Object.assign(out, { [c]: column });
    }
  }
  return { trajectory: out, overlaps, parts };
}

const gps = (t: Trajectory, row: number) => t.week * 604800 + t.sow[row];

function check(a: Trajectory, b: Trajectory, nameA: string, nameB: string): void {
  const differ = (what: string, x: unknown, y: unknown) => {
    if (x !== y)
      throw new Problem(`${nameA} and ${nameB} cannot be joined: ${what} is ${String(x)} and ${String(y)}.`, {
        code: 'join-differs',
        file: nameB,
        remedy: 'Compute both alike.',
      });
  };
  differ('the frame', a.crs, b.crs);
  differ('the point they refer to', a.point ?? 'imu', b.point ?? 'imu');
}

/** Largest distance of two trajectories in a time that both cover, metres. */
function apart(a: Trajectory, b: Trajectory, from: number, to: number): number {
  let most = 0;
  for (let r = 0; r < b.sow.length && gps(b, r) <= to; r++) {
    if (gps(b, r) < from) continue;
    const sow = gps(b, r) - a.week * 604800;
    const i = intervalAt(a.sow, sow);
    if (i < 0 || a.sow[i + 1] - a.sow[i] > 2) continue;
    const u = (sow - a.sow[i]) / (a.sow[i + 1] - a.sow[i]);
    const p = geodeticToEcef(GRS80, a.latRad[i], a.lonRad[i], a.hEllM[i]);
    const q = geodeticToEcef(GRS80, a.latRad[i + 1], a.lonRad[i + 1], a.hEllM[i + 1]);
    const o = geodeticToEcef(GRS80, b.latRad[r], b.lonRad[r], b.hEllM[r]);
    most = Math.max(most, Math.hypot(...[0, 1, 2].map((k) => p[k] + u * (q[k] - p[k]) - o[k])));
  }
  return most;
}
