import { type ReferenceSystem } from '../frames';
import { EARTH_RADIUS_M, REFRACTION } from '../network';
import { type ControlPoint, gridFactor, USUAL_M, type InstrumentSd } from './adjustJob';
import { type Place } from './approximate';
import { type Sighting } from './faces';
import { type SetUp } from './job';

/** A traverse as it was observed, before anything is adjusted. */
export interface Traverse {
  /** Stations in the order of the set-ups; that at which it closes comes last. */
  stations: string[];
  setUps: string[];
  /** Between known points, back to its own beginning, or neither. */
  kind: 'between known points' | 'closed' | 'open';
  lengthM: number;
  /** What is left over of the bearing, radians; none without a known bearing at its end. */
  angleRad?: number;
  sdAngleRad?: number;
  /** East, north, height left over, metres, after the bearings were balanced where they could be. */
  planM?: [number, number];
  heightM?: number;
  /** 1 SD of what may be left over by what the instrument states: along the worst direction in plan, and in height. */
  sdPlanM: number;
  sdHeightM: number;
  /** Lengths and levels seen from both ends: largest difference, metres; none: no leg was. */
  bothWaysM?: { length: number; height: number };
}

const wrapped = (rad: number) => rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI));

interface Leg {
  from: SetUp;
  to: SetUp | undefined;
  toName: string;
  /** Sighted forward, and back from the other end. */
  out?: Sighting;
  back?: Sighting;
}

/**
 * The traverses of a job: set-ups that follow each other and sight each other. Bearings are carried from a known one, the
 * angular misclosure shared equally, lengths brought to the grid once, levels corrected for curvature and refraction
 * (Kahmen & Faig 1988, 9.3).
 */
export function traversesOf(
  setUps: readonly SetUp[],
  sightings: readonly Sighting[],
  control: readonly ControlPoint[],
  instrument: InstrumentSd,
  system: ReferenceSystem,
  refraction = REFRACTION,
): Traverse[] {
  const known = new Map(control.map((c): [string, Place] => [c.name, [c.eastingM, c.northingM, c.heightM]]));
  const see = (setUp: SetUp, target: string) =>
    sightings.find((s) => s.setUp === setUp.id && s.target === target && s.directionRad !== undefined);
  const runs: SetUp[][] = [];
  for (const s of setUps) {
    const last = runs[runs.length - 1]?.at(-1);
    const joined = last && last.station !== s.station && see(last, s.station) && see(s, last.station);
    if (joined) runs[runs.length - 1].push(s);
    else runs.push([s]);
  }
  return runs.flatMap((run) => {
    const made = run.length > 1 ? walk(run, see, known, instrument, system, refraction) : undefined;
    return made ? [made] : [];
  });
}

function walk(
  run: SetUp[],
  see: (setUp: SetUp, target: string) => Sighting | undefined,
  known: ReadonlyMap<string, Place>,
  instrument: InstrumentSd,
  system: ReferenceSystem,
  refraction: number,
): Traverse | undefined {
  const legs: Leg[] = run.slice(0, -1).map((from, k) => ({
    from,
    to: run[k + 1],
    toName: run[k + 1].station,
    out: see(from, run[k + 1].station),
    back: see(run[k + 1], from.station),
  }));
  const [first, last] = [run[0], run[run.length - 1]];
  // the last set-up leads on to a known point, or back to the first
  const onward = sightedFrom(last, run, see, known);
  if (onward)
    legs.push({
      from: last,
      to: onward === first.station ? first : undefined,
      toName: onward,
      out: see(last, onward),
      back: onward === first.station ? see(first, last.station) : undefined,
    });
  if (legs.some((l) => flatOf(l) === undefined)) return undefined;
  const start = known.get(first.station);
  const lengths = legs.map((l) => flatOf(l)!);
  const lengthM = lengths.reduce((s, v) => s + v, 0);
  const closed = onward === first.station || last.station === first.station;
  const zero = bearingZero(first, legs[0].toName, see, known);
  // bearings of all legs, from a known one or from nothing
  const zeros = [zero ?? 0];
  legs.slice(0, run.length - 1).forEach((l, k) => {
    const bearing = zeros[k] + l.out!.directionRad!;
    zeros.push(bearing + Math.PI - l.back!.directionRad!);
  });
  const end = endZero(run, legs, zeros, see, known, closed, zero !== undefined);
  const angleRad = end === undefined ? undefined : wrapped(zeros[run.length - 1] - end);
  const sdAngleRad = instrument.angleRad * Math.sqrt(run.length);
  const share = angleRad === undefined ? 0 : angleRad / Math.max(1, run.length - 1);
  const factorAt = (p: Place | undefined) => {
    if (!p) return 1;
    const geo = new Float64Array(3);
    system.unproject(p[0], p[1], p[2], geo);
    return gridFactor(system, geo);
  };
  const factor = factorAt(start ?? [...known.values()][0]);
  const at: Place = start ? [start[0], start[1], start[2]] : [0, 0, 0];
  let [square, squareHeight] = [0, 0];
  legs.forEach((l, k) => {
    const bearing = zeros[k] - share * Math.min(k, run.length - 1) + l.out!.directionRad!;
    const flat = factor * lengths[k];
    at[0] += flat * Math.sin(bearing);
    at[1] += flat * Math.cos(bearing);
    at[2] += riseOf(l, refraction);
    // an error of a bearing swings all that follows
    const rest = lengths.slice(k).reduce((s, v) => s + v, 0);
    square += instrument.distanceM ** 2 + (instrument.distanceShare * flat) ** 2 + (instrument.angleRad * rest) ** 2;
    squareHeight += (instrument.angleRad * flat) ** 2 / (l.back ? 2 : 1);
  });
  const place = instrument.placeM ?? USUAL_M;
  const goal = closed ? (start ?? ([0, 0, 0] as Place)) : known.get(legs[legs.length - 1].toName);
  const bothKnown = closed || (start && zero !== undefined && goal);
  const both = legs.filter((l) => l.out && l.back);
  return {
    stations: [first.station, ...legs.map((l) => l.toName)],
    setUps: run.map((s) => s.id),
    kind: closed ? 'closed' : bothKnown ? 'between known points' : 'open',
    lengthM,
    angleRad,
    sdAngleRad:
      angleRad === undefined
        ? undefined
        : Math.hypot(sdAngleRad, (place / (lengthM / legs.length)) * Math.sqrt(2 * run.length)),
    planM: bothKnown && goal ? [at[0] - goal[0], at[1] - goal[1]] : undefined,
    heightM: (closed || start) && goal ? at[2] - goal[2] : undefined,
    sdPlanM: Math.sqrt(square + 2 * legs.length * place ** 2),
    sdHeightM: Math.sqrt(squareHeight + 2 * legs.length * place ** 2),
    bothWaysM: both.length
      ? {
          length: Math.max(...both.map((l) => Math.abs(levelled(l.out!) - levelled(l.back!)))),
          height: Math.max(...both.map((l) => Math.abs(rise(l.out!, l.from, refraction) + riseBack(l, refraction)))),
        }
      : undefined,
  };
}

