/** Plan of a local system against that of a projection: turned, stretched and moved; coordinates are metres. */
export interface PlanSimilarity {
  /** A place in the projection, and where it lies in the local system: easting and northing. */
  fromM: readonly [number, number];
  toM: readonly [number, number];
  /** Local length over length in the projection. */
  scale: number;
  /** Clockwise turn of the coordinates, which is the counter-clockwise turn of the axes, radians. */
  turnRad: number;
}

/** Projection to local system. @param out easting and northing, metres. */
export function toLocalPlan(s: PlanSimilarity, eastingM: number, northingM: number, out: Float64Array): void {
  const [x, y] = [eastingM - s.fromM[0], northingM - s.fromM[1]];
  const [a, b] = [s.scale * Math.cos(s.turnRad), s.scale * Math.sin(s.turnRad)];
  out[0] = s.toM[0] + a * x + b * y;
  out[1] = s.toM[1] - b * x + a * y;
}

/** Local system to projection. @param out easting and northing, metres. */
export function fromLocalPlan(s: PlanSimilarity, eastingM: number, northingM: number, out: Float64Array): void {
  const [x, y] = [eastingM - s.toM[0], northingM - s.toM[1]];
  const [a, b] = [Math.cos(s.turnRad) / s.scale, Math.sin(s.turnRad) / s.scale];
  out[0] = s.fromM[0] + a * x - b * y;
  out[1] = s.fromM[1] + b * x + a * y;
}

/**
 * The same as EPSG method 9621 writes it: X' = X'₀ + M (X cos θ + Y sin θ), Y' = Y'₀ + M (Y cos θ − X sin θ), from the
 * origin of the projection.
 */
export function evaluationPoint(s: PlanSimilarity): [eastM: number, northM: number] {
  const out = new Float64Array(2);
  toLocalPlan(s, 0, 0, out);
  return [out[0], out[1]];
}
