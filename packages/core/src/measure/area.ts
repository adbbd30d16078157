import { type MeasuredPoint } from './distance';

export interface Area {
  /** Within the outline in plan, and in the plane that its corners span best; m². */
  planM2: number;
  surfaceM2: number;
  /** Round the outline, along its edges. */
  perimeterM: number;
  sdPlanM2: number;
  /** An outline that crosses itself has no area. */
  crosses: boolean;
}

/** Area within an outline (Gauss's formula; in space by Newell's sum of cross products), 1 SD by propagation. */
export function measureArea(points: MeasuredPoint[]): Area {
  const n = points.length;
  const [e0, n0, h0] = [points[0].eastingM, points[0].northingM, points[0].heightM];
  const at = points.map((p) => [p.eastingM - e0, p.northingM - n0, p.heightM - h0]);
  const next = (i: number) => (i + 1) % n;
  const normal = [0, 0, 0];
  let perimeterM = 0;
  let variance = 0;
  for (let i = 0; i < n; i++) {
    const [a, b] = [at[i], at[next(i)]];
    normal[0] += (a[1] - b[1]) * (a[2] + b[2]);
    normal[1] += (a[2] - b[2]) * (a[0] + b[0]);
    normal[2] += (a[0] - b[0]) * (a[1] + b[1]);
    perimeterM += Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
    // half the chord between the neighbours is what a corner's move changes the area by
    const [before, after] = [at[(i + n - 1) % n], b];
    variance += ((after[1] - before[1]) / 2) ** 2 * points[i].sdEM ** 2;
    variance += ((after[0] - before[0]) / 2) ** 2 * points[i].sdNM ** 2;
  }
  return {
    planM2: Math.abs(normal[2]) / 2,
    surfaceM2: Math.hypot(...normal) / 2,
    perimeterM,
    sdPlanM2: Math.sqrt(variance),
    crosses: crossesItself(at),
  };
}

function crossesItself(at: number[][]): boolean {
  const n = at.length;
  const side = (a: number[], b: number[], c: number[]) =>
    Math.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]));
  for (let i = 0; i < n; i++)
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      const [a, b, c, d] = [at[i], at[i + 1], at[j], at[(j + 1) % n]];
      if (side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0) return true;
    }
  return false;
}
