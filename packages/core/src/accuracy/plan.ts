import { mean, rootMeanSquare, standardDeviation } from '../numeric/statistics';
import { type MarkRole } from './marks';
import { caveat, classCm, type AccuracyStatement } from './statistics';
import { studentQuantile } from './student';

/** Statistics of plan residuals at check marks, metres. SD with n − 1, RMSE with n. */
export interface PlanStatistics {
  count: number;
  meanE: number;
  meanN: number;
  sdE: number;
  sdN: number;
  rmseE: number;
  rmseN: number;
  /** √(RMSE_E² + RMSE_N²). */
  rmseR: number;
  /** Greatest length of a residual. */
  maxM: number;
  /** mean / (SD/√n) of each axis. */
  biasTE: number;
  biasTN: number;
  biasSignificant: boolean;
  /** NSSDA figure at 95 %, undefined when the axes differ too much for it. */
  p95M?: number;
  /** How that figure came about, or why there is none. */
  p95Note: string;
}

/** @param dE measured − reference, east; @param dN the same, north. */
export function planStatistics(dE: number[], dN: number[]): PlanStatistics {
  const count = dE.length;
  const rmseE = rootMeanSquare(dE);
  const rmseN = rootMeanSquare(dN);
  const sdE = standardDeviation(dE);
  const sdN = standardDeviation(dN);
  const biasTE = mean(dE) / (sdE / Math.sqrt(count));
  const biasTN = mean(dN) / (sdN / Math.sqrt(count));
  const usable = count >= 3 && sdE > 0 && sdN > 0;
  const limit = usable ? studentQuantile(0.05, count - 1) : Infinity;
  const out: PlanStatistics = {
    count,
    rmseE,
    rmseN,
    sdE,
    sdN,
    biasTE,
    biasTN,
    meanE: mean(dE),
    meanN: mean(dN),
    rmseR: Math.hypot(rmseE, rmseN),
    maxM: dE.reduce((most, e, i) => Math.max(most, Math.hypot(e, dN[i])), 0),
    biasSignificant: usable && (Math.abs(biasTE) > limit || Math.abs(biasTN) > limit),
    p95Note: '',
  };
  const ratio = Math.min(rmseE, rmseN) / Math.max(rmseE, rmseN);
  if (!(count > 0)) out.p95Note = 'no mark';
  else if (ratio > 0.95) {
    out.p95M = 1.7308 * out.rmseR;
    out.p95Note = 'NSSDA, 1.7308 × RMSE of both axes together, which are alike';
  } else if (ratio >= 0.6) {
    out.p95M = 2.4477 * 0.5 * (rmseE + rmseN);
    out.p95Note = `NSSDA, 2.4477 × their mean; the axes stand ${ratio.toFixed(2)} to 1`;
  } else out.p95Note = `the axes stand ${ratio.toFixed(2)} to 1, NSSDA asks for 0.6`;
  return out;
}

/** ASPRS 2014, horizontal: both axes' RMSE within the class. */
export function asprs2014Horizontal(s: PlanStatistics): AccuracyStatement {
  const worse = Math.max(s.rmseE, s.rmseN);
  return {
    standard: 'ASPRS 2014 (edition 1), horizontal',
    classCm: classCm(worse),
    rmseM: worse,
    p95M: s.p95M,
    marksAsked: 20,
    caveat: caveat(s.count, 20),
  };
}

/** ASPRS 2024, horizontal: √(RMSE_E² + RMSE_N² + mark²). @param markSdM RMS of the given plan SDs of the marks. */
export function asprs2024Horizontal(s: PlanStatistics, markSdM: number): AccuracyStatement {
  const rmseM = Math.hypot(s.rmseE, s.rmseN, markSdM);
  return {
    standard: 'ASPRS 2024 (edition 2), horizontal',
    classCm: classCm(rmseM),
    rmseM,
    marksAsked: 30,
    caveat: caveat(s.count, 30),
  };
}

/** A taped distance against the cloud. */
export interface DistanceCheck {
  from: string;
  to: string;
  tapedM: number;
  foundM: number;
  /** Found − taped. */
  differenceM: number;
  /** Expected SD of the difference, of both ends and the tape. */
  expectedSdM: number;
  /** |difference| / SD. */
  testT: number;
  agrees: boolean;
}

/** A place in the cloud with 1 SD of each coordinate, metres. */
export interface FoundPlace {
  at: [number, number, number];
  sd: [number, number, number];
}

/** Differences beyond this many SDs do not agree. */
const DISTANCE_LIMIT = 3;

/**
 * Compares a slope distance with that between two places found in the cloud.
 * @param scale distance on the ground divided by distance in coordinates (1 over the scale of the projection and height).
 */
export function checkDistance(
  taped: { from: string; to: string; valueM: number; sdM: number },
  a: FoundPlace,
  b: FoundPlace,
  scale: number,
): DistanceCheck {
  const d = [0, 1, 2].map((k) => (b.at[k] - a.at[k]) * (k < 2 ? scale : 1));
  const foundM = Math.hypot(d[0], d[1], d[2]);
  const variance = d.reduce((sum, v, k) => sum + (v / foundM) ** 2 * (a.sd[k] ** 2 + b.sd[k] ** 2), 0);
  const expectedSdM = Math.sqrt(variance + taped.sdM ** 2);
  const differenceM = foundM - taped.valueM;
  const testT = Math.abs(differenceM) / expectedSdM;
  return {
    from: taped.from,
    to: taped.to,
    tapedM: taped.valueM,
    foundM,
    differenceM,
    expectedSdM,
    testT,
    agrees: testT <= DISTANCE_LIMIT,
  };
}

/** A mark in a check of plan: its place in the cloud less its given one, metres; null where it has none. */
export interface PlanMark {
  name: string;
  role: MarkRole;
  given: [number, number, number];
  found: [number, number, number | null] | null;
  how: 'fit' | 'pick' | null;
  dE: number | null;
  dN: number | null;
  dH: number | null;
  sdE: number | null;
  sdN: number | null;
  expectedSdM: number | null;
  /** Length of the difference from the median of the check marks over its expected SD. */
  testT: number | null;
  flagged: boolean;
  used: boolean;
  /** Why a mark with a place does not enter the statistics. */
  apart: 'left out' | 'not independent' | 'too weak' | 'role' | null;
  points: number;
  note: string;
  picture: string | null;
  leftOut: string | null;
}

/** What was taped or levelled between two marks against the cloud, metres. */
export interface PlanDistance {
  from: string;
  to: string;
  kind: 'distance' | 'height';
  measuredM: number;
  foundM: number | null;
  differenceM: number | null;
  expectedSdM: number | null;
  testT: number | null;
  agrees: boolean | null;
  note: string;
}
