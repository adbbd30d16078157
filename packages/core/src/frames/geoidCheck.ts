import { DEG } from './ellipsoid';
import { EGM96, type Geoid } from './geoid';

/** EGM96 and a national surface differ by less almost everywhere: its own error, and the zero of the levelling. */
const MAX_FROM_EGM96_M = 3;
/** A known point is known to a few centimetres; mistakes are metres. */
const KNOWN_M = 0.3;

/** What a known point says of a geoid. */
export interface KnownPointVerdict {
  /** Undulation by the grid, and by the two heights of the point, metres. */
  undulationM: number;
  statedM: number;
  /** Grid less point. */
  offM: number;
  says: 'agrees' | 'turned' | 'same heights' | 'elsewhere';
}

/**
 * Holds a geoid against a point whose heights above the ellipsoid and above the sea are both known.
 * @param latRad, lonRad radians. @param hEllM, heightM metres. @throws Problem outside the grid.
 */
export function judgeKnownPoint(
  geoid: Geoid,
  latRad: number,
  lonRad: number,
  hEllM: number,
  heightM: number,
): KnownPointVerdict {
  const undulationM = geoid.undulation(latRad, lonRad);
  const statedM = hEllM - heightM;
  const offM = undulationM - statedM;
  const says =
    Math.abs(offM) <= KNOWN_M
      ? 'agrees'
      : Math.abs(undulationM + statedM) <= MAX_FROM_EGM96_M && Math.abs(undulationM) > 2 * MAX_FROM_EGM96_M
        ? 'turned'
        : Math.abs(statedM) <= KNOWN_M
          ? 'same heights'
          : 'elsewhere';
  return { undulationM, statedM, offM, says };
}

/** How a grid stands against EGM96 at a place; undefined where nothing is conspicuous. */
export function suspectGeoid(
  geoid: Geoid,
  latRad: number,
  lonRad: number,
): { kind: 'turned' | 'far'; undulationM: number; egm96M: number } | undefined {
  const undulationM = geoid.undulation(latRad, lonRad);
  const egm96M = EGM96.undulation(latRad, lonRad);
  if (Math.abs(undulationM - egm96M) <= MAX_FROM_EGM96_M) return undefined;
  const kind = Math.abs(undulationM + egm96M) <= MAX_FROM_EGM96_M ? 'turned' : 'far';
  return { kind, undulationM, egm96M };
}

const EARTH_KM = 6371;

/**
 * How far a place lies outside an area of use, kilometres; 0 inside.
 * @param bbox north, west, south, east in degrees; an area may cross the date line.
 */
export function outsideAreaKm(
  [north, west, south, east]: readonly [number, number, number, number],
  latDeg: number,
  lonDeg: number,
): number {
  const width = (((east - west) % 360) + 360) % 360 || 360;
  const from = (((lonDeg - west) % 360) + 360) % 360;
  const lonOff = from <= width ? 0 : Math.min(from - width, 360 - from);
  const latOff = Math.max(0, latDeg - north, south - latDeg);
  return EARTH_KM * DEG * Math.hypot(latOff, lonOff * Math.cos(latDeg * DEG));
}
