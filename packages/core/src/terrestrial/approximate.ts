import { type Sighting } from './faces';
import { type JobPoint, type SetUp } from './job';

/** Easting, northing, height, metres. */
export type Place = [number, number, number];

/** A target as a set-up sees it: across and along its circle's zero, and up from the station's mark, metres. */
interface Seen {
  target: string;
  x: number;
  y: number;
  up: number;
}

export interface Approximate {
  places: Map<string, Place>;
  /** Set-ups and points that nothing brought near. */
  missingSetUps: string[];
  missingPoints: string[];
  /** Points whose rough coordinates of the job were needed. */
  byJob: string[];
}

/** Known places and what a set-up sees of them agree within this, metres, and a share of the distance. */
const AGREES_M = 0.15;
const AGREES_SHARE = 1e-3;

/**
 * Places of all points near enough to begin an adjustment with, carried from set-up to set-up by polar coordinates: that one
 * first in which most known points agree with each other. What cannot be reached so begins at its rough coordinates.
 * @param known points with coordinates in the grid. @param scale grid lengths over lengths at the instruments.
 */
export function approximate(
  setUps: readonly SetUp[],
  sightings: readonly Sighting[],
  known: ReadonlyMap<string, Place>,
  rough: readonly JobPoint[],
  scale: number,
): Approximate {
  const places = new Map(known);
  const seen = new Map(setUps.map((s) => [s.id, seenFrom(s, sightings, scale)]));
  const open = new Set(setUps);
  grow(open, seen, places);
  growApart(open, seen, places);
  const byJob: string[] = [];
  const targets = new Set(sightings.map((s) => s.target));
  if (open.size)
    for (const p of rough) {
      const wanted = targets.has(p.name) || setUps.some((s) => s.station === p.name);
      if (!wanted || places.has(p.name)) continue;
      places.set(p.name, [p.eastingM, p.northingM, p.heightM ?? Number.NaN]);
      byJob.push(p.name);
    }
  if (byJob.length) {
    grow(open, seen, places);
    growApart(open, seen, places);
  }
  const names = new Set([...targets, ...setUps.map((s) => s.station)]);
  return {
    places,
    missingSetUps: [...open].map((s) => s.id),
    missingPoints: [...names].filter((n) => !places.has(n)),
    byJob,
  };
}

function seenFrom(setUp: SetUp, sightings: readonly Sighting[], scale: number): Seen[] {
  return sightings.flatMap((s) => {
    if (s.setUp !== setUp.id || s.directionRad === undefined || s.slopeM === undefined) return [];
    const zenith = s.zenithRad ?? Math.PI / 2;
    const flat = scale * s.slopeM * Math.sin(zenith);
    return [
      {
        target: s.target,
        x: flat * Math.sin(s.directionRad),
        y: flat * Math.cos(s.directionRad),
        up: s.slopeM * Math.cos(zenith) + setUp.instrumentHeightM - s.targetHeightM,
      },
    ];
  });
}

interface Fit {
  /** Turn from the circle to the grid, and where the station lies. */
  turnRad: number;
  at: Place;
  agreeing: number;
}

function grow(open: Set<SetUp>, seen: ReadonlyMap<string, Seen[]>, places: Map<string, Place>): void {
  for (;;) {
    let best: { setUp: SetUp; fit: Fit } | undefined;
    for (const setUp of open) {
      const fit = fitOf(setUp, seen.get(setUp.id)!, places);
      if (fit && (!best || fit.agreeing > best.fit.agreeing)) best = { setUp, fit };
    }
    if (!best) return;
    const { setUp, fit } = best;
    open.delete(setUp);
    put(places, setUp.station, fit.at);
    spread(seen.get(setUp.id)!, fit, places);
  }
}

function put(places: Map<string, Place>, name: string, place: Place): void {
  const there = places.get(name);
  if (!there) places.set(name, place);
  else if (Number.isNaN(there[2])) there[2] = place[2];
}

/** Places of all that a fit brings to the grid. */
function spread(seen: readonly Seen[], { turnRad, at }: Fit, places: Map<string, Place>): void {
  const [sin, cos] = [Math.sin(turnRad), Math.cos(turnRad)];
  for (const s of seen)
    put(places, s.target, [at[0] + cos * s.x + sin * s.y, at[1] - sin * s.x + cos * s.y, at[2] + s.up]);
}

/** Set-ups that hang together, but on no two known points one of them sees: placed among themselves, then as a whole. */
function growApart(open: Set<SetUp>, seen: ReadonlyMap<string, Seen[]>, places: Map<string, Place>): void {
  const left = new Set(open);
  while (left.size) {
    const first = [...left].reduce((a, b) => (seen.get(b.id)!.length > seen.get(a.id)!.length ? b : a));
    left.delete(first);
    const own = new Map<string, Place>([[first.station, [0, 0, 0]]]);
    spread(seen.get(first.id)!, { turnRad: 0, at: [0, 0, 0], agreeing: 0 }, own);
    const before = new Set(left);
    grow(left, seen, own);
    const whole = [...own].map(([target, [x, y, up]]): Seen => ({ target, x, y, up }));
    const fit = fitOf(WHOLE, whole, places);
    if (!fit) continue;
    spread(whole, fit, places);
    open.delete(first);
    for (const s of before) if (!left.has(s)) open.delete(s);
    // others may hang on it
    grow(open, seen, places);
    for (const s of left) if (!open.has(s)) left.delete(s);
  }
}

/** Stands for set-ups that are placed together. */
const WHOLE: SetUp = { id: '', station: '', instrumentHeightM: 0 };

/** Station and turn of a set-up from the two known points that most others agree with. */
function fitOf(setUp: SetUp, seen: readonly Seen[], places: ReadonlyMap<string, Place>): Fit | undefined {
  const common = seen.flatMap((s) => (places.has(s.target) ? [{ ...s, place: places.get(s.target)! }] : []));
  const station = places.get(setUp.station);
  if (station) common.unshift({ target: setUp.station, x: 0, y: 0, up: 0, place: station });
  if (common.length < 2) return undefined;
  let best: Fit | undefined;
  // with the station known each target tells the turn; else each pair of targets does
  const firsts = station ? [common[0]] : common;
  for (const a of firsts)
    for (const b of common) {
      if (a === b) continue;
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const [de, dn] = [b.place[0] - a.place[0], b.place[1] - a.place[1]];
      if (Math.hypot(dx, dy) < 0.5 || Math.hypot(de, dn) < 0.5) continue;
      const turnRad = Math.atan2(de, dn) - Math.atan2(dx, dy);
      const [sin, cos] = [Math.sin(turnRad), Math.cos(turnRad)];
      const east = a.place[0] - (cos * a.x + sin * a.y);
      const north = a.place[1] - (-sin * a.x + cos * a.y);
      const agree = common.filter((c) => {
        const off = Math.hypot(east + cos * c.x + sin * c.y - c.place[0], north - sin * c.x + cos * c.y - c.place[1]);
        return off < AGREES_M + AGREES_SHARE * Math.hypot(c.x, c.y);
      });
      if (best && agree.length <= best.agreeing) continue;
      const heights = (agree.length ? agree : [a, b])
        .map((c) => c.place[2] - c.up)
        .filter((h) => !Number.isNaN(h))
        .sort((p, q) => p - q);
      const height = heights.length ? heights[Math.floor(heights.length / 2)] : Number.NaN;
      best = {
        turnRad,
        at: [east, north, station && !Number.isNaN(station[2]) ? station[2] : height],
        agreeing: agree.length,
      };
    }
  return best;
}
