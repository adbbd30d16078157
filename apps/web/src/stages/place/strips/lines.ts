import {
  findStrips,
  isFlight,
  nominalStepS,
  stripRulesFor,
  type StripPlan,
  type StripSettings,
  type Trajectory,
} from '@longheron/core/trajectory';
import { type FileFacts } from '@longheron/contract/kinds';
import { type Preview } from '../../mapData';

const WEEK_S = 604800;
const RADIUS_M = 6378137;

/** A trajectory as coarse as its preview, about a point on the equator: enough to find lines in while a setting moves. */
export function coarseTrajectory(p: Preview): Trajectory {
  const week = Math.floor(p.startGps / WEEK_S);
  const n = p.time.length;
  const middle = (name: string) => {
    const c = p.columns[name];
    return c ? Float64Array.from(c.min, (low, i) => (low + c.max[i]) / 2) : undefined;
  };
  const headingRad = new Float64Array(n);
  const step = 2.5 * nominalStepS(Float64Array.from(p.time));
  const near = (i: number, j: number) => j >= 0 && j < n && Math.abs(p.time[j] - p.time[i]) <= step;
  for (let i = 0; i < n; i++) {
    // no course is taken over a gap
    const [a, b] = [near(i, i - 1) ? i - 1 : i, near(i, i + 1) ? i + 1 : i];
    const course = Math.atan2(p.eastingM[b] - p.eastingM[a], p.northingM[b] - p.northingM[a]);
    headingRad[i] = (course + 2 * Math.PI) % (2 * Math.PI);
  }
  return {
    week,
    sow: Float64Array.from(p.time, (t) => t - week * WEEK_S),
    latRad: Float64Array.from(p.northingM, (v) => (v - p.northingM[0]) / RADIUS_M),
    lonRad: Float64Array.from(p.eastingM, (v) => (v - p.eastingM[0]) / RADIUS_M),
    hEllM: middle('Ellipsoidal height') ?? new Float64Array(n),
    rollRad: middle('Roll')?.map((v) => (v * Math.PI) / 180),
    headingRad,
  };
}

export interface Lines {
  plan: StripPlan;
  rules: StripSettings;
  flight: boolean;
  /** GPS seconds of the strips. */
  spans: Array<[number, number]>;
  /** Share of the recorded time that lies in strips; null without returns. */
  share: number | null;
}

/** Strips as rules would have them, and how much of what was recorded lies in them. */
export function linesOf(
  p: Preview,
  given: { readonly [K in keyof StripSettings]?: StripSettings[K] },
  recorded: readonly FileFacts[],
): Lines {
  const trajectory = coarseTrajectory(p);
  const rules = stripRulesFor(trajectory, given);
  const plan = findStrips(trajectory, rules);
  const base = trajectory.week * WEEK_S;
  const spans = plan.strips.map((s): [number, number] => [base + s.startSow, base + s.endSow]);
  let [inside, all] = [0, 0];
  for (const [from, to] of recorded.flatMap(recordings)) {
    all += to - from;
    for (const [a, b] of spans) inside += Math.max(0, Math.min(b, to) - Math.max(a, from));
  }
  return { plan, rules, flight: isFlight(trajectory), spans, share: all > 0 ? inside / all : null };
}

/** Spans in which a file has data. */
function recordings({ startGps, endGps, gaps }: FileFacts): Array<[number, number]> {
  if (startGps === null || endGps === null) return [];
  const out: Array<[number, number]> = [];
  let from = startGps;
  for (const g of gaps) {
    out.push([from, g.startGps]);
    from = g.endGps;
  }
  return [...out, [from, endGps]];
}
