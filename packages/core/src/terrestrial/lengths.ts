import { median } from '../numeric/statistics';
import { type ControlPoint } from './adjustJob';
import { type Sighting } from './faces';
import { type SetUp } from './job';

/** Shorter distances tell no ratio, metres. */
const LEAST_M = 5;

/**
 * Distances between known points over those that the job measured or that follow from two of its sightings: about 1 in a
 * sound job. @returns the middle one and how many there are; undefined without any.
 */
export function lengthRatio(
  setUps: readonly SetUp[],
  sightings: readonly Sighting[],
  control: readonly ControlPoint[],
): { ratio: number; pairs: number } | undefined {
  const known = new Map(control.map((c) => [c.name, c]));
  const ratios: number[] = [];
  for (const { id, station } of setUps) {
    const seen = sightings.flatMap((s) => {
      if (s.setUp !== id || s.slopeM === undefined || s.directionRad === undefined || !known.has(s.target)) return [];
      const flat = s.slopeM * Math.sin(s.zenithRad ?? Math.PI / 2);
      return [{ x: flat * Math.sin(s.directionRad), y: flat * Math.cos(s.directionRad), at: known.get(s.target)! }];
    });
    const own = known.get(station);
    if (own) seen.push({ x: 0, y: 0, at: own });
    for (let a = 0; a < seen.length; a++)
      for (let b = 0; b < a; b++) {
        const [p, q] = [seen[a], seen[b]];
        const measured = Math.hypot(p.x - q.x, p.y - q.y);
        const given = Math.hypot(p.at.eastingM - q.at.eastingM, p.at.northingM - q.at.northingM);
        if (measured > LEAST_M && given > LEAST_M) ratios.push(given / measured);
      }
  }
  return ratios.length ? { ratio: median(ratios), pairs: ratios.length } : undefined;
}
