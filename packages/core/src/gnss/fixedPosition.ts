import { addObservation, solveNormal } from '../numeric/leastSquares';
import { type Single } from './single';

/** A position from phases whose ambiguities are known. */
export interface FixedPosition {
  /** From the place where the residuals were formed, Earth-centred metres. */
  dM: Float64Array;
  /** 3 × 3 covariance, metres². */
  covariance: Float64Array;
  phases: number;
  /** Weighted sum of squared residuals over its degrees of freedom. */
  variance: number;
  /** Largest residual in its deviations, and whose. */
  worst: number;
  worstKey: number;
}

/** Variance of a phase difference of two receivers, metres²: noise by elevation and multipath. */
export function phaseVariance(sinEl: number, noiseM: number, multipathM: number): number {
  return 2 * ((noiseM / sinEl) ** 2 + multipathM * multipathM);
}

export const keyOf = (index: number, band: number) => 2 * index + band;

/**
 * Least squares for the position alone, with one clock for each system and band. Only what this epoch's phases say
 * goes in, so that its deviations hold for every epoch by itself, whatever is correlated in time.
 * @param integers cycles by satellite and band, relative to the group's own datum.
 */
export function fixedPosition(
  rows: Single[],
  groups: number,
  integers: ReadonlyMap<number, number>,
  noiseM: number,
  multipathM: number,
): FixedPosition | undefined {
  const used: Array<{ a: Single; band: number; clock: number; y: number; w: number }> = [];
  const clocks = new Map<number, number>();
  const perClock: number[] = [];
  for (const row of rows)
    for (const band of [0, 1]) {
      const n = integers.get(keyOf(row.index, band));
      if (n === undefined || Number.isNaN(row.phaseM[band])) continue;
      const group = row.group + groups * band;
      let clock = clocks.get(group);
      if (clock === undefined) clocks.set(group, (clock = clocks.size));
      perClock[clock] = (perClock[clock] ?? 0) + 1;
      const y = row.phaseM[band] - n * row.wavelengthM[band];
      used.push({ a: row, band, clock, y, w: 1 / phaseVariance(row.sinEl, noiseM, multipathM) });
    }
  const n = 3 + clocks.size;
  const freedom = used.length - n;
  if (freedom < 2) return undefined;
  const normal = new Float64Array(n * n);
  const b = new Float64Array(n);
  const line = new Float64Array(n);
  for (const u of used) {
    fill(line, u.a, u.clock);
    addObservation(normal, b, n, line, u.y, u.w);
  }
  const inverse = solveNormal(normal, b, n);
  if (!inverse) return undefined;
  let sum = 0;
  let worst = 0;
  let worstKey = -1;
  for (const u of used) {
    fill(line, u.a, u.clock);
    let v = u.y;
    let q = 0;
    for (let i = 0; i < n; i++) {
      v -= line[i] * b[i];
      for (let j = 0; j < n; j++) q += line[i] * inverse[i * n + j] * line[j];
    }
    sum += v * v * u.w;
    const part = 1 - q * u.w;
    const t = part > 0.02 ? Math.abs(v) * Math.sqrt(u.w / part) : 0;
    if (t > worst) [worst, worstKey] = [t, keyOf(u.a.index, u.band)];
  }
  const covariance = new Float64Array(9);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) covariance[3 * i + j] = inverse[i * n + j];
  return { dM: b.slice(0, 3), covariance, phases: used.length, variance: sum / freedom, worst, worstKey };
}

function fill(line: Float64Array, a: Single, clock: number): void {
  line.fill(0);
  for (let k = 0; k < 3; k++) line[k] = -a.unit[k];
  line[3 + clock] = 1;
}
