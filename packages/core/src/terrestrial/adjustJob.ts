import { geodeticToEcef, type ReferenceSystem } from '../frames';
import {
  adjustNetwork,
  EARTH_RADIUS_M,
  REFRACTION,
  type Adjustment,
  type NetworkObservation,
  type NetworkPoint,
} from '../network';
import { tick, type Watch } from '../shared/progress';
import { Problem } from '../shared/problem';
import { approximate, type Approximate, type Place } from './approximate';
import { type Sighting } from './faces';
import { type JobPoint, type SetUp } from './job';
import { MORE, suspectsOf, type Suspect } from './suspects';

/** A mark that enters with its coordinates. */
export interface ControlPoint {
  name: string;
  eastingM: number;
  northingM: number;
  heightM: number;
  /** 1 SD east, north, height, metres. */
  sdM: readonly [number, number, number];
}

/** How good the instrument is, 1 SD. */
export interface InstrumentSd {
  /** Of one pointing in one face, direction and zenith angle alike. */
  angleRad: number;
  /** Of a distance: constant, and share of it. */
  distanceM: number;
  distanceShare: number;
  /** Of instrument and target over their marks, in plan and in height; without it found from the residuals. */
  placeM?: number;
}

/** A distance that was taped, or a height difference that was levelled, between two points of the job. */
export interface Measured {
  kind: 'distance' | 'height';
  from: string;
  to: string;
  valueM: number;
  sdM: number;
}

export interface JobRequest {
  setUps: readonly SetUp[];
  sightings: readonly Sighting[];
  rough: readonly JobPoint[];
  control: readonly ControlPoint[];
  measured?: readonly Measured[];
  instrument: InstrumentSd;
  system: ReferenceSystem;
  refraction?: number;
}

/** What was left out because the others contradict it. */
export interface Rejected extends Suspect {
  /** Other errors that would explain as much: observations do not tell which. */
  instead: Suspect[];
}

export interface AdjustedJob {
  adjustment: Adjustment;
  /** Sighting of each observation; none of what was measured otherwise. */
  sightingOf: Array<number | undefined>;
  /** Worst first: in the order in which they were left out. */
  rejected: Rejected[];
  /** 1 SD of instrument and target over their marks that was used, metres; and whether it was found. */
  placeM: number;
  placeFound: boolean;
  approximate: Approximate;
  control: string[];
  /** Set-ups and targets that could not be used. */
  unplaced: { setUps: string[]; points: string[] };
}

/** Least deviation of what is measured, so that no weight is without bounds. */
const LEAST_RAD = 1e-8;
const LEAST_M = 1e-5;
/** Places over marks that are tried for the likeliest, metres. */
const TRIED_M = [0, 0.0005, 0.001, 0.002, 0.004];
/** Deviation of a coordinate that is not held, metres. */
const FREE_M = 100;
/**
 * Left out is what exceeds the limit of one test by this: some hundred are made at once, and what is good shall stay.
 */
const REJECT = 1.8;
/** Beyond this an error is gross; so many that may be it are tried. */
const GROSS = 20;
const MOST_TRIED = 8;
/** Errors that explain as much but for this may as well be it. */
const AS_WELL = 4;
/** How well instruments and targets usually stand, metres. */
export const USUAL_M = 0.0015;
/** At most this share of all sightings is left out. */
const MOST_OUT = 0.25;

/**
 * Adjusts a total-station job by least squares in Earth-centred space; leaves out, one after the other, the error that
 * explains most of what contradicts, as long as there is one, and takes back what fits once others are gone.
 * @throws Problem when no control is sighted or nothing hangs together.
 */
