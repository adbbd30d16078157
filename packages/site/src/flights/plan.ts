import { type AnglesDeg } from '@longheron/core/frames';
import { Random, type Vector3 } from '@longheron/core/numeric';
import { type Land } from '../scenes/land';
import { drawWaves } from '../scenes/land';

/** A line of a flight over a square area, metres about its middle. */
export interface FlightLine {
  from: [number, number];
  to: [number, number];
}

/** A gabled house: ridge along its length, turned by its bearing. */
export interface House {
  x: number;
  y: number;
  bearingRad: number;
  halfLengthM: number;
  halfWidthM: number;
  eavesM: number;
  ridgeM: number;
}

/** A crown from whose inside returns come. */
export interface Grove {
  x: number;
  y: number;
  radiusM: number;
  heightM: number;
}

/** Strengths of a flight, each drawn from the seed unless given. */
export interface FlightPlan {
  seed: number;
  heightM: number;
  speedMps: number;
  lines: FlightLine[];
  /** Between the end of a line and the start of the next, seconds. */
  turnS: number;
  pulsesPerS: number;
  scansPerS: number;
  halfAngleDeg: number;
  rangeSdM: number;
  angleSdDeg: number;
  boresightDeg: AnglesDeg;
  leverArmM: Vector3;
  /** Errors of the stated trajectory: deviations and correlation times. */
  positionSdM: Vector3;
  attitudeSdDeg: Vector3;
  positionTauS: number;
  attitudeTauS: number;
  /** A slow drift in height planted in one line, metres from its first to its last moment. */
  drift?: { line: number; heightM: number };
  halfAreaM: number;
  houses: House[];
  groves: Grove[];
  land: Land;
}

export type Pattern = 'both ways' | 'crossing' | 'one way';

/** Parallel lines with a crossing one, with none, or all flown one way. */
export function drawFlightPlan(seed: number, pattern: Pattern = 'crossing', size = 1, lines = 6): FlightPlan {
  const r = new Random(seed, `flight ${pattern}`);
  const halfAreaM = 210 * Math.sqrt(size);
  const heightM = r.between(220, 280);
  const halfAngleDeg = 30;
  const spacing = (2 * halfAreaM) / lines;
  const reach = halfAreaM + 30;
  const rows: FlightLine[] = Array.from({ length: lines }, (_, k) => {
    const x = -halfAreaM + spacing * (k + 0.5);
    const north = pattern === 'one way' || k % 2 === 0;
    return north ? { from: [x, -reach], to: [x, reach] } : { from: [x, reach], to: [x, -reach] };
  });
  if (pattern === 'crossing') rows.push({ from: [reach, 10], to: [-reach, 10] });
  const angle = (sd: number) => sd * r.normal();
  const land: Land = {
    baseM: 5,
    tilt: [r.between(-0.02, 0.02), r.between(-0.02, 0.02)],
    waves: drawWaves(r, 4, [60, 250], r.between(0.05, 0.15)),
    rises: [],
    ravines: [],
  };
  for (let k = 0; k < 2; k++) {
    const course = { angleRad: r.between(0, Math.PI), offsetM: r.between(-100, 100), waverM: 0, waveM: 60, phase: 0 };
    land.rises.push({ course, riseM: r.between(2, 5), widthM: r.between(8, 16) });
  }
  const within = () => r.between(-halfAreaM + 15, halfAreaM - 15);
  return {
    seed,
    heightM,
    speedMps: r.between(40, 55),
    lines: rows,
    turnS: r.between(40, 80),
    pulsesPerS: 40000 * Math.sqrt(size) * 0.5,
    scansPerS: 60,
    halfAngleDeg,
    rangeSdM: 0.015,
    angleSdDeg: 0.004,
    boresightDeg: { roll: angle(0.05), pitch: angle(0.06), heading: angle(0.09) },
    leverArmM: [0.2, -0.1, 0.35],
    positionSdM: [0.01, 0.01, 0.013],
    attitudeSdDeg: [0.004, 0.004, 0.01],
    positionTauS: r.between(15, 60),
    attitudeTauS: r.between(30, 120),
    halfAreaM,
    houses: Array.from({ length: Math.round(14 * size) }, () => ({
      x: within(),
      y: within(),
      bearingRad: r.between(0, Math.PI),
      halfLengthM: r.between(6, 14),
      halfWidthM: r.between(4, 7),
      eavesM: r.between(2.5, 6),
      ridgeM: r.between(2, 4),
    })),
    groves: Array.from({ length: Math.round(20 * size) }, () => ({
      x: within(),
      y: within(),
      radiusM: r.between(3, 9),
      heightM: r.between(5, 14),
    })),
    land,
  };
}
