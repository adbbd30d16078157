import { solveNormal } from '../../numeric/leastSquares';

/** Brightness of points about a place, metres east and north of it. */
export interface BrightPoints {
  dx: Float64Array;
  dy: Float64Array;
  brightness: Float64Array;
}

/** A target of four quarters in two tones, as found. */
export interface FoundTarget {
  /** Centre, metres east and north of the place looked about. */
  dxM: number;
  dyM: number;
  /** 1 SD of the centre along each axis, from the scatter of the brightness, metres. */
  sdXM: number;
  sdYM: number;
  /** Turn of the quarters' edges against the axes, −45 to 45 degrees. */
  turnDeg: number;
  /** Correlation of the brightness with the pattern, 0–1. */
  correlation: number;
  /** Points that the fit rests on. */
  points: number;
  dark: number;
  light: number;
}

export interface TargetSettings {
  /** Edge of the target, metres. */
  edgeM: number;
  /** How far from the place it is looked for, metres. */
  searchM: number;
}

/** Fewer points within the target make no fit. */
const FEWEST = 20;
/** A target correlates at least so well with the pattern. */
const MIN_CORRELATION = 0.6;
const SEARCH_STEP_M = 0.03;
const TURNS_DEG = [0, 15, 30, 45, 60, 75];
/** Widths over which one tone goes over into the other that are tried, metres. */
const BLURS_M = [0.008, 0.015, 0.03, 0.06];
const ROUNDS = 12;
/** The border of the target is as blurred as its middle. */
const WITHIN = 0.9;

/**
 * Finds the centre of a two-tone target of four quarters in the brightness of points: the place and turn of best
 * correlation with the pattern; least squares over centre, turn and both tones, with the width of the blur that fits
 * best; then the mean of all centres, each weighed by how likely it makes what is seen. The edges lie between points,
 * so that many centres are as likely as the best one: the mean and its deviation say so, the best one alone does not.
 * @returns the target, or why there is none.
 */
export function fitTwoTone(points: BrightPoints, settings: TargetSettings): FoundTarget | string {
  const half = (WITHIN * settings.edgeM) / 2;
  const start = bestStart(points, half, settings.searchM);
  if (!start) return `fewer than ${FEWEST} points anywhere within a target of ${settings.edgeM} m`;
  if (Math.abs(start.correlation) < MIN_CORRELATION)
    return `no pattern of two tones: the best correlation is ${Math.abs(start.correlation).toFixed(2)}`;
  let best: Refined | undefined;
  for (const blur of BLURS_M) {
    const made = refine(points, half, start, blur);
    if (made && (!best || made.rms < best.rms)) best = made;
  }
  if (!best) return 'the fit does not settle';
  const settled = weighed(points, half, best);
  const { a, b } = best.at;
  const { x, y, turn } = settled;
  if (Math.hypot(x - start.x, y - start.y) > settings.edgeM / 4) return 'the fit drifts away from the pattern';
  const deg = (turn * 180) / Math.PI;
  const corr = Math.abs(correlation(points, half, x, y, turn).r);
  return {
    dxM: x,
    dyM: y,
    sdXM: settled.sdX,
    sdYM: settled.sdY,
    // a quarter turn exchanges the tones
    turnDeg: deg - 90 * Math.round(deg / 90),
    correlation: corr,
    points: best.points,
    dark: a - Math.abs(b),
    light: a + Math.abs(b),
  };
}

interface Start {
  x: number;
  y: number;
  turn: number;
  correlation: number;
}

function bestStart(points: BrightPoints, half: number, searchM: number): Start | undefined {
  let best: Start | undefined;
  const steps = Math.ceil(searchM / SEARCH_STEP_M);
  for (let j = -steps; j <= steps; j++)
    for (let i = -steps; i <= steps; i++) {
      const x = i * SEARCH_STEP_M;
      const y = j * SEARCH_STEP_M;
      if (Math.hypot(x, y) > searchM) continue;
      for (const t of TURNS_DEG) {
        const turn = (t * Math.PI) / 180;
        const { r, count } = correlation(points, half, x, y, turn);
        if (count < FEWEST) break;
        if (!best || Math.abs(r) > Math.abs(best.correlation)) best = { x, y, turn, correlation: r };
      }
    }
  return best;
}

