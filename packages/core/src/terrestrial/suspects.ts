import { type Adjustment, type Effect, type NetworkObservation } from '../network';
import { median } from '../numeric/statistics';
import { type JobRequest } from './adjustJob';

/** An error that would explain what contradicts. */
export interface Suspect {
  what:
    | 'target height'
    | 'instrument height'
    | 'sighting'
    | 'direction'
    | 'distance'
    | 'levelled'
    | 'taped'
    | 'control plan'
    | 'control height';
  /** None of a known mark, whose name is the target. */
  setUp?: string;
  station?: string;
  /** None of an instrument height. */
  target?: string;
  /** Index of the sighting, or of what was levelled or taped. */
  sighting?: number;
  measured?: number;
  /** By how much: a height is too large by, a reading is too large by; at the target, metres. */
  offM: number;
  sdM: number;
  /** Of a sighting: across, along and above; of a known mark in plan: north and east; metres. */
  apartM?: number[];
  /** In how many parts the error is told: 1 to 3. */
  parts: number;
  /** Times what is allowed. */
  test: number;
  /** What of the sum of squares it explains, less what errors of as many parts would by chance. */
  explains: number;
}

/** Chi-square that one error in a thousand exceeds by chance, by degrees of freedom. */
const LIMIT = [0, 10.83, 13.82, 16.27];
/** Sightings of which no residual exceeds so many of its deviations are not looked at. */
const LOOKED_AT = 2;
/** What further parts explain by chance is below this in ninety-nine of a hundred. */
export const MORE = [0, 0, 6.6, 9.2];

/**
 * Single errors that would explain the residuals, those that explain most first: each target's and instrument's height,
 * each direction and distance, and each sighting as if it led to another point (Teunissen 2006, 4). Deviations that are
 * stated too small do not make everything suspect: squares are taken in what most residuals show.
 */
export function suspectsOf(
  adjustment: Adjustment,
  observations: readonly NetworkObservation[],
  sightingOf: ReadonlyArray<number | undefined>,
  { setUps, sightings, measured }: JobRequest,
  rejected: readonly Suspect[],
): Suspect[] {
  const tests = adjustment.observations.flatMap((o) => (Number.isNaN(o.test) ? [] : [o.test]));
  // half of the standardised residuals lie below 0.6745
  const scale = tests.length > 8 ? Math.max(1, median(tests) / 0.6745) ** 2 : 1;
  const own = new Map<number, number[]>();
  sightingOf.forEach((s, o) => {
    if (s !== undefined) own.set(s, [...(own.get(s) ?? []), o]);
  });
  const out: Suspect[] = [];
  const stations = new Map(setUps.map((s) => [s.id, s.station]));
  const note = (
    suspect: Omit<Suspect, 'offM' | 'sdM' | 'parts' | 'test' | 'explains'>,
    effects: Effect[],
    sign = 1,
  ) => {
    const found = adjustment.explained(effects);
    if (!found) return;
    const sizes = found.sizes.map((v) => sign * v);
    const off = sizes.length === 1 ? sizes[0] : Math.hypot(...sizes);
    out.push({
      ...suspect,
      ...(suspect.setUp === undefined ? {} : { station: stations.get(suspect.setUp) }),
      offM: off,
      sdM: Math.hypot(...found.sdOfSizes.map((sd, k) => (sizes.length === 1 ? sd : (sd * sizes[k]) / (off || 1)))),
      ...(sizes.length > 1 ? { apartM: sizes } : {}),
      parts: found.degrees,
      test: found.square / scale / LIMIT[found.degrees],
      explains: found.square / scale - MORE[found.degrees],
    });
  };
  for (const [k, list] of own) {
    const s = sightings[k];
    if (Math.max(...list.map((o) => adjustment.observations[o].test || 0)) < LOOKED_AT) continue;
    const at = (kind: NetworkObservation['kind']) => list.find((o) => observations[o].kind === kind);
    const [direction, zenith, distance] = [at('direction'), at('zenith'), at('distance')];
    const of = { setUp: s.setUp, target: s.target, sighting: k };
    const slope = s.slopeM ?? adjustment.observations[list[0]].lengthM;
    const z = s.zenithRad ?? Math.PI / 2;
    const across: Effect = direction === undefined ? [] : [[direction, 1 / (slope * Math.sin(z))]];
    const along: Effect = distance === undefined ? [] : [[distance, 1]];
    // a target that is higher than stated is seen higher
    const above: Effect =
      zenith === undefined
        ? []
        : [[zenith, -Math.sin(z) / slope], ...(distance === undefined ? [] : [[distance, Math.cos(z)] as const])];
    if (across.length) note({ what: 'direction', ...of }, [across]);
    if (along.length) note({ what: 'distance', ...of }, [along]);
    if (above.length) note({ what: 'target height', ...of }, [above], -1);
    if (across.length && along.length && zenith !== undefined)
      note({ what: 'sighting', ...of }, [across, along, [[zenith, -Math.sin(z) / slope]]]);
  }
  observations.forEach((o, k) => {
    if (sightingOf[k] !== undefined || !((adjustment.observations[k].test || 0) > LOOKED_AT)) return;
    const own = (measured ?? []).findIndex((m) => m.from === o.from && m.to === o.to && sameValue(m, o));
    const what = o.kind === 'height' ? 'levelled' : 'taped';
    if (own >= 0) note({ what, station: o.from, target: o.to, measured: own }, [[[k, 1]]]);
  });
  for (const { id } of setUps) {
    if (rejected.some((r) => r.what === 'instrument height' && r.setUp === id)) continue;
    const effect: Array<readonly [number, number]> = [];
    for (const [k, list] of own) {
      const s = sightings[k];
      if (s.setUp !== id) continue;
      const slope = s.slopeM ?? adjustment.observations[list[0]].lengthM;
      const z = s.zenithRad ?? Math.PI / 2;
      for (const o of list) {
        if (observations[o].kind === 'zenith') effect.push([o, Math.sin(z) / slope]);
        else if (observations[o].kind === 'distance') effect.push([o, -Math.cos(z)]);
      }
    }
    if (effect.length > 2) note({ what: 'instrument height', setUp: id }, [effect], -1);
  }
  for (const { name, held } of adjustment.points) {
    if (!held) continue;
    note({ what: 'control height', target: name }, [[[name, [0, 0, 1]]]], -1);
    note({ what: 'control plan', target: name }, [[[name, [1, 0, 0]]], [[name, [0, 1, 0]]]]);
  }
  return out.sort((a, b) => b.explains - a.explains);
}

const sameValue = (a: NetworkObservation, b: NetworkObservation): boolean =>
  a.kind === b.kind && 'valueM' in a && 'valueM' in b && a.valueM === b.valueM;
