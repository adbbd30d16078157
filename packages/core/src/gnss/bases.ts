import { geodeticToEcef, GRS80, DEG } from '../frames/ellipsoid';

/** A recording that may serve as base; times are GPS seconds. */
export interface BaseCandidate {
  id: number;
  name: string;
  /** Longitude, latitude, degrees, and ellipsoidal height of its header; undefined when it states none. */
  place?: readonly [number, number, number];
  startGps: number;
  endGps: number;
  gaps: ReadonlyArray<{ startGps: number; endGps: number }>;
  rateHz: number | null;
  antenna: string;
}

export interface RankedBase extends BaseCandidate {
  distanceM: number | null;
  /** Share of the rover's span that it covers, its own gaps taken off. */
  cover: number;
}

/** What a kilometre costs, about: millimetres of plan and height. */
const COST_MM_PER_KM = 1;
/** Beyond this a nearer base is worth looking for, metres. */
export const FAR_BASE_M = 20_000;
const WHOLE = 0.999;
/** Within this integers are found at once, metres. */
const NEAR_M = 5000;
const isComputed = (b: BaseCandidate) => /^VIRTUAL/.test(b.antenna);

/**
 * Bases by distance, and which to take: the nearest that covers the whole span, failing that the one that covers most.
 * @param rover its span, GPS seconds, and place.
 */
export function rankBases(
  rover: { startGps: number; endGps: number; place?: readonly [number, number, number] },
  candidates: BaseCandidate[],
): { ranked: RankedBase[]; proposed?: number; reason: string } {
  const ranked = candidates
    .map((c) => ({ ...c, distanceM: distance(rover.place, c.place), cover: coverOf(rover, c) }))
    .sort((a, b) => (a.distanceM ?? Infinity) - (b.distanceM ?? Infinity));
  const all = ranked.filter((b) => b.cover >= WHOLE);
  // a real receiver close by is worth more than a computed one
  const whole = all.find((b) => !isComputed(b) && (b.distanceM ?? Infinity) < NEAR_M) ?? all[0];
  if (whole) {
    const nearer = ranked.slice(0, ranked.indexOf(whole)).filter((b) => b.cover < WHOLE);
    const but = nearer.length ? `; ${nearer.map((b) => b.name).join(', ')} is nearer but does not cover it` : '';
    return { ranked, proposed: whole.id, reason: `${whole.name} is the nearest that covers the whole span${but}.` };
  }
  const most = ranked.reduce<RankedBase | undefined>((a, b) => (b.cover > (a?.cover ?? 0) ? b : a), undefined);
  if (!most) return { ranked, reason: 'No base covers any of the span.' };
  const share = Math.floor(100 * most.cover);
  return { ranked, proposed: most.id, reason: `None covers the whole span; ${most.name} covers ${share} %.` };
}

/** What the distance to a base costs, in words; empty when it is next to nothing. */
export function costOfDistance(distanceM: number | null): string {
  if (distanceM === null || distanceM < 2000) return '';
  const mm = Math.round((distanceM / 1000) * COST_MM_PER_KM);
  const far = distanceM > FAR_BASE_M ? ' A nearer base, or a virtual station, would be better.' : '';
  return `${(distanceM / 1000).toFixed(1)} km away: about ${mm} mm more, and integers take longer to find.${far}`;
}

function coverOf(span: { startGps: number; endGps: number }, c: BaseCandidate): number {
  const overlap = (from: number, to: number) => Math.max(0, Math.min(span.endGps, to) - Math.max(span.startGps, from));
  const missing = c.gaps.reduce((s, g) => s + overlap(g.startGps, g.endGps), 0);
  const length = Math.max(1e-9, span.endGps - span.startGps);
  return Math.max(0, overlap(c.startGps, c.endGps) - missing) / length;
}

function distance(a?: readonly number[], b?: readonly number[]): number | null {
  if (!a || !b) return null;
  const p = geodeticToEcef(GRS80, a[1] * DEG, a[0] * DEG, a[2]);
  const q = geodeticToEcef(GRS80, b[1] * DEG, b[0] * DEG, b[2]);
  return Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]);
}
