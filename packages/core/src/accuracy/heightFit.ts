import { median, normalisedMad } from '../numeric/statistics';
import { heightTrend, type HeightTrend } from './trend';

/** A residual at a place, metres. */
export interface PlacedResidual {
  name: string;
  eastingM: number;
  northingM: number;
  residualM: number;
}

/** One shift for all heights, from residuals at marks. */
export interface HeightFit {
  /** What the heights are too high by, and its deviation, 1 SD. */
  shiftM: number;
  sdM: number;
  /** Weight of each mark, 0 to 1, in their order. */
  weight: number[];
  /** The tilt of the residuals; null where they cannot show one. */
  trend: HeightTrend | null;
  /** From end to end of the marks, by the tilt. */
  tiltM: number;
  /** Whether a shift would hide a tilt. */
  tilted: boolean;
}

/** Residuals beyond so many deviations count less, those beyond twice that nothing. */
const FULL = 2.5;
const NONE = 5;
/** No scatter is believed to be smaller, metres. */
const LEAST_SCATTER_M = 0.001;
const ROUNDS = 20;
/** A tilt below this matters less than anything that heights are used for; above, it must also be significant to this. */
const TILT_MATTERS_M = 0.01;
const SURE = 0.01;

/**
 * The shift that residuals have in common: weighted mean, weights falling from full to none between 2.5 and 5 robust
 * deviations (after Hampel 1974); and whether they are tilted (Fisher's F, 1 %, and a centimetre from end to end), which a
 * shift would hide.
 */
export function fitHeight(residuals: readonly PlacedResidual[]): HeightFit {
  const r = residuals.map((p) => p.residualM);
  let shiftM = median(r);
  const scatter = Math.max(LEAST_SCATTER_M, normalisedMad(r));
  let weight = r.map(() => 1);
  for (let round = 0; round < ROUNDS; round++) {
    weight = r.map((v) => {
      const t = Math.abs(v - shiftM) / scatter;
      return t <= FULL ? 1 : t >= NONE ? 0 : (NONE - t) / (NONE - FULL);
    });
    const sum = weight.reduce((s, w) => s + w, 0);
    const next = weight.reduce((s, w, i) => s + w * r[i], 0) / sum;
    if (Math.abs(next - shiftM) < 1e-7) break;
    shiftM = next;
  }
  const kept = residuals.filter((_, i) => weight[i] > 0.5);
  const n = weight.reduce((s, w) => s + w, 0);
  const variance = weight.reduce((s, w, i) => s + w * (r[i] - shiftM) ** 2, 0) / Math.max(1, n - 1);
  const trend = heightTrend(
    kept.map((p) => p.eastingM),
    kept.map((p) => p.northingM),
    kept.map((p) => p.residualM),
  );
  const tiltM = trend ? tiltOver(kept, trend) : 0;
  return {
    shiftM,
    sdM: Math.sqrt(variance / n),
    weight,
    trend,
    tiltM,
    tilted: trend !== null && trend.chance < SURE && tiltM > TILT_MATTERS_M,
  };
}

/** By how much the tilted plane rises from its lowest mark to its highest. */
function tiltOver(marks: readonly PlacedResidual[], { east, north }: HeightTrend): number {
  const heights = marks.map((m) => (east * m.eastingM + north * m.northingM) / 100);
  return Math.max(...heights) - Math.min(...heights);
}
