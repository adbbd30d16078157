import { tick, type Watch } from '../shared/progress';
import { heightInTriangle, TinWalker } from '../surface/tin';
import { sortedColumns, sortIntoCells, supportedLowest } from './cells';
import { densify } from './densify';
import { cosineOfSlope } from './groundTin';
import { noiseOfCells, withinOf, type TellGround } from './noiseOfCells';
import { type PointSet } from './points';
import { refine } from './refine';

export interface GroundSettings {
  /** Larger than the largest thing without ground inside it, metres. */
  largestObjectM: number;
  /** Steepest true slope over short distances, degrees; kerbs and walls stand steeper. */
  steepestDeg: number;
  /** Finest cell: one candidate height a cell, metres. */
  cellM: number;
  /** A point this near the final surface is ground, metres; 0: as the noise of the cloud says. */
  withinM: number;
}

export const GROUND_DEFAULTS: GroundSettings = { largestObjectM: 20, steepestDeg: 40, cellM: 0.5, withinM: 0 };

/** Deviations of the noise that are still ground, and the least and most that they are taken for, metres. */
const WITHIN = { deviations: 4, minM: 0.07, maxM: 0.25 };

/**
 * Ground by progressive densification of a TIN (Axelsson 2000), coarse to fine: the lowest supported height of each
 * cell is a candidate; those lowest in a window larger than any object start the surface, and ground spreads from
 * them as far as the land goes on (`spreadGround`); then cells are halved step by step, and what stands at no more than
 * the steepest slope above its triangle joins, and spreads in turn. The accepted cells are then replaced by the mean of
 * the points near them, and every point is judged by its distance to that surface.
 * @param skip 1 for points to leave out (strays). @param tell hears of the noise that was found.
 * @returns 1 for each ground point.
 */
export function findGround(
  points: PointSet,
  settings: GroundSettings = GROUND_DEFAULTS,
  skip?: Uint8Array,
  watch?: Watch,
  tell?: TellGround,
): Uint8Array {
  const ground = new Uint8Array(points.count);
  tick(watch, 0, 'Sorting into cells');
  const cells = sortIntoCells(points, settings.cellM, skip);
  const { order } = cells;
  if (order.length < 3) return ground;
  const sorted = sortedColumns(points, cells);
  const lowest = supportedLowest(sorted, cells);
  const noiseM = noiseOfCells(sorted, cells);
  const withinM = settings.withinM || withinOf(noiseM, WITHIN);
  tell?.({ noiseM, withinM });
  tick(watch, 0.3, 'Densifying the surface');
  const inside = densify(sorted, cells, lowest, settings, noiseM, watch);
  tick(watch, 0.6, 'Refining the surface');
  const surface = refine(sorted, cells, lowest, inside, withinM);
  tick(watch, 0.75, 'Judging points');
  const walker = new TinWalker(surface);
  const { x, y, z } = sorted;
  // cell by cell, so that the walk to the next triangle is short whatever the order of the points
  for (let k = 0; k < order.length; k++) {
    if ((k & 0x3ffff) === 0) tick(watch, 0.75 + (0.25 * k) / order.length, 'Judging points');
    const t = walker.locate(x[k], y[k]);
    if (t < 0) continue;
    const dz = Math.abs(z[k] - heightInTriangle(surface, t, x[k], y[k]));
    if (dz <= withinM || dz * cosineOfSlope(surface, t) <= withinM) ground[order[k]] = 1;
  }
  tick(watch, 1);
  return ground;
}
