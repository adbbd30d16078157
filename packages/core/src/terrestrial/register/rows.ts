import { apply3, transpose3, type Vector3 } from '../../numeric/matrix3';
import { type LeftOut, type Pose, type RegisterRequest, type SeenTarget } from './model';
import { type SurfaceTies } from './surfaces';

/** How well a scan that gives the frame keeps its place. */
export const HELD_SD = 1e-7;

/** Levels no surer than this say nothing, radians. */
const NO_LEVEL_RAD = 0.01;

/** What is being adjusted: poses and places of targets change in place. */
export interface Work {
  request: RegisterRequest;
  seen: readonly SeenTarget[];
  names: string[];
  scans: string[];
  poses: Pose[];
  places: Vector3[];
  /** The scan that keeps its pose, where nothing else says where the whole lies. */
  held?: number;
  /** The cloud that lies where it should, as the last of the scans. */
  fixedAt?: number;
  surfaces?: SurfaceTies;
}

/** Everything as it is to begin with. @throws nothing: scans without a start are not to be among those of the request. */
export function workOf(request: RegisterRequest, start: ReadonlyMap<string, Pose>, held: number | undefined): Work {
  const { fixed } = request;
  const { seen } = request;
  const names = [...new Set(seen.map((s) => s.target))];
  const poses = request.scans.map((s): Pose => {
    const { atM, rotation } = start.get(s)!;
    return { atM: [...atM], rotation: rotation.slice() };
  });
  const places = names.map((n): Vector3 => {
    const known = request.control.find((c) => c.name === n);
    if (known) return [...known.atM];
    const first = seen.find((s) => s.target === n)!;
    return placed(poses[request.scans.indexOf(first.scan)], first.atM);
  });
  const scans = [...request.scans];
  if (!fixed) return { request, seen, names, scans, poses, places, held };
  poses.push({ atM: [0, 0, 0], rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1) });
  return { request, seen, names, scans: [...scans, fixed.name], poses, places, held, fixedAt: scans.length };
}

/** A point of a scan in the frame. */
export const placed = ({ atM, rotation }: Pose, q: Vector3): Vector3 => {
  const v = apply3(rotation, q);
  return [atM[0] + v[0], atM[1] + v[1], atM[2] + v[2]];
};

/** Equations of one thing observed: derivatives by columns, misfits, and 1 SD of each of its rows. */
export interface Rows {
  /** What it is that may be left out. */
  of?: Pick<LeftOut, 'what' | 'scan' | 'target'>;
  a: Array<Map<number, number>>;
  misfit: number[];
  sd: number[];
}

/** Vertical of a place in the frame. */
function upAt(p: Vector3, radiusM: number | undefined): Vector3 {
  if (!radiusM) return [0, 0, 1];
  const length = Math.hypot(p[0], p[1], radiusM);
  return [p[0] / length, p[1] / length, radiusM / length];
}

/** Equations of targets, known marks, stations and levels. */
export function rowsOf({ request, seen, names, scans, poses, places, held: heldAt, fixedAt }: Work): Rows[] {
  const out: Rows[] = [];
  const targetAt = (n: string) => 6 * scans.length + 3 * names.indexOf(n);
  for (const s of seen) {
    const i = scans.indexOf(s.scan);
    const { atM, rotation: r } = poses[i];
    const p = places[names.indexOf(s.target)];
    const u = apply3(transpose3(r), [p[0] - atM[0], p[1] - atM[1], p[2] - atM[2]]);
    const [c, t] = [6 * i, targetAt(s.target)];
    // computed is Rᵀ·(p − c); a small turn ω of the scanner adds u × ω
    const turn = [
      [0, -u[2], u[1]],
      [u[2], 0, -u[0]],
      [-u[1], u[0], 0],
    ];
    out.push({
      of: { what: 'sighting', scan: s.scan, target: s.target },
      a: [0, 1, 2].map((k) => {
        const row = new Map<number, number>();
        for (let m = 0; m < 3; m++) {
          row.set(t + m, r[3 * m + k]);
          row.set(c + m, -r[3 * m + k]);
          row.set(c + 3 + m, turn[k][m]);
        }
        return row;
      }),
      misfit: u.map((v, k) => s.atM[k] - v),
      sd: [s.sdM, s.sdM, s.sdM],
    });
  }
  for (const known of request.control) {
    const at = names.indexOf(known.name);
    if (at < 0) continue;
    out.push({
      of: { what: 'control', target: known.name },
      a: [0, 1, 2].map((k) => new Map([[targetAt(known.name) + k, 1]])),
      misfit: known.atM.map((v, k) => v - places[at][k]),
      sd: [...known.sdM],
    });
  }
  scans.forEach((name, i) => {
    const { atM, rotation: r } = poses[i];
    if (fixedAt === i) {
      const six = [0, 1, 2, 3, 4, 5];
      out.push({ a: six.map((k) => new Map([[6 * i + k, 1]])), misfit: six.map(() => 0), sd: six.map(() => HELD_SD) });
      return;
    }
    const g = apply3(transpose3(r), upAt(atM, request.radiusM));
    // the vertical as the scanner sees it: g × ω
    out.push({
      a: [
        new Map([
          [6 * i + 4, -g[2]],
          [6 * i + 5, g[1]],
        ]),
        new Map([
          [6 * i + 3, g[2]],
          [6 * i + 5, -g[0]],
        ]),
      ],
      misfit: [-g[0], -g[1]],
      sd: [request.levelSdRad, request.levelSdRad],
    });
    const station = request.stations.find((s) => s.name === name && !s.rough);
    const held = heldAt === i;
    const of = station && { of: { what: 'station' as const, scan: name } };
    if (station || held)
      out.push({
        ...of,
        a: [0, 1, 2].map((k) => new Map([[6 * i + k, 1]])),
        misfit: station ? station.atM.map((v, k) => v - atM[k]) : [0, 0, 0],
        sd: station ? [...station.sdM] : [HELD_SD, HELD_SD, HELD_SD],
      });
    const bearing = station?.bearingRad ?? (held ? Math.atan2(r[1], r[4]) : undefined);
    if (bearing !== undefined) {
      const off = bearing - Math.atan2(r[1], r[4]);
      // a turn about the scanner's z counts against the bearing
      out.push({
        ...of,
        a: [new Map([[6 * i + 5, -1]])],
        misfit: [off - 2 * Math.PI * Math.round(off / (2 * Math.PI))],
        sd: [held ? HELD_SD : station!.sdBearingRad!],
      });
    }
    // where levels say nothing, its tilt is that of the whole
    if (held && request.levelSdRad > NO_LEVEL_RAD)
      out.push({
        a: [new Map([[6 * i + 3, 1]]), new Map([[6 * i + 4, 1]])],
        misfit: [0, 0],
        sd: [HELD_SD, HELD_SD],
      });
  });
  return out;
}
