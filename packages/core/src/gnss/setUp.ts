import { ecefToGeodetic, ecefToNed, GRS80 } from '../frames/ellipsoid';

/**
 * Antenna reference point over a marker, as the header of a recording gives it.
 * @param markM Earth-centred metres; @param delta up, east and north from the marker, metres.
 */
export function overMarker(markM: ArrayLike<number>, delta: ArrayLike<number>): Float64Array {
  return moved(markM, delta, 1);
}

/** Marker under an antenna reference point. */
export function underAntenna(antennaM: ArrayLike<number>, delta: ArrayLike<number>): Float64Array {
  return moved(antennaM, delta, -1);
}

function moved(place: ArrayLike<number>, delta: ArrayLike<number>, sign: number): Float64Array {
  const [up, east, north] = [delta[0], delta[1], delta[2]];
  const geo = ecefToGeodetic(GRS80, place[0], place[1], place[2]);
  // rows north, east, down
  const axes = ecefToNed(geo[0], geo[1]);
  return Float64Array.from(
    [0, 1, 2],
    (k) => place[k] + sign * (north * axes[k] + east * axes[3 + k] - up * axes[6 + k]),
  );
}
