/** Noise of the simulated instruments, 1 SD, at medium level; low is half, high double. */
export const NOISE = {
  trajectoryNorthM: 0.008,
  trajectoryEastM: 0.008,
  trajectoryDownM: 0.01,
  trajectoryPositionTauS: 20,
  trajectoryRollPitchDeg: 0.004,
  trajectoryHeadingDeg: 0.01,
  trajectoryAttitudeTauS: 60,
  rangeM: 0.008,
  angleDeg: 0.01,
  beamRad: 0.0005,
  leverArmM: 0.003,
  boresightDeg: 0.01,
  markPlanM: 0.005,
  markHeightM: 0.008,
} as const;

export type NoiseLevel = 'none' | 'low' | 'medium' | 'high';
export const NOISE_FACTOR: Record<NoiseLevel, number> = { none: 0, low: 0.5, medium: 1, high: 2 };

export const GPS_WEEK = 2423;
/** Tuesday 2026-06-16, 09:00:00 GPS time. */
export const DRIVE_START_SOW = 2 * 86400 + 9 * 3600;
