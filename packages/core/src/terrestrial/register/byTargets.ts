import { Cholesky } from '../../numeric/cholesky';
import { apply3, multiply3, transpose3, type Vector3 } from '../../numeric/matrix3';
import { symmetricEigen } from '../../numeric/eigen';
import { turnOf } from '../../numeric/turn';
import { Problem } from '../../shared/problem';
import { tick, type Watch } from '../../shared/progress';
import {
  type LeftOut,
  type PairResidual,
  type PlacedScan,
  type Pose,
  type Registered,
  type RegisterRequest,
  type SeenTarget,
} from './model';
import { startPoses } from './start';

const MOST_ROUNDS = 20;
const SETTLED = 1e-9;
/** A sighting is left out beyond so many deviations of its residual: with hundreds of them what is good stays. */
const REJECT = 4.2;
const MOST_OUT = 0.3;
/** Stations nearer to each other than this are one place. */
const SAME_PLACE_M = 0.1;
/** How well a scan that gives the frame keeps its place. */
const HELD_SD = 1e-7;

interface Work {
  request: RegisterRequest;
  seen: readonly SeenTarget[];
  names: string[];
  scans: string[];
  poses: Pose[];
  places: Vector3[];
  loose: boolean;
}

/**
 * Places scans by the targets that they share, known marks, stations and their levels in one adjustment (Horn 1987 for what
 * a pose is; least squares of all residuals in the scanners' frames). Sightings that contradict are left out, worst first.
 * @throws Problem for scans that nothing joins to the others.
 */
export function registerByTargets(request: RegisterRequest, watch?: Watch): Registered {
  const loose = !request.control.length && !request.stations.length;
  const start = startPoses(request, loose);
  const apart = request.scans.filter((s) => !start.has(s));
  if (apart.length)
    throw new Problem(`Nothing joins ${apart.join(', ')} to the other scans: it takes two common targets.`, {
      code: 'register-apart',
      place: apart.join(', '),
      remedy: 'Pick more targets in them, or give station and bearing.',
    });
  let used: RegisterRequest = request;
  const rejected: LeftOut[] = [];
  const most = Math.max(1, Math.floor(MOST_OUT * (request.seen.length + request.control.length)));
  for (;;) {
    tick(watch, rejected.length / most, 'Placing scans by targets');
    const solved = solve(workOf(used, start, loose));
    const [worst] = solved.tests.filter((t) => t.test > REJECT).sort((a, b) => b.test - a.test);
    if (!worst || rejected.length >= most)
      return { ...solved.result, rejected: rejected.map((r) => ({ ...r, ...offOf(request, solved.result, r) })) };
    rejected.push(worst);
    used = {
      ...used,
      seen: used.seen.filter((s) => worst.what !== 'sighting' || s.scan !== worst.scan || s.target !== worst.target),
      control: used.control.filter((c) => worst.what !== 'control' || c.name !== worst.target),
      stations: used.stations.filter((s) => worst.what !== 'station' || s.name !== worst.scan),
    };
  }
}

/** How far off what was left out is by all that was kept; NaN where nothing kept tells. */
function offOf(
  request: RegisterRequest,
  { scans, targets }: Omit<Registered, 'rejected'>,
  r: LeftOut,
): Pick<LeftOut, 'offM' | 'standsAt'> {
  const apart = (a: Vector3, b: Vector3) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  if (r.what === 'station') {
    const given = request.stations.find((s) => s.name === r.scan)!;
    const near = scans.find((s) => s.name !== r.scan && apart(s.atM, given.atM) < SAME_PLACE_M);
    return {
      offM: apart(given.atM, scans.find((s) => s.name === r.scan)!.atM),
      ...(near ? { standsAt: near.name } : {}),
    };
  }
  const found = targets.find((t) => t.name === r.target);
  if (!found) return { offM: Number.NaN };
  const given =
    r.what === 'control'
      ? request.control.find((c) => c.name === r.target)!.atM
      : placed(
          scans.find((s) => s.name === r.scan)!,
          request.seen.find((s) => s.scan === r.scan && s.target === r.target)!.atM,
        );
  return { offM: apart(given, found.atM) };
}

function workOf(request: RegisterRequest, start: ReturnType<typeof startPoses>, loose: boolean): Work {
  const { seen } = request;
  const names = [...new Set(seen.map((s) => s.target))];
  const poses = request.scans.map((s): Pose => {
    const { atM, bearingRad } = start.get(s)!;
    const [sin, cos] = [Math.sin(bearingRad), Math.cos(bearingRad)];
    return { atM: [...atM], rotation: Float64Array.of(cos, sin, 0, -sin, cos, 0, 0, 0, 1) };
  });
  const places = names.map((n): Vector3 => {
    const known = request.control.find((c) => c.name === n);
    if (known) return [...known.atM];
    const first = seen.find((s) => s.target === n)!;
    return placed(poses[request.scans.indexOf(first.scan)], first.atM);
  });
  return { request, seen, names, scans: [...request.scans], poses, places, loose };
}

const placed = ({ atM, rotation }: Pose, q: Vector3): Vector3 => {
  const v = apply3(rotation, q);
  return [atM[0] + v[0], atM[1] + v[1], atM[2] + v[2]];
};