/** Correlation of brightness with +1 and −1 in the quarters, over the points within the square. */
function correlation(
  { dx, dy, brightness }: BrightPoints,
  half: number,
  x: number,
  y: number,
  turn: number,
): { r: number; count: number } {
  const c = Math.cos(turn);
  const s = Math.sin(turn);
  let count = 0;
  let sumB = 0;
  let sumBB = 0;
  let sumP = 0;
  let sumBP = 0;
  for (let i = 0; i < dx.length; i++) {
    const u = c * (dx[i] - x) + s * (dy[i] - y);
    const v = c * (dy[i] - y) - s * (dx[i] - x);
    if (u > half || u < -half || v > half || v < -half) continue;
    const p = u * v >= 0 ? 1 : -1;
    const b = brightness[i];
    count++;
    sumB += b;
    sumBB += b * b;
    sumP += p;
    sumBP += b * p;
  }
  const varB = count * sumBB - sumB * sumB;
  const varP = count * count - sumP * sumP;
  return { r: varB > 0 && varP > 0 ? (count * sumBP - sumB * sumP) / Math.sqrt(varB * varP) : 0, count };
}

/** Steps of the grid of centres to each side, and how far it reaches at first, metres. */
const GRID_STEPS = 6;
const GRID_REACH_M = 0.05;
const GRID_TURNS_DEG = [-6, -3, 0, 3, 6];
/** Widths of the blur that are weighed, metres. */
const GRID_BLURS_M = [0.007, 0.014, 0.028];
/** Share of points that are of a tone for no reason known. */
const STRANGE = 0.005;
/** The grid grows smaller until it reaches over so many deviations. */
const GRID_DEVIATIONS = 4;
const GRID_ROUNDS = 3;

/**
 * Mean and deviation of the centre over a grid of centres, turns and blurs. Each point is of one tone or the other, by
 * its brightness; near an edge it may be of either, since its own place is not exact, the less so the further off.
 */
function weighed(
  { dx, dy, brightness }: BrightPoints,
  half: number,
  { at, scale }: Refined,
): { x: number; y: number; turn: number; sdX: number; sdY: number } {
  const list: number[] = [];
  for (let i = 0; i < dx.length; i++) {
    const c = Math.cos(at.turn);
    const s = Math.sin(at.turn);
    const u = c * (dx[i] - at.x) + s * (dy[i] - at.y);
    const v = c * (dy[i] - at.y) - s * (dx[i] - at.x);
    if (Math.abs(u) <= half && Math.abs(v) <= half) list.push(i);
  }
  // how surely each point is of the tone of the first quarter, −1 to 1
  const tone = Float64Array.from(list, (k) => {
    const near = Math.exp(-0.5 * ((brightness[k] - at.a - at.b) / scale) ** 2) + 1e-9;
    const far = Math.exp(-0.5 * ((brightness[k] - at.a + at.b) / scale) ** 2) + 1e-9;
    return (near - far) / (near + far);
  });
  let [x, y, turn] = [at.x, at.y, at.turn];
  let [reachX, reachY] = [GRID_REACH_M, GRID_REACH_M];
  let [sdX, sdY] = [0, 0];
  for (let round = 0; round < GRID_ROUNDS; round++) {
    const logs: number[] = [];
    const centres: [number, number, number][] = [];
    for (const step of Array.from({ length: GRID_TURNS_DEG.length * GRID_BLURS_M.length }, (_, k) => k)) {
      const blur = GRID_BLURS_M[step % GRID_BLURS_M.length];
      const angle = at.turn + (GRID_TURNS_DEG[Math.floor(step / GRID_BLURS_M.length)] * Math.PI) / 180;
      const c = Math.cos(angle);
      const s = Math.sin(angle);
      for (let j = -GRID_STEPS; j <= GRID_STEPS; j++)
        for (let i = -GRID_STEPS; i <= GRID_STEPS; i++) {
          const cx = x + (i / GRID_STEPS) * reachX;
          const cy = y + (j / GRID_STEPS) * reachY;
          let log = 0;
          for (let n = 0; n < list.length; n++) {
            const ex = dx[list[n]] - cx;
            const ey = dy[list[n]] - cy;
            const p = Math.tanh((c * ex + s * ey) / blur) * Math.tanh((c * ey - s * ex) / blur);
            log += Math.log(0.5 * (1 + p * tone[n]) + STRANGE);
          }
          logs.push(log);
          centres.push([cx, cy, angle]);
        }
    }
    const most = logs.reduce((a, b) => Math.max(a, b), -Infinity);
    let sum = 0;
    const mean = [0, 0, 0];
    const squares = [0, 0];
    centres.forEach((p, k) => {
      const w = Math.exp(logs[k] - most);
      sum += w;
      for (let q = 0; q < 3; q++) mean[q] += w * p[q];
    });
    for (let q = 0; q < 3; q++) mean[q] /= sum;
    centres.forEach((p, k) => {
      const w = Math.exp(logs[k] - most) / sum;
      for (let q = 0; q < 2; q++) squares[q] += w * (p[q] - mean[q]) ** 2;
    });
    // a grid too coarse sees one centre only: its own step is the deviation then
    sdX = Math.max(Math.sqrt(squares[0]), reachX / GRID_STEPS / 4);
    sdY = Math.max(Math.sqrt(squares[1]), reachY / GRID_STEPS / 4);
    [x, y, turn] = mean;
    reachX = Math.min(reachX, GRID_DEVIATIONS * sdX);
    reachY = Math.min(reachY, GRID_DEVIATIONS * sdY);
  }
  return { x, y, turn, sdX, sdY };
}

