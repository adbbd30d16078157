import { type SensorMounting } from '../../frames/mounting';
import { type ReferenceSystem } from '../../frames/referenceSystem';
import { quantile } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { type Strip, type StripPlan } from '../../trajectory/strips';
import { type Trajectory } from '../../trajectory/trajectory';
import { Placer } from '../place';
import { type PlacedPoints } from '../placedPoints';
import { type LaserNoise, type LaserReturns } from '../returns';
import { CellSums } from './cellSums';

/** Returns of one head, which can be read again and again. */
export interface HeadReturns {
  name: string;
  mounting: SensorMounting;
  noise: LaserNoise;
  count: number;
  blocks(): Iterable<LaserReturns>;
}

/** A mark with a surveyed height. */
export interface ControlMark {
  name: string;
  eastingM: number;
  northingM: number;
  heightM: number;
  sdHM: number;
}

/** What one reading of all returns gives. */
export interface Gathered {
  sums: CellSums;
  /** Points near each control mark. */
  marks: CellSums[];
  /** First and last moment of each line that has points; NaN without. */
  startS: Float64Array;
  endS: Float64Array;
  /** Returns in each line, in each piece of the trajectory that is left out, and outside the trajectory. */
  inLine: Float64Array;
  inLeftOut: Float64Array;
  outside: number;
  /** Median distance of points from the scanner, metres. */
  rangeM: number;
}

/** Returns placed at once. */
const STEP = 1 << 13;
/** Points that a piece should have in a cell. */
const WANTED_POINTS = 15;
const CELL_LIMITS_M = [0.5, 6];
/** No more entries than this: about 110 bytes each. */
const MAX_ENTRIES = 5e6;

/** Edge of cells that hold enough points of a line, and the radius for a mark, from the density of a sample. */
export function cellSizeOf(
  trajectory: Trajectory,
  system: ReferenceSystem,
  heads: readonly HeadReturns[],
  plan: StripPlan,
): { cellM: number; markRadiusM: number; originE: number; originN: number } {
  let sparsest = Number.POSITIVE_INFINITY;
  let [originE, originN] = [0, 0];
  let all = 0;
  for (const head of heads) {
    const found = densityOf(trajectory, system, head, plan);
    all += head.count;
    if (!found) continue;
    sparsest = Math.min(sparsest, found.density);
    originE ||= Math.floor(found.e / 100) * 100;
    originN ||= Math.floor(found.n / 100) * 100;
  }
  const clamp = (v: number) => Math.min(CELL_LIMITS_M[1], Math.max(CELL_LIMITS_M[0], v));
  let cellM = clamp(Math.sqrt(WANTED_POINTS / sparsest));
  while (all / sparsest / cellM ** 2 > MAX_ENTRIES) cellM *= 1.25;
  const radius = Math.sqrt(18 / (Math.PI * sparsest));
  return { cellM, markRadiusM: Math.min(2.5, Math.max(0.6, radius)), originE, originN };
}

/** Single returns a square metre of one head in one line. */
function densityOf(
  trajectory: Trajectory,
  system: ReferenceSystem,
  head: HeadReturns,
  plan: StripPlan,
): { density: number; e: number; n: number } | undefined {
  const placer = new Placer(trajectory, system, head.mounting, head.noise);
  const cells = new Map<string, number>();
  let [e, n] = [0, 0];
  let placed: PlacedPoints | undefined;
  let strip = 0;
  let taken = 0;
  for (const returns of head.blocks()) {
    for (let from = 0; from < returns.sow.length && taken < 300_000; from += STEP) {
      const to = Math.min(from + STEP, returns.sow.length);
      placed = placer.place(returns, from, to, placed);
      for (let i = 0; i < to - from; i++) {
        const k = placed.interval[i];
        const id = k >= 0 ? plan.idOfInterval[k] : 0;
        if (id === 0 || returns.returnCount[from + i] !== 1) continue;
        strip ||= id;
        if (id !== strip) continue;
        [e, n] = [placed.eastingM[i], placed.northingM[i]];
        const key = `${Math.floor(e / 4)} ${Math.floor(n / 4)}`;
        cells.set(key, (cells.get(key) ?? 0) + 1);
        taken++;
      }
    }
    if (taken >= 300_000) break;
  }
  if (!cells.size) return undefined;
  return { density: quantile([...cells.values()], 0.75) / 16, e, n };
}

