const STEP_S = 0.001;

export interface Leg {
  points: Array<[number, number]>;
  /** A survey line, between turns. */
  line: boolean;
}

export interface PursuitPlan {
  legs: Leg[];
  speedMps: number;
  /** Tightest turn, 1/m, and how far ahead the steering looks, metres. */
  curvature: number;
  lookM: number;
  /** Seconds with which the steering follows. */
  lagS: number;
}

/** A path at 1 kHz: site coordinates, bearing unwrapped, rate of turn, and the leg of each step. */
export interface Path {
  x: number[];
  y: number[];
  bearingRad: number[];
  turnRadps: number[];
  leg: number[];
}

/** Follows a line of points at an even speed by pure pursuit; steering is limited and filtered twice. */
export function pursue(plan: PursuitPlan): Path {
  const points = plan.legs.flatMap((l) => l.points);
  const legOf = plan.legs.flatMap((l, i) => l.points.map(() => i));
  const out: Path = { x: [], y: [], bearingRad: [], turnRadps: [], leg: [] };
  let [x, y] = points[0];
  let bearing = Math.atan2(points[1][0] - x, points[1][1] - y);
  let wanted = 0;
  let curvature = 0;
  let target = 1;
  const last = points.length - 1;
  for (let guard = 0; guard < 3600 / STEP_S; guard++) {
    const away = (k: number) => Math.hypot(points[k][0] - x, points[k][1] - y);
    // on to the next point when this one is near, or missed
    while (target < last && (away(target) < plan.lookM || away(target + 1) < away(target))) target++;
    const distance = away(target);
    if (target === last && distance < plan.lookM) break;
    const ahead = Math.atan2(points[target][0] - x, points[target][1] - y);
    const off = Math.atan2(Math.sin(ahead - bearing), Math.cos(ahead - bearing));
    const curve = Math.max(-plan.curvature, Math.min(plan.curvature, (2 * Math.sin(off)) / distance));
    wanted += ((curve - wanted) * STEP_S) / plan.lagS;
    curvature += ((wanted - curvature) * STEP_S) / plan.lagS;
    const turn = curvature * plan.speedMps;
    out.x.push(x);
    out.y.push(y);
    out.bearingRad.push(bearing);
    out.turnRadps.push(turn);
    out.leg.push(legOf[target]);
    bearing += turn * STEP_S;
    x += Math.sin(bearing) * plan.speedMps * STEP_S;
    y += Math.cos(bearing) * plan.speedMps * STEP_S;
  }
  return out;
}

/** Points every `step` metres from one place to another. */
export function straight(from: [number, number], to: [number, number], step: number): Array<[number, number]> {
  const n = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / step));
  return Array.from({ length: n + 1 }, (_, k) => [
    from[0] + ((to[0] - from[0]) * k) / n,
    from[1] + ((to[1] - from[1]) * k) / n,
  ]);
}

/** Survey spans by leg, as seconds from the start. */
export function spansOf(path: Path, legs: Leg[]): Array<{ leg: number; from: number; to: number }> {
  return legs.flatMap((l, i) => {
    if (!l.line) return [];
    const first = path.leg.indexOf(i);
    const last = path.leg.lastIndexOf(i);
    return first < 0 ? [] : [{ leg: i, from: first * STEP_S, to: last * STEP_S }];
  });
}
