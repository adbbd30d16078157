import { type ReferenceSystem } from '@longheron/core/frames';

/** Columns of points that were placed; those without a place are NaN. */
interface Placed {
  eastingM: Float64Array;
  northingM: Float64Array;
  heightM: Float64Array;
}

/** Offsets of a LAS file: whole kilometres at least 2 km below the first points, so that no later point lies below them. */
export function lasOffsets(placed: Placed, system: ReferenceSystem): [number, number, number] {
  const unit = system.definition.metresPerUnit;
  const below = (values: Float64Array) => {
    let least = Infinity;
    for (const v of values) if (v < least) least = v;
    return Number.isFinite(least) ? Math.floor(least / unit / 1000) * 1000 : 0;
  };
  return [below(placed.eastingM), below(placed.northingM), 0];
}

/** Coordinates in the units of the system. */
export function inUnits(placed: Placed, system: ReferenceSystem) {
  const { metresPerUnit, verticalMetresPerUnit } = system.definition;
  const scale = (values: Float64Array, per: number) => (per === 1 ? values : values.map((v) => v / per));
  return {
    easting: scale(placed.eastingM, metresPerUnit),
    northing: scale(placed.northingM, metresPerUnit),
    height: scale(placed.heightM, verticalMetresPerUnit),
  };
}