export function adjustJob(request: JobRequest, watch?: Watch): AdjustedJob {
  const { setUps, sightings, control, instrument } = request;
  const begun = begin(request);
  const rejected: Rejected[] = [];
  /** With the likeliest places over marks, unless they are given; while gross errors are in, with usual ones. */
  const solveWith = (out: readonly Rejected[], gross = false) => {
    const placeM = instrument.placeM ?? (gross ? USUAL_M : likeliest(begun, request, out));
    return { placeM, ...solve(begun, request, out, placeM) };
  };
  const suspects = (s: Solution, out: readonly Rejected[]) =>
    suspectsOf(s.adjustment, s.observations, s.sightingOf, request, out).filter((one) => one.test > REJECT);
  const most = Math.max(2, Math.floor(MOST_OUT * sightings.length));
  let solved = solveWith(rejected, true);
  let gross = true;
  while (rejected.length < most) {
    tick(watch, 0.1 + (0.8 * rejected.length) / most, 'Looking for what contradicts');
    const found = suspects(solved, rejected);
    if (gross && !(found[0]?.test > GROSS)) {
      gross = false;
      solved = solveWith(rejected);
      continue;
    }
    const tried = found.slice(0, gross ? MOST_TRIED : 2).flatMap((one) => {
      const without = withoutIt(() => solveWith([...rejected, { ...one, instead: [] }], gross));
      return without ? [{ one, without }] : [];
    });
    if (!tried.length) break;
    // equations that are far from straight mislead: of gross errors that one is taken without which least is left
    const left = ({ one, without: { adjustment: a } }: (typeof tried)[number]) =>
      a.varianceFactor * a.freedom + MORE[one.parts];
    const next = gross ? tried.reduce((x, y) => (left(y) < left(x) ? y : x)) : tried[0];
    const instead = gross
      ? tried.filter((t) => t !== next && left(t) < left(next) + AS_WELL).map((t) => t.one)
      : found.filter((one) => one !== next.one && one.explains > next.one.explains - AS_WELL);
    rejected.push({ ...next.one, instead: instead.filter((one) => !isPartOf(one, next.one)) });
    solved = next.without;
  }
  if (gross) solved = solveWith(rejected);
  for (const one of rejected.slice(0, -1)) {
    const others = rejected.filter((r) => r !== one);
    const back = withoutIt(() => solveWith(others));
    if (!back || suspects(back, others).length) continue;
    rejected.splice(rejected.indexOf(one), 1);
    solved = back;
  }
  const { placeM } = solved;
  return {
    adjustment: solved.adjustment,
    sightingOf: solved.sightingOf,
    rejected,
    placeM,
    placeFound: instrument.placeM === undefined,
    approximate: begun.approximate,
    control: control.filter((c) => begun.names.has(c.name)).map((c) => c.name),
    unplaced: {
      setUps: setUps.filter((s) => !begun.usable.has(s.id)).map((s) => s.id),
      points: begun.approximate.missingPoints,
    },
  };
}

/** Whether both are errors of one sighting. */
const isPartOf = (a: Suspect, b: Suspect) => a.sighting !== undefined && a.sighting === b.sighting;

/** What is found without something; undefined where nothing holds the network together then. */
function withoutIt<T>(find: () => T): T | undefined {
  try {
    return find();
  } catch (error) {
    if (error instanceof Problem && error.code === 'network-loose') return undefined;
    throw error;
  }
}

interface Begun {
  approximate: Approximate;
  points: NetworkPoint[];
  /** Names of points that take part, and set-ups. */
  names: Set<string>;
  usable: Set<string>;
}

function begin({ setUps, sightings, rough, control, system }: JobRequest): Begun {
  const named = new Set([...setUps.map((s) => s.station), ...sightings.map((s) => s.target)]);
  const used = control.filter((c) => named.has(c.name));
  if (!used.length)
    throw new Problem('No mark with known coordinates is sighted or occupied.', {
      code: 'terrestrial-control',
      place: [...named].slice(0, 12).join(', '),
      remedy: 'Choose the list of marks that the job was tied to; names in both must agree.',
    });
  const known = new Map(used.map((c): [string, Place] => [c.name, [c.eastingM, c.northingM, c.heightM]]));
  const middle = used[0];
  const geo = new Float64Array(3);
  system.unproject(middle.eastingM, middle.northingM, middle.heightM, geo);
  const scale = gridFactor(system, geo);
  const near = approximate(setUps, sightings, known, rough, scale);
  if (near.missingSetUps.length === setUps.length)
    throw new Problem('No set-up could be brought to the known marks.', {
      code: 'terrestrial-loose',
      place: near.missingSetUps.slice(0, 12).join(', '),
      remedy: 'One set-up must stand on a known mark and sight another, or sight two known marks with distances.',
    });
  const held = new Map(used.map((c) => [c.name, c]));
  const usable = new Set(setUps.filter((s) => near.places.has(s.station)).map((s) => s.id));
  const points: NetworkPoint[] = [];
  const names = new Set<string>();
  for (const name of named) {
    const place = near.places.get(name);
    if (!place || place.some(Number.isNaN)) continue;
    const c = held.get(name);
    const own = new Float64Array(3);
    system.unproject(place[0], place[1], place[2], own);
    const xyz = geodeticToEcef(system.ellipsoid, own[0], own[1], own[2]);
    points.push(c ? { name, heldM: xyz, heldSdM: [c.sdM[1], c.sdM[0], c.sdM[2]] } : { name, aboutM: xyz });
    names.add(name);
  }
  return { approximate: near, points, names, usable };
}

/** Grid lengths over lengths at the instrument: point scale, and the height above the ellipsoid. */
export function gridFactor(system: ReferenceSystem, geo: ArrayLike<number>): number {
  const { scale } = system.convergenceAndScale(geo[0], geo[1]);
  return (scale * EARTH_RADIUS_M) / (EARTH_RADIUS_M + geo[2]);
}

interface Solution {
  adjustment: Adjustment;
  observations: NetworkObservation[];
  sightingOf: Array<number | undefined>;
}

