import { type MeasuredPoint } from './distance';

export interface Angle {
  /** Between the two directions in space, and between their pictures in plan; degrees, 0 to 180. */
  spaceDeg: number;
  planDeg: number;
  sdSpaceDeg: number;
  sdPlanDeg: number;
}

const STEP_M = 1e-4;

function between(a: number[], at: number[], b: number[], axes: number): number {
  const u = a.slice(0, axes).map((v, k) => v - at[k]);
  const w = b.slice(0, axes).map((v, k) => v - at[k]);
  const dot = u.reduce((s, v, k) => s + v * w[k], 0);
  const square = (v: number[]) => v.reduce((s, x) => s + x * x, 0);
  const cross = Math.sqrt(Math.max(0, square(u) * square(w) - dot * dot));
  return (Math.atan2(cross, dot) * 180) / Math.PI;
}

/** The angle at a point between two others; deviations by numeric derivatives. */
export function measureAngle(a: MeasuredPoint, at: MeasuredPoint, b: MeasuredPoint): Angle {
  const places = [a, at, b].map((p) => [p.eastingM - at.eastingM, p.northingM - at.northingM, p.heightM - at.heightM]);
  const sds = [a, at, b].map((p) => [p.sdEM, p.sdNM, p.sdHM]);
  const angle = (axes: number) => between(places[0], places[1], places[2], axes);
  const sd = (axes: number) => {
    let sum = 0;
    for (let i = 0; i < 3; i++)
      for (let k = 0; k < axes; k++) {
        const was = places[i][k];
        places[i][k] = was + STEP_M;
        const ahead = angle(axes);
        places[i][k] = was - STEP_M;
        sum += (((ahead - angle(axes)) / (2 * STEP_M)) * sds[i][k]) ** 2;
        places[i][k] = was;
      }
    return Math.sqrt(sum);
  };
  return { spaceDeg: angle(3), planDeg: angle(2), sdSpaceDeg: sd(3), sdPlanDeg: sd(2) };
}