interface Refined {
  at: { x: number; y: number; turn: number; a: number; b: number };
  rms: number;
  /** Robust deviation of the brightness from the pattern. */
  scale: number;
  points: number;
}

/** Gauss–Newton over x, y, turn, mean tone a and half the contrast b, far points weighing less (Huber). */
function refine(points: BrightPoints, half: number, start: Start, blur: number): Refined | undefined {
  const { dx, dy, brightness } = points;
  let { x, y, turn } = start;
  let a = NaN;
  let b = 0;
  let scale = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(25);
    const right = new Float64Array(5);
    const c = Math.cos(turn);
    const s = Math.sin(turn);
    const residuals: number[] = [];
    let count = 0;
    for (let i = 0; i < dx.length; i++) {
      const ex = dx[i] - x;
      const ey = dy[i] - y;
      const u = c * ex + s * ey;
      const v = c * ey - s * ex;
      if (Math.abs(u) > half || Math.abs(v) > half) continue;
      const tu = Math.tanh(u / blur);
      const tv = Math.tanh(v / blur);
      const du = ((1 - tu * tu) / blur) * tv;
      const dv = ((1 - tv * tv) / blur) * tu;
      const first = Number.isNaN(a);
      const residual = first ? brightness[i] : brightness[i] - a - b * tu * tv;
      // before the tones are known only they are solved
      const row = first
        ? [0, 0, 0, 1, tu * tv]
        : [b * (-c * du + s * dv), b * (-s * du - c * dv), b * (v * du - u * dv), 1, tu * tv];
      const weight = first || Math.abs(residual) <= 2 * scale ? 1 : (2 * scale) / Math.abs(residual);
      for (let p = 0; p < 5; p++) {
        right[p] += weight * row[p] * residual;
        for (let q = 0; q < 5; q++) normal[5 * p + q] += weight * row[p] * row[q];
      }
      if (!first) residuals.push(residual);
      count++;
    }
    if (count < FEWEST) return undefined;
    if (Number.isNaN(a)) {
      const det = normal[18] * normal[24] - normal[19] * normal[23];
      if (!(Math.abs(det) > 0)) return undefined;
      a = (right[3] * normal[24] - right[4] * normal[19]) / det;
      b = (normal[18] * right[4] - normal[23] * right[3]) / det;
      continue;
    }
    const rms = Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / Math.max(1, count - 5));
    residuals.sort((p, q) => Math.abs(p) - Math.abs(q));
    scale = Math.max(1e-9, 1.4826 * Math.abs(residuals[count >> 1]));
    const inverse = solveNormal(normal, right, 5);
    const step = right;
    if (!inverse || !step.every(Number.isFinite)) return undefined;
    const limit = Math.min(1, half / 4 / Math.max(1e-12, Math.hypot(step[0], step[1])));
    x += limit * step[0];
    y += limit * step[1];
    turn += limit * step[2];
    a += step[3];
    b += step[4];
    if (round < ROUNDS - 1 && Math.hypot(step[0], step[1]) > 1e-5) continue;
    return { at: { x, y, turn, a, b }, rms, scale, points: count };
  }
  return undefined;
}
