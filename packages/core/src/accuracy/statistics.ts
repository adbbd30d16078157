import {
  extremes,
  mean,
  median,
  normalisedMad,
  quantile,
  rootMeanSquare,
  standardDeviation,
} from '../numeric/statistics';
import { studentQuantile, studentTwoSided } from './student';

/** Statistics of height residuals at check marks, metres. SD with n − 1, RMSE with n. */
export interface HeightStatistics {
  count: number;
  meanM: number;
  medianM: number;
  sdM: number;
  rmseM: number;
  minM: number;
  maxM: number;
  /** 95th percentile of |residual|. */
  p95M: number;
  nmadM: number;
  /** mean / (SD/√n). */
  biasT: number;
  /** Probability of a larger |t| without bias. */
  biasProbability: number;
  biasSignificant: boolean;
}

export function heightStatistics(residualsM: ArrayLike<number>): HeightStatistics {
  const count = residualsM.length;
  const [minM, maxM] = extremes(residualsM);
  const meanM = mean(residualsM);
  const sdM = standardDeviation(residualsM);
  const biasT = meanM / (sdM / Math.sqrt(count));
  const usable = count >= 3 && sdM > 0;
  return {
    count,
    meanM,
    sdM,
    minM: count ? minM : Number.NaN,
    maxM: count ? maxM : Number.NaN,
    medianM: median(residualsM),
    rmseM: rootMeanSquare(residualsM),
    p95M: quantile(Float64Array.from(residualsM, Math.abs), 0.95),
    nmadM: normalisedMad(residualsM),
    biasT,
    biasProbability: usable ? studentTwoSided(biasT, count - 1) : Number.NaN,
    biasSignificant: usable && Math.abs(biasT) > studentQuantile(0.05, count - 1),
  };
}

/** One statement of accuracy with the standard and edition it follows. */
export interface AccuracyStatement {
  standard: string;
  /** RMSE class in cm, rounded up to 0.1 cm. */
  classCm: number;
  rmseM: number;
  /** 95 % figure where the standard has one, metres. */
  p95M?: number;
  marksAsked: number;
  /** Set when too few check marks: no verdict of conformity then. */
  caveat?: string;
}

function roundUp(value: number, step: number): number {
  return Math.ceil(value / step - 1e-9) * step;
}

/** RMSE in cm, rounded up to 0.1 cm. */
export function classCm(rmseM: number): number {
  return Number(roundUp(rmseM * 100, 0.1).toFixed(1));
}

/** What is said of too few marks. */
export function caveat(count: number, asked: number): string | undefined {
  return count < asked ? `tested with only ${count} check marks; the standard asks for ${asked}` : undefined;
}

/** ASPRS Positional Accuracy Standards for Digital Geospatial Data, edition 1 (2014), non-vegetated vertical. */
export function asprs2014Vertical(rmseZM: number, count: number): AccuracyStatement {
  return {
    standard: 'ASPRS 2014 (edition 1), non-vegetated vertical',
    classCm: classCm(rmseZM),
    rmseM: rmseZM,
    p95M: 1.96 * rmseZM,
    marksAsked: 20,
    caveat: caveat(count, 20),
  };
}

/** The same, edition 2 (2024): the marks' own SD joins the RMSE; no 95 % figure. */
export function asprs2024Vertical(rmseZM: number, markSdM: number, count: number): AccuracyStatement {
  const rmseM = Math.hypot(rmseZM, markSdM);
  return {
    standard: 'ASPRS 2024 (edition 2), non-vegetated vertical',
    classCm: classCm(rmseM),
    rmseM,
    marksAsked: 30,
    caveat: caveat(count, 30),
  };
}

/** ASPRS 2014, vegetated vertical: the 95th percentile of |r| is at most 3.00 × the class. @param p95M that percentile. */
export function asprs2014Vegetated(p95M: number, rmseZM: number, count: number): AccuracyStatement {
  return {
    standard: 'ASPRS 2014 (edition 1), vegetated vertical',
    classCm: Number(roundUp((p95M * 100) / 3, 0.1).toFixed(1)),
    rmseM: rmseZM,
    p95M,
    marksAsked: 20,
    caveat: caveat(count, 20),
  };
}

const CONTOUR_STEPS_M = [0.1, 0.2, 0.25, 0.5, 1, 2, 5];

/** Smallest contour interval that RMSEz supports: 3.2898 RMSEz rounded up to a usual step; undefined beyond 5 m. */
export function smallestContourIntervalM(rmseZM: number): number | undefined {
  const least = 3.2898 * rmseZM;
  return CONTOUR_STEPS_M.find((step) => step >= least - 1e-12);
}
