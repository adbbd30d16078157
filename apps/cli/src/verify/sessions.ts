import { BroadcastOrbits, KINEMATIC_DEFAULTS, kinematicPositions, type KinematicEpoch } from '@longheron/core/gnss';
import { drawSession, type DrawnSession, type SessionKind, type SessionStrengths } from '@longheron/site/sessions';

/** What a drawn session's positions are like, against its truth. */
export interface SessionFigures {
  kind: SessionKind;
  seed: number;
  epochs: number;
  fixed: number;
  /** Epochs called fixed that are off by more than 10 cm and five stated deviations. */
  wrong: number;
  /** Epochs of any kind that are off by more than five stated deviations, and 5 cm. */
  beyond: number;
  /** Largest error of a fixed epoch, metres. */
  worstM: number;
  /** RMS of fixed epochs, plan and height, metres. */
  planM: number;
  heightM: number;
  /** RMS in space of epochs that are not fixed, after the first five minutes, metres. */
  floatM: number;
  /** Sums of squared errors over variances, of fixed and of other epochs, and their numbers (three each epoch). */
  fixedShare: [number, number];
  otherShare: [number, number];
  /** Share of fixed epochs after the first quarter of an hour. */
  lateFixed: number;
  ms: number;
}

/** Positions of a drawn session as anybody would compute them, with no knowledge of how it was drawn. */
export function solveDrawn(session: DrawnSession): { epochs: KinematicEpoch[]; ms: number } {
  const began = performance.now();
  const epochs = kinematicPositions(
    session.rover,
    session.base,
    session.baseM,
    new BroadcastOrbits(session.records),
    KINEMATIC_DEFAULTS,
  );
  return { epochs, ms: performance.now() - began };
}

/** Errors east, north, up of an epoch, metres, and their stated variances. */
export function errorOf(session: DrawnSession, e: KinematicEpoch): { enu: number[]; variance: number[] } {
  const truth = session.placeAt(e.sow);
  const { east, north, up } = session.axes;
  const enu: number[] = [];
  const variance: number[] = [];
  for (const axis of [east, north, up]) {
    let d = 0;
    let q = 0;
    for (let i = 0; i < 3; i++) {
      d += axis[i] * (e.xyzM[i] - truth[i]);
      for (let j = 0; j < 3; j++) q += axis[i] * e.covariance[3 * i + j] * axis[j];
    }
    enu.push(d);
    variance.push(q);
  }
  return { enu, variance };
}

export function judgeSession(
  kind: SessionKind,
  seed: number,
  change: Partial<SessionStrengths> = {},
  each?: (e: KinematicEpoch, error: ReturnType<typeof errorOf>, session: DrawnSession) => void,
): SessionFigures {
  const session = drawSession(kind, seed, change);
  const { epochs, ms } = solveDrawn(session);
  const out: SessionFigures = {
    kind,
    seed,
    epochs: session.rover.sow.length,
    fixed: 0,
    wrong: 0,
    beyond: 0,
    worstM: 0,
    planM: 0,
    heightM: 0,
    floatM: 0,
    fixedShare: [0, 0],
    otherShare: [0, 0],
    lateFixed: 0,
    ms,
  };
  let floats = 0;
  let late = 0;
  const begin = session.rover.sow[0];
  for (const e of epochs) {
    const error = errorOf(session, e);
    each?.(e, error, session);
    const { enu, variance } = error;
    const off2 = enu.reduce((s, v) => s + v * v, 0);
    const stated2 = variance.reduce((s, v) => s + v, 0);
    const share = enu.reduce((s, v, k) => s + (v * v) / variance[k], 0);
    const isFixed = e.solution === 'fixed';
    if (off2 > 25 * stated2 && off2 > 0.0025) out.beyond++;
    if (e.sow - begin > 900) {
      late++;
      if (isFixed) out.lateFixed++;
    }
    const shares = isFixed ? out.fixedShare : out.otherShare;
    shares[0] += share;
    shares[1] += 3;
    if (isFixed) {
      out.fixed++;
      out.planM += enu[0] ** 2 + enu[1] ** 2;
      out.heightM += enu[2] ** 2;
      out.worstM = Math.max(out.worstM, Math.sqrt(off2));
      if (off2 > 0.01 && off2 > 25 * stated2) out.wrong++;
    } else if (e.sow - begin > 300) {
      floats++;
      out.floatM += off2;
    }
  }
  out.planM = Math.sqrt(out.planM / Math.max(1, out.fixed));
  out.heightM = Math.sqrt(out.heightM / Math.max(1, out.fixed));
  out.floatM = Math.sqrt(out.floatM / Math.max(1, floats));
  out.lateFixed = late ? out.lateFixed / late : 0;
  return out;
}
