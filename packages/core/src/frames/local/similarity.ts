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

/** Both ways between projection and local system, with sine and cosine taken once. `out`: easting and northing, metres. */
export function localPlan({ fromM: [e0, n0], toM: [e1, n1], scale, turnRad }: PlanSimilarity) {
  const [a, b] = [scale * Math.cos(turnRad), scale * Math.sin(turnRad)];
  const [c, d] = [Math.cos(turnRad) / scale, Math.sin(turnRad) / scale];
  return {
    to(eastingM: number, northingM: number, out: Float64Array): void {
      const x = eastingM - e0;
      const y = northingM - n0;
      out[0] = e1 + a * x + b * y;
      out[1] = n1 - b * x + a * y;
    },
    from(eastingM: number, northingM: number, out: Float64Array): void {
      const x = eastingM - e1;
      const y = northingM - n1;
      out[0] = e0 + c * x - d * y;
      out[1] = n0 + d * x + c * y;
    },
  };
}

/** Projection to local system. @param out easting and northing, metres. */
export const toLocalPlan = (s: PlanSimilarity, eastingM: number, northingM: number, out: Float64Array): void =>
  localPlan(s).to(eastingM, northingM, out);

/** Local system to projection. @param out easting and northing, metres. */
export const fromLocalPlan = (s: PlanSimilarity, eastingM: number, northingM: number, out: Float64Array): void =>
  localPlan(s).from(eastingM, northingM, out);

/**
 * The same as EPSG method 9621 writes it: X' = X'₀ + M (X cos θ + Y sin θ), Y' = Y'₀ + M (Y cos θ − X sin θ), from the
 * origin of the projection.
 */
export function evaluationPoint(s: PlanSimilarity): [eastM: number, northM: number] {
  const out = new Float64Array(2);
  toLocalPlan(s, 0, 0, out);
  return [out[0], out[1]];
}
