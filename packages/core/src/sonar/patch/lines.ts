import { type Vessel } from '../pings';
import { type Soundings } from '../reduce';

/** A line that can be reduced again with another mounting. */
export interface PatchLine {
  name: string;
  pings: number;
  beams: number;
  /** Mean course, radians from north, and speed, m/s. */
  courseRad: number;
  speedMps: number;
  /** Soundings of the line; `ping` counts from 0 within it. */
  reduce(vessel: Vessel): Soundings;
}

/** What is solved for, in this order. */
export const PATCH_TERMS = ['roll', 'pitch', 'heading', 'latency'] as const;
export type PatchTerm = (typeof PATCH_TERMS)[number];
export const TERMS = PATCH_TERMS.length;

/** Steps for differences: degrees, and seconds. */
const STEPS = [0.05, 0.05, 0.05, 0.005];

/** The vessel with corrections: degrees, and seconds. */
export function corrected(vessel: Vessel, by: ArrayLike<number>): Vessel {
  const { sensor } = vessel;
  const { roll, pitch, heading } = sensor.boresightDeg;
  const boresightDeg = { roll: roll + by[0], pitch: pitch + by[1], heading: heading + by[2] };
  return { ...vessel, sensor: { ...sensor, boresightDeg }, latencyS: vessel.latencyS + by[3] };
}

/** Soundings of all lines with how they move by each term, a degree or a second of it. */
export interface Moving {
  count: number;
  line: Uint16Array;
  ping: Uint32Array;
  angleDeg: Float32Array;
  /** Seconds from an even second near them. */
  t: Float64Array;
  /** About an origin near them, metres. */
  x: Float64Array;
  y: Float64Array;
  h: Float64Array;
  sdH: Float32Array;
  /** Metres below the head. */
  down: Float32Array;
  /** Easting, northing, height by term: [sounding × TERMS × 3]. */
  moves: Float32Array;
  origin: readonly [number, number];
}

/** Reduces all lines five times: as they are, and with each term a little larger. */
export function movingSoundings(
  lines: readonly PatchLine[],
  vessel: Vessel,
  origin?: readonly [number, number],
): Moving {
  const base = lines.map((l) => l.reduce(vessel));
  const total = base.reduce((sum, s) => sum + s.count, 0);
  const at = origin ?? [Math.round(base[0].eastingM[0] ?? 0), Math.round(base[0].northingM[0] ?? 0)];
  const startS = Math.floor(base[0].gpsS[0] ?? 0);
  const out: Moving = {
    count: 0,
    line: new Uint16Array(total),
    ping: new Uint32Array(total),
    angleDeg: new Float32Array(total),
    t: new Float64Array(total),
    x: new Float64Array(total),
    y: new Float64Array(total),
    h: new Float64Array(total),
    sdH: new Float32Array(total),
    down: new Float32Array(total),
    moves: new Float32Array(total * TERMS * 3),
    origin: at,
  };
  // where each sounding of a line stands, and in how many terms it was met again
  base.forEach((s, line) => {
    const { beams, pings } = lines[line];
    const slot = new Int32Array(pings * beams).fill(-1);
    const first = out.count;
    for (let i = 0; i < s.count; i++) {
      const o = first + i;
      slot[s.ping[i] * beams + s.beam[i]] = o;
      out.line[o] = line;
      out.ping[o] = s.ping[i];
      out.angleDeg[o] = s.angleDeg[i];
      out.t[o] = s.gpsS[i] - startS;
      out.x[o] = s.eastingM[i] - at[0];
      out.y[o] = s.northingM[i] - at[1];
      out.h[o] = s.heightM[i];
      out.sdH[o] = s.sdHM[i];
      out.down[o] = s.downM[i];
    }
    out.count += s.count;
    const met = new Uint8Array(s.count);
    for (let term = 0; term < TERMS; term++) {
      const by = [0, 0, 0, 0];
      by[term] = STEPS[term];
      const moved = lines[line].reduce(corrected(vessel, by));
      for (let i = 0; i < moved.count; i++) {
        const o = slot[moved.ping[i] * beams + moved.beam[i]];
        if (o < 0) continue;
        met[o - first]++;
        const m = (o * TERMS + term) * 3;
        out.moves[m] = (moved.eastingM[i] - at[0] - out.x[o]) / STEPS[term];
        out.moves[m + 1] = (moved.northingM[i] - at[1] - out.y[o]) / STEPS[term];
        out.moves[m + 2] = (moved.heightM[i] - out.h[o]) / STEPS[term];
      }
    }
    // at the ends of a line a later time may lie outside the trajectory
    for (let i = 0; i < s.count; i++) if (met[i] < TERMS) out.h[first + i] = Number.NaN;
  });
  return out;
}
