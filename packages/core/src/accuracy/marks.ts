import { median } from '../numeric/statistics';
import { surfaceHeightAtMark, type Neighbourhood, type SurfaceHeight } from './heightAtMark';
import { heightStatistics, type HeightStatistics } from './statistics';

export type MarkRole = 'control' | 'check' | 'unused';
export type Cover = 'hard' | 'soft';

/** A mark in the project's system, metres. */
export interface Mark {
  name: string;
  role: MarkRole;
  eastingM: number;
  northingM: number;
  heightM: number;
  sdEM?: number;
  sdNM?: number;
  sdHM?: number;
  note?: string;
  /** What a foreign table has in its column of roles, when that is none of ours. */
  code?: string;
  /** Set when a person leaves it out; the report prints it. */
  leftOutReason?: string;
  /** Set when it helped to make what is checked, and how: it cannot prove that. */
  usedFor?: string;
}

/** Marks in grass, gravel or field count as soft; the note says so. */
export function coverOf(mark: Mark): Cover {
  return /\b(grass|soft|field|vegetat|gravel|soil|earth)/i.test(mark.note ?? '') ? 'soft' : 'hard';
}

export interface MarkResidual {
  mark: Mark;
  cover: Cover;
  surface: SurfaceHeight;
  /** Measured − reference; positive: the cloud is high. NaN when not found. */
  residualM: number;
  /** Expected SD of the residual: √(mark² + surface² + trajectory²). */
  expectedSdM: number;
  /** |r − m| / s of the outlier test; NaN when not tested. */
  testT: number;
  flagged: boolean;
  /** Enters the statistics: a check mark, found, not left out. */
  used: boolean;
  reason?: string;
}

export interface MarkCheck {
  residuals: MarkResidual[];
  /** Over all check marks used. */
  statistics: HeightStatistics;
  /** Over those on hard ground: what non-vegetated accuracy is stated by. */
  hard: HeightStatistics;
  /** Over those in grass and the like: what vegetated accuracy is stated by. */
  soft: HeightStatistics;
  /** RMS of the given SDs of the marks used on hard ground, metres. */
  markSdM: number;
}

/** Deviations beyond which a mark is flagged, and the distance that always matters, metres. */
export const FLAGGED_T = 3.5;
export const FLAGGED_BEYOND_M = 0.03;

/**
 * Height residuals at marks, statistics over check marks only, and the outlier test on every mark:
 * t = |r − m| / s, with m the median of the check marks of its cover and s the larger of 1.4826·MAD of those and
 * the expected SD; flagged when t > 3.5 and |r − m| is more than the tolerance, 3 cm at most. Nothing is dropped.
 * @param neighbourhoodOf ground points within 4 m of a mark.
 * @param trajectorySdM expected SD of the cloud's height at marks.
 * @param toleranceM what the work is asked for; an outlier smaller than that is none that matters.
 */
export function checkMarks(
  marks: Mark[],
  neighbourhoodOf: (mark: Mark) => Neighbourhood,
  trajectorySdM: number,
  toleranceM = FLAGGED_BEYOND_M,
): MarkCheck {
  const matters = Math.min(toleranceM, FLAGGED_BEYOND_M);
  const residuals = marks.map((mark): MarkResidual => {
    const surface = surfaceHeightAtMark(neighbourhoodOf(mark));
    const found = surface.method !== 'none';
    const expectedSdM = Math.hypot(mark.sdHM ?? 0, found ? surface.sdM || 0 : 0, trajectorySdM);
    const used = found && mark.role === 'check' && !mark.leftOutReason && !mark.usedFor;
    const reason = mark.leftOutReason
      ? `left out: ${mark.leftOutReason}`
      : mark.usedFor
        ? `not independent: ${mark.usedFor}`
        : surface.reason;
    return {
      mark,
      cover: coverOf(mark),
      surface,
      residualM: found ? surface.heightM - mark.heightM : Number.NaN,
      expectedSdM,
      testT: Number.NaN,
      flagged: false,
      used,
      reason,
    };
  });
  const judged = residuals.filter((r) => r.used);
  for (const r of residuals) {
    if (!Number.isFinite(r.residualM)) continue;
    let peers = judged.filter((p) => p.cover === r.cover).map((p) => p.residualM);
    if (peers.length < 3) peers = judged.map((p) => p.residualM);
    if (peers.length === 0) continue;
    const m = median(peers);
    const mad = 1.4826 * median(peers.map((p) => Math.abs(p - m)));
    const distance = Math.abs(r.residualM - m);
    r.testT = distance / Math.max(mad, r.expectedSdM, 1e-6);
    r.flagged = r.testT > FLAGGED_T && distance > matters;
    if (r.flagged)
      r.reason = `${(100 * distance).toFixed(1)} cm from the median of ${peers.length} check marks, ${r.testT.toFixed(1)} times the expected SD`;
  }
  const of = (cover: Cover) => judged.filter((r) => r.cover === cover);
  const values = (list: MarkResidual[]) => heightStatistics(list.map((r) => r.residualM));
  const hard = of('hard');
  return {
    residuals,
    statistics: values(judged),
    hard: values(hard),
    soft: values(of('soft')),
    markSdM: hard.length ? Math.sqrt(hard.reduce((sum, r) => sum + (r.mark.sdHM ?? 0) ** 2, 0) / hard.length) : 0,
  };
}