/** What the last set-up sights that lies beyond it: the first station, or a known point that is none of the run. */
function sightedFrom(
  last: SetUp,
  run: SetUp[],
  see: (setUp: SetUp, target: string) => Sighting | undefined,
  known: ReadonlyMap<string, Place>,
): string | undefined {
  if (last.station === run[0].station || known.has(last.station)) return undefined;
  if (run.length > 2 && see(last, run[0].station)?.slopeM !== undefined) return run[0].station;
  for (const name of known.keys())
    if (!run.some((s) => s.station === name) && see(last, name)?.slopeM !== undefined) return name;
  return undefined;
}

/** Bearing of the zero of a set-up's circle by the known points it sights; but for the next station. */
function bearingZero(
  setUp: SetUp,
  next: string | undefined,
  see: (setUp: SetUp, target: string) => Sighting | undefined,
  known: ReadonlyMap<string, Place>,
): number | undefined {
  const own = known.get(setUp.station);
  if (!own) return undefined;
  const all: number[] = [];
  const names = [...known.keys()].filter((n) => n !== setUp.station && see(setUp, n));
  const others = names.filter((n) => n !== next);
  for (const name of others.length ? others : names) {
    const there = known.get(name)!;
    all.push(Math.atan2(there[0] - own[0], there[1] - own[1]) - see(setUp, name)!.directionRad!);
  }
  if (!all.length) return undefined;
  return all[0] + all.reduce((s, v) => s + wrapped(v - all[0]), 0) / all.length;
}

/** The zero of the last circle as known apart from the traverse. */
function endZero(
  run: SetUp[],
  legs: Leg[],
  zeros: number[],
  see: (setUp: SetUp, target: string) => Sighting | undefined,
  known: ReadonlyMap<string, Place>,
  closed: boolean,
  begun: boolean,
): number | undefined {
  const [first, last] = [run[0], run[run.length - 1]];
  if (last.station === first.station) {
    // the same points sighted at the beginning and at the end
    const again = bearingZero(last, run[run.length - 2].station, see, known);
    return again ?? undefined;
  }
  const closing = legs[legs.length - 1];
  if (closed && closing.back) return zeros[0] + closing.back.directionRad! + Math.PI - closing.out!.directionRad!;
  return begun ? bearingZero(last, run[run.length - 2].station, see, known) : undefined;
}

/** Level length of a sighting, at the instrument. */
const levelled = (s: Sighting) => s.slopeM! * Math.sin(s.zenithRad ?? Math.PI / 2);

function flatOf({ out, back }: Leg): number | undefined {
  const all = [out, back].flatMap((s) => (s?.slopeM === undefined ? [] : [levelled(s)]));
  return out && all.length ? all.reduce((s, v) => s + v, 0) / all.length : undefined;
}

/** Height of the target's mark over that of the station, by one sighting. */
function rise(s: Sighting, setUp: SetUp, refraction: number): number {
  const zenith = s.zenithRad ?? Math.PI / 2;
  const flat = s.slopeM! * Math.sin(zenith);
  const bent = ((1 - refraction) * flat ** 2) / (2 * EARTH_RADIUS_M);
  return s.slopeM! * Math.cos(zenith) + bent + setUp.instrumentHeightM - s.targetHeightM;
}

const riseBack = ({ to, from, back }: Leg, refraction: number) => rise(back!, to ?? from, refraction);

/** Seen from both ends its mean is free of what bends the ray. */
function riseOf(l: Leg, refraction: number): number {
  const all: number[] = [];
  if (l.out?.slopeM !== undefined) all.push(rise(l.out, l.from, refraction));
  if (l.to && l.back?.slopeM !== undefined) all.push(-riseBack(l, refraction));
  return all.reduce((s, v) => s + v, 0) / all.length;
}
