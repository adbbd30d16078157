import { solveNormal } from '../numeric/leastSquares';
import { type KinematicEpoch } from './epoch';

/** Two passes are at odds when they are this far apart: square over variance of three axes. */
const AT_ODDS = 25;
/** Two fixed positions of one epoch use the same phases: they agree to millimetres or have other integers. */
const SAME_INTEGERS_M = 0.02;
/** A deviation so much smaller comes from more integers. */
const MORE_KNOWN = 0.9;

/**
 * One position of the forward and the reverse pass: the mean by what each knows. What is called fixed must not be
 * contradicted by the other pass beyond the deviations of both; what is, is called float, with the disagreement in its
 * covariance.
 */
export function combinePasses(f: KinematicEpoch, r: KinematicEpoch): KinematicEpoch {
  const off = Float64Array.from(f.xyzM, (v, k) => v - r.xyzM[k]);
  const separationM = Math.hypot(off[0], off[1], off[2]);
  const mean = Float64Array.from(f.xyzM, (v, k) => (v + r.xyzM[k]) / 2);
  if (f.solution === 'fixed' && r.solution === 'fixed') {
    const [sdF, sdR] = [f, r].map((e) => Math.sqrt(e.covariance[0] + e.covariance[4] + e.covariance[8]));
    if (separationM < Math.max(SAME_INTEGERS_M, 2 * Math.max(sdF, sdR))) {
      // the same phases: with more integers known one pass says all that the other does
      if (Math.min(sdF, sdR) < MORE_KNOWN * Math.max(sdF, sdR)) return { ...(sdF < sdR ? f : r), separationM };
      return { ...f, xyzM: mean, separationM };
    }
    // two sets of integers: neither is to be trusted
    return { ...widened(f, mean, off, separationM), contrary: true };
  }
  if (f.solution === 'code' || r.solution === 'code') {
    if (f.solution !== r.solution) return f.solution === 'code' ? r : f;
    return { ...f, xyzM: mean, separationM };
  }
  const odds = distance2(off, f.covariance, r.covariance);
  if (f.solution !== r.solution) {
    const better = f.solution === 'fixed' ? f : r;
    return odds > AT_ODDS ? widened(better, better.xyzM, off, Number.NaN) : better;
  }
  const both = weighted(f, r);
  if (!both) return widened(f, mean, off, separationM);
  const out: KinematicEpoch = { ...f, ...both, separationM };
  return odds > 9 ? { ...out, covariance: withOff(out.covariance, off, odds > AT_ODDS ? 0.5 : 0.25) } : out;
}

/** Not fixed after all; what the passes disagree by is in the covariance. */
function widened(e: KinematicEpoch, xyzM: Float64Array, off: Float64Array, separationM: number): KinematicEpoch {
  return { ...e, xyzM, covariance: withOff(e.covariance, off, 1), solution: 'float', air: undefined, separationM };
}

/** Adds a share of the square of a disagreement, along it and, less, across. */
function withOff(covariance: Float64Array, off: Float64Array, share: number): Float64Array {
  const round = (off[0] ** 2 + off[1] ** 2 + off[2] ** 2) / 9;
  return covariance.map((v, k) => v + share * (off[Math.floor(k / 3)] * off[k % 3] + (k % 4 === 0 ? round : 0)));
}

function distance2(off: Float64Array, a: Float64Array, b: Float64Array): number {
  const solved = off.slice();
  if (
    !solveNormal(
      a.map((v, k) => v + b[k]),
      solved,
      3,
    )
  )
    return 0;
  return off.reduce((s, v, k) => s + v * solved[k], 0);
}

/** Mean of two positions by their covariances, which know different times of the session. */
function weighted(f: KinematicEpoch, r: KinematicEpoch): { xyzM: Float64Array; covariance: Float64Array } | undefined {
  const off = Float64Array.from(r.xyzM, (v, k) => v - f.xyzM[k]);
  const wf = solveNormal(f.covariance.slice(), new Float64Array(3), 3);
  const wr = solveNormal(r.covariance.slice(), new Float64Array(3), 3);
  if (!wf || !wr) return undefined;
  const b = new Float64Array(3);
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) b[i] += wr[3 * i + j] * off[j];
  const covariance = solveNormal(
    wf.map((v, k) => v + wr[k]),
    b,
    3,
  );
  return covariance && { covariance, xyzM: Float64Array.from(f.xyzM, (v, k) => v + b[k]) };
}