function solve(begun: Begun, request: JobRequest, rejected: readonly Rejected[], placeM: number): Solution {
  const { observations, sightingOf } = observationsOf(begun, request, rejected, placeM);
  // points that nothing is left of have no place
  const touched = new Set(observations.flatMap((o) => [o.from, o.to]));
  const points = begun.points.filter((p) => touched.has(p.name)).map((p) => released(p, rejected));
  const adjustment = adjustNetwork(points, observations, {
    setUpSd: { planM: placeM, heightM: placeM },
    looseHeights: rejected.flatMap((r) => (r.what === 'instrument height' ? [r.setUp!] : [])),
    refraction: request.refraction ?? REFRACTION,
  });
  return { adjustment, observations, sightingOf };
}

/** A known mark without what was rejected of it. */
function released(p: NetworkPoint, rejected: readonly Rejected[]): NetworkPoint {
  if (!p.heldSdM) return p;
  const out = (what: Rejected['what']) => rejected.some((r) => r.what === what && r.target === p.name);
  const [n, e, d] = p.heldSdM;
  const plan = out('control plan');
  return { ...p, heldSdM: [plan ? FREE_M : n, plan ? FREE_M : e, out('control height') ? FREE_M : d] };
}

/** Whether a rejection concerns an observation of this kind. */
function leavesOut(r: Rejected, sighting: number, kind: NetworkObservation['kind']): boolean {
  if (r.sighting !== sighting) return false;
  if (r.what === 'sighting') return true;
  if (r.what === 'target height') return kind === 'zenith';
  return r.what === kind;
}

function observationsOf(
  { names, usable }: Begun,
  { setUps, sightings, instrument, measured }: JobRequest,
  rejected: readonly Rejected[],
  placeM: number,
): { observations: NetworkObservation[]; sightingOf: Array<number | undefined> } {
  const observations: NetworkObservation[] = [];
  const sightingOf: Array<number | undefined> = [];
  const stations = new Map(setUps.map((s) => [s.id, s]));
  // points that distances or several rays tell
  const reached = new Map<string, number>();
  for (const s of sightings) if (s.slopeM !== undefined) reached.set(s.target, 1);
  sightings.forEach((s, k) => {
    const setUp = stations.get(s.setUp)!;
    if (!usable.has(s.setUp) || !names.has(setUp.station) || !names.has(s.target) || setUp.station === s.target) return;
    const sight = { setUp: s.setUp, fromHeightM: setUp.instrumentHeightM, toHeightM: s.targetHeightM };
    const slope = s.slopeM ?? 50;
    const sin = Math.sin(s.zenithRad ?? Math.PI / 2);
    const own = { from: setUp.station, to: s.target, sight };
    const put = (o: NetworkObservation) => {
      if (rejected.some((r) => leavesOut(r, k, o.kind))) return;
      observations.push(o);
      sightingOf.push(k);
    };
    const across = placeM / (slope * sin);
    const sd = (n: number, more: number) => Math.max(LEAST_RAD, Math.hypot(instrument.angleRad / Math.sqrt(n), more));
    if (s.directionRad !== undefined)
      put({ kind: 'direction', valueRad: s.directionRad, sdRad: sd(s.directions, across), ...own });
    if (s.zenithRad !== undefined)
      put({ kind: 'zenith', valueRad: s.zenithRad, sdRad: sd(s.zeniths, placeM / slope), ...own });
    if (s.slopeM !== undefined) {
      const one = Math.hypot(instrument.distanceM, instrument.distanceShare * s.slopeM);
      put({
        kind: 'distance',
        valueM: s.slopeM,
        sdM: Math.max(LEAST_M, Math.hypot(one / Math.sqrt(s.slopes), placeM)),
        ...own,
      });
    }
  });
  for (const [k, m] of (measured ?? []).entries()) {
    if (!names.has(m.from) || !names.has(m.to) || rejected.some((r) => r.measured === k)) continue;
    observations.push({ ...m });
    sightingOf.push(undefined);
  }
  return { observations, sightingOf };
}

/** How well instruments and targets stood over their marks, as the residuals make likeliest. */
function likeliest(begun: Begun, request: JobRequest, rejected: readonly Rejected[]): number {
  const of = (m: number) => solve(begun, request, rejected, m).adjustment.likelihood;
  const values = TRIED_M.map(of);
  const k = values.indexOf(Math.max(...values));
  let [low, high] = [TRIED_M[Math.max(0, k - 1)], TRIED_M[Math.min(TRIED_M.length - 1, k + 1)]];
  // golden section
  const g = (Math.sqrt(5) - 1) / 2;
  let [a, b] = [high - g * (high - low), low + g * (high - low)];
  let [fa, fb] = [of(a), of(b)];
  for (let round = 0; round < 4; round++) {
    if (fa > fb) [high, b, fb, a] = [b, a, fa, b - g * (b - low)];
    else [low, a, fa, b] = [a, b, fb, a + g * (high - a)];
    if (fa === fb) break;
    fa = of(a);
    fb = of(b);
  }
  const best = (low + high) / 2;
  return of(best) > values[0] ? best : TRIED_M[0];
}
