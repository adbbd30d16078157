import { type ReferenceSystem } from '@longheron/core/frames';
import { EGM96 } from '@longheron/core/frames';
import {
  plausibleEpochs,
  binnedColumns,
  speedMps,
  trajectoryStatistics,
  type BinnedColumn,
  type Trajectory,
} from '@longheron/core/trajectory';

const BINS = 2400;
const DEGREES = 180 / Math.PI;

/** Per bin the smallest and largest value of each column, so that single epochs never vanish from a plot. */
export interface TrajectoryPreview {
  startGps: number;
  endGps: number;
  epochs: number;
  /** GPS seconds at the middle of each bin. */
  time: number[];
  /** Project coordinates of one epoch a bin. */
  eastingM: number[];
  northingM: number[];
  /** The worst plan standard deviation in each bin, metres. */
  worstSdM: number[];
  columns: Record<string, { unit: string; min: number[]; max: number[] }>;
  statistics: ReturnType<typeof trajectoryStatistics>;
  /** Epochs by bin, and what statistics over any run of bins are made of. */
  counts: number[];
  binned: BinnedColumn[];
  /** West, south, east, north of the path, metres, and the geoid's height above the ellipsoid in its middle. */
  around: { extent: [number, number, number, number]; undulationM: number; heightM: [number, number] };
}

const round = (v: number, digits: number) => Number(v.toFixed(digits));

export function previewTrajectory(t: Trajectory, system: ReferenceSystem): TrajectoryPreview {
  const n = t.sow.length;
  const start = t.week * 604800 + t.sow[0];
  const bins = Math.min(BINS, n);
  const sdPlan = t.sdNM && t.sdEM ? t.sdNM.map((v, i) => Math.hypot(v, t.sdEM![i])) : undefined;
  const degrees = (v: Float64Array | undefined) => v?.map((x) => x * DEGREES);
  const sources: Array<[string, string, Float64Array | undefined, number]> = [
    ['Ellipsoidal height', 'm', t.hEllM, 3],
    ['Speed', 'm/s', speedMps(t), 3],
    ['Roll', '°', degrees(t.rollRad), 4],
    ['Pitch', '°', degrees(t.pitchRad), 4],
    ['Heading', '°', degrees(t.headingRad), 3],
    ['SD plan', 'm', sdPlan, 5],
    ['SD down', 'm', t.sdDM, 5],
    ['SD heading', '°', degrees(t.sdHeadingRad), 5],
    ['Satellites', '', t.satellites && Float64Array.from(t.satellites), 0],
  ];
  const out: TrajectoryPreview = {
    startGps: start,
    endGps: t.week * 604800 + t.sow[n - 1],
    epochs: n,
    time: [],
    eastingM: [],
    northingM: [],
    worstSdM: [],
    columns: {},
    statistics: trajectoryStatistics(t),
    counts: [],
    binned: [],
    around: { extent: [Infinity, Infinity, -Infinity, -Infinity], undulationM: 0, heightM: [Infinity, -Infinity] },
  };
  for (const [name, unit, values] of sources) if (values) out.columns[name] = { unit, min: [], max: [] };
  const place = new Float64Array(3);
  const plausible = plausibleEpochs(t);
  for (let b = 0; b < bins; b++) {
    const from = Math.floor((b * n) / bins),
      to = Math.max(from + 1, Math.floor(((b + 1) * n) / bins));
    const middle = nearPlausible(plausible, (from + to - 1) >> 1);
    system.project(t.latRad[middle], t.lonRad[middle], t.hEllM[middle], place);
    out.time.push(round(t.week * 604800 + t.sow[middle], 3));
    out.eastingM.push(round(place[0], 2));
    out.northingM.push(round(place[1], 2));
    const e = out.around.extent;
    out.around.extent = [
      Math.min(e[0], place[0]),
      Math.min(e[1], place[1]),
      Math.max(e[2], place[0]),
      Math.max(e[3], place[1]),
    ];
    out.around.heightM = [Math.min(out.around.heightM[0], place[2]), Math.max(out.around.heightM[1], place[2])];
    if (b === bins >> 1) out.around.undulationM = EGM96.undulation(t.latRad[middle], t.lonRad[middle]);
    for (const [name, , values, digits] of sources) {
      if (!values) continue;
      let low = Infinity,
        high = -Infinity;
      for (let i = from; i < to; i++) {
        if (values[i] < low) low = values[i];
        if (values[i] > high) high = values[i];
      }
      out.columns[name].min.push(round(low, digits));
      out.columns[name].max.push(round(high, digits));
    }
    out.worstSdM.push(sdPlan ? out.columns['SD plan'].max[b] : 0);
  }
  const edges = Array.from({ length: bins + 1 }, (_, b) => Math.floor((b * n) / bins));
  out.counts = edges.slice(1).map((e, b) => e - edges[b]);
  out.binned = binnedColumns(t, edges);
  return out;
}

/** The epoch itself where its position can be one of the survey, else the nearest that can; so unsolved ones draw nothing far away. */
function nearPlausible(plausible: Uint8Array, at: number): number {
  for (let off = 0; off < plausible.length; off++) for (const i of [at + off, at - off]) if (plausible[i]) return i;
  return at;
}