/** Places all returns once and sums them up by cell and piece. Only single returns count: they lie on surfaces. */
export function gather(
  trajectory: Trajectory,
  system: ReferenceSystem,
  heads: readonly HeadReturns[],
  plan: StripPlan,
  size: ReturnType<typeof cellSizeOf>,
  control: readonly ControlMark[],
  watch?: Watch,
): Gathered {
  const lines = plan.strips.length;
  const sums = new CellSums(size.cellM, size.originE, size.originN);
  const r = size.markRadiusM;
  const marks = control.map((m) => new CellSums(2 * r, m.eastingM - r, m.northingM - r));
  const startS = new Float64Array(lines).fill(Number.NaN);
  const endS = new Float64Array(lines).fill(Number.NaN);
  const ranges: number[] = [];
  const inLine = new Float64Array(lines);
  const inLeftOut = new Float64Array(plan.leftOut.length);
  let outside = 0;
  // times run on: the piece before is mostly the piece again
  let leftOutAt = -1;
  const inPiece = (p: Strip | undefined, t: number) => p !== undefined && t >= p.startSow && t <= p.endSow;
  let done = 0;
  const total = heads.reduce((s, h) => s + h.count, 0);
  heads.forEach((head, h) => {
    const placer = new Placer(trajectory, system, head.mounting, head.noise);
    let placed: PlacedPoints | undefined;
    for (const returns of head.blocks()) {
      const shift = (returns.week - trajectory.week) * 604800;
      for (let from = 0; from < returns.sow.length; from += STEP) {
        tick(watch, done / total, 'Placing returns');
        const to = Math.min(from + STEP, returns.sow.length);
        done += to - from;
        placed = placer.place(returns, from, to, placed);
        const { eastingM, northingM, heightM, interval } = placed;
        for (let i = 0; i < to - from; i++) {
          const k = interval[i];
          const id = k >= 0 ? plan.idOfInterval[k] : 0;
          const t = returns.sow[from + i] + shift;
          if (id === 0) {
            if (k >= 0 && !inPiece(plan.leftOut[leftOutAt], t))
              leftOutAt = plan.leftOut.findIndex((p) => inPiece(p, t));
            const piece = k >= 0 ? leftOutAt : -1;
            if (piece >= 0) inLeftOut[piece]++;
            else outside++;
            continue;
          }
          inLine[id - 1]++;
          if (returns.returnCount[from + i] !== 1) continue;
          if (!(t >= startS[id - 1])) startS[id - 1] = t;
          if (!(t <= endS[id - 1])) endS[id - 1] = t;
          const piece = (id - 1) * heads.length + h;
          sums.add(piece, eastingM[i], northingM[i], heightM[i], t);
          for (let m = 0; m < control.length; m++) {
            const dx = eastingM[i] - control[m].eastingM;
            if (dx > r || dx < -r) continue;
            const dy = northingM[i] - control[m].northingM;
            if (dx * dx + dy * dy < r * r) marks[m].add(piece, eastingM[i], northingM[i], heightM[i], t);
          }
        }
        if (ranges.length < 5000) for (let i = from; i < to; i += 97) ranges.push(returns.rangeM[i]);
      }
    }
  });
  return {
    sums,
    marks,
    startS,
    endS,
    inLine,
    inLeftOut,
    outside,
    rangeM: ranges.length ? quantile(ranges, 0.5) : Number.NaN,
  };
}
