/** A point of a cloud with its stated precision, 1 SD; metres. */
export interface MeasuredPoint {
  eastingM: number;
  northingM: number;
  heightM: number;
  sdEM: number;
  sdNM: number;
  sdHM: number;
}

export interface Distance {
  slopeM: number;
  planM: number;
  /** Height of the second less that of the first. */
  heightM: number;
  /** From north by east, of the second seen from the first; NaN where plan is nothing. */
  bearingDeg: number;
  /** Rise in percent of plan; NaN where plan is nothing. */
  gradePercent: number;
  sdSlopeM: number;
  sdPlanM: number;
  sdHeightM: number;
}

/** East, north and up from one point to another, and the variances of them. */
function difference(a: MeasuredPoint, b: MeasuredPoint) {
  const d = [b.eastingM - a.eastingM, b.northingM - a.northingM, b.heightM - a.heightM];
  const v = [a.sdEM ** 2 + b.sdEM ** 2, a.sdNM ** 2 + b.sdNM ** 2, a.sdHM ** 2 + b.sdHM ** 2];
  return { d, v };
}

/** Distance between two points: along the slope, in plan, in height; deviations by propagation. */
export function measureDistance(a: MeasuredPoint, b: MeasuredPoint): Distance {
  const { d, v } = difference(a, b);
  const planM = Math.hypot(d[0], d[1]);
  const slopeM = Math.hypot(planM, d[2]);
  // of points in one place the direction is not known: the largest deviation stands for it
  const along = (parts: number[], length: number, variances: number[]) =>
    length > 0
      ? Math.sqrt(parts.reduce((s, p, k) => s + (p / length) ** 2 * variances[k], 0))
      : Math.sqrt(Math.max(...variances));
  return {
    slopeM,
    planM,
    heightM: d[2],
    bearingDeg: planM > 0 ? ((Math.atan2(d[0], d[1]) * 180) / Math.PI + 360) % 360 : Number.NaN,
    gradePercent: planM > 0 ? (100 * d[2]) / planM : Number.NaN,
    sdSlopeM: along(d, slopeM, v),
    sdPlanM: along(d.slice(0, 2), planM, v.slice(0, 2)),
    sdHeightM: Math.sqrt(v[2]),
  };
}