/** Equations of one thing observed: derivatives by columns, misfits, and 1 SD of each of its rows. */
interface Rows {
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

function rowsOf({ request, seen, names, scans, poses, places, loose }: Work): Rows[] {
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
    const station = request.stations.find((s) => s.name === name);
    const held = loose && i === 0;
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
  });
  return out;
}

function solve(work: Work): {
  result: Omit<Registered, 'rejected'>;
  tests: LeftOut[];
} {
  const { names, scans, poses, places } = work;
  const n = 6 * scans.length + 3 * names.length;
  let rows: Rows[] = [];
  let factor: Cholesky | undefined;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    rows = rowsOf(work);
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    for (const { a, misfit, sd } of rows)
      a.forEach((row, k) => {
        const w = 1 / sd[k] ** 2;
        for (const [i, v] of row) {
          right[i] += w * v * misfit[k];
          for (const [j, u] of row) normal[i * n + j] += w * v * u;
        }
      });
    factor = Cholesky.of(normal, n);
    if (!factor)
      throw new Problem('The targets do not tell where the scans lie.', {
        code: 'register-loose',
        place: scans.join(', '),
        remedy: 'It takes two known targets, or a station with its bearing, and two common targets from scan to scan.',
      });
    const x = factor.solve(right);
    let largest = 0;
    poses.forEach((p, i) => {
      for (let k = 0; k < 3; k++) p.atM[k] += x[6 * i + k];
      p.rotation = multiply3(p.rotation, turnOf(x[6 * i + 3], x[6 * i + 4], x[6 * i + 5]));
      for (let k = 0; k < 6; k++) largest = Math.max(largest, Math.abs(x[6 * i + k]));
    });
    places.forEach((p, t) => {
      for (let k = 0; k < 3; k++) p[k] += x[6 * scans.length + 3 * t + k];
    });
    if (largest < SETTLED) break;
  }
  return resultOf(work, rowsOf(work), factor!.inverse(), n);
}

function resultOf(work: Work, rows: Rows[], inverse: Float64Array, n: number): ReturnType<typeof solve> {
  const { request, names, scans, poses, places, loose } = work;
  let [squares, count] = [0, 0];
  const tests: ReturnType<typeof solve>['tests'] = [];
  const residuals: Registered['residuals'] = [];
  for (const { of: what, a, misfit, sd } of rows) {
    let test = Number.NaN;
    a.forEach((row, k) => {
      squares += (misfit[k] / sd[k]) ** 2;
      count++;
      let taken = 0;
      for (const [i, v] of row) for (const [j, u] of row) taken += v * u * inverse[i * n + j];
      const left = sd[k] ** 2 - taken;
      if (left > 1e-3 * sd[k] ** 2)
        test = Math.max(Number.isNaN(test) ? 0 : test, Math.abs(misfit[k]) / Math.sqrt(left));
    });
    if (!what) continue;
    tests.push({ ...what, offM: Math.hypot(...misfit), test });
    if (what.what !== 'sighting') continue;
    const [scan, target] = [what.scan!, what.target!];
    const off = apply3(poses[scans.indexOf(scan)].rotation, [-misfit[0], -misfit[1], -misfit[2]]);
    residuals.push({ scan, target, offM: off, test });
  }
  const redundancy = count - n;
  const sigma0 = redundancy > 0 ? Math.sqrt(squares / redundancy) : Number.NaN;
  const scale = sigma0 > 1 ? sigma0 : 1;
  const of = (i: number, j: number) => scale ** 2 * inverse[i * n + j];
  return {
    tests,
    result: {
      scans: scans.map((name, i): PlacedScan => {
        const covariance = new Float64Array(36);
        for (let r = 0; r < 6; r++) for (let c = 0; c < 6; c++) covariance[6 * r + c] = of(6 * i + r, 6 * i + c);
        return {
          name,
          ...poses[i],
          covariance,
          targets: work.seen.filter((s) => s.scan === name).length,
          weakest: weakestOf(covariance),
        };
      }),
      targets: names.map((name, t) => {
        const at = 6 * scans.length + 3 * t;
        return {
          name,
          atM: places[t],
          sdM: [0, 1, 2].map((k) => Math.sqrt(of(at + k, at + k))) as Vector3,
          scans: work.seen.filter((s) => s.target === name).length,
          control: request.control.some((c) => c.name === name),
        };
      }),
      residuals,
      pairs: pairsOf(work),
      sigma0,
      redundancy,
      loose,
    },
  };
}

function weakestOf(covariance: Float64Array): PlacedScan['weakest'] {
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

/** How scans agree at the targets that both see, without what others say of them. */
function pairsOf({ seen, scans, poses }: Work): PairResidual[] {
  const out: PairResidual[] = [];
  scans.forEach((a, i) =>
    scans.slice(i + 1).forEach((b, k) => {
      const [p, q] = [poses[i], poses[i + 1 + k]];
      const offs = seen.flatMap((s) => {
        const other = s.scan === a ? seen.find((o) => o.scan === b && o.target === s.target) : undefined;
        if (!other) return [];
        const [u, v] = [placed(p, s.atM), placed(q, other.atM)];
        return [Math.hypot(u[0] - v[0], u[1] - v[1], u[2] - v[2])];
      });
      if (offs.length)
        out.push({ a, b, targets: offs.length, rmsM: Math.sqrt(offs.reduce((s, v) => s + v * v, 0) / offs.length) });
    }),
  );
  return out.sort((x, y) => y.rmsM - x.rmsM);
}
