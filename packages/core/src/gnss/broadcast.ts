import { type Orbits, type Sent } from './orbits';
import { EARTH_RATE_RADPS, LIGHT_MPS, type System } from './signals';

const WEEK_S = 604800;

/** A broadcast record of GPS or Galileo; angles in radians, metres, seconds. */
export interface Ephemeris {
  /** `G05`, `E11`. */
  satellite: string;
  system: System;
  /** GPS week and seconds of the clock's reference. */
  week: number;
  tocS: number;
  /** Seconds of the orbit's reference in `toeWeek`. */
  toeWeek: number;
  toeS: number;
  af0S: number;
  af1: number;
  af2PerS: number;
  sqrtA: number;
  e: number;
  i0: number;
  omega0: number;
  omega: number;
  m0: number;
  deltaN: number;
  iDot: number;
  omegaDot: number;
  cuc: number;
  cus: number;
  crcM: number;
  crsM: number;
  cic: number;
  cis: number;
  /** Group delay of the first band against the clock: T_GD of GPS, BGD E1–E5a of Galileo, whose clock is of that pair. */
  groupDelayS: number;
  /** BGD E1–E5b of Galileo, where the message holds it. */
  groupDelayE5bS?: number;
  /** 0 is healthy. */
  health: number;
  iode: number;
}

/** Gravitational constant of the Earth in each system's own definition, m³/s². */
const MU: Partial<Record<System, number>> = { G: 3.986005e14, E: 3.986004418e14, J: 3.986005e14 };
/** Hours either side of the reference for which a record is used. */
const VALID_S: Partial<Record<System, number>> = { G: 2.05 * 3600, E: 3.05 * 3600, J: 2.05 * 3600 };

/**
 * Position and clock of a satellite from its broadcast record (IS-GPS-200, table 20-IV; Galileo OS SIS ICD, 5.1.1):
 * Earth-fixed axes of the time given, no light time.
 * @param week, sow GPS time of transmission.
 * @param out x, y, z in metres; [3] clock offset in seconds with the relativistic term, without group delay.
 */
export function broadcastOrbit(r: Ephemeris, week: number, sow: number, out: Float64Array): void {
  const mu = MU[r.system] ?? 3.986005e14;
  const a = r.sqrtA * r.sqrtA;
  const tk = (week - r.toeWeek) * WEEK_S + (sow - r.toeS);
  const n = Math.sqrt(mu / (a * a * a)) + r.deltaN;
  const m = r.m0 + n * tk;
  let ek = m;
  for (let k = 0; k < 30; k++) {
    const step = (ek - r.e * Math.sin(ek) - m) / (1 - r.e * Math.cos(ek));
    ek -= step;
    if (Math.abs(step) < 1e-15) break;
  }
  const sinE = Math.sin(ek);
  const cosE = Math.cos(ek);
  const v = Math.atan2(Math.sqrt(1 - r.e * r.e) * sinE, cosE - r.e);
  const phi = v + r.omega;
  const s2 = Math.sin(2 * phi);
  const c2 = Math.cos(2 * phi);
  const u = phi + r.cus * s2 + r.cuc * c2;
  const radius = a * (1 - r.e * cosE) + r.crsM * s2 + r.crcM * c2;
  const i = r.i0 + r.iDot * tk + r.cis * s2 + r.cic * c2;
  const node = r.omega0 + (r.omegaDot - EARTH_RATE_RADPS) * tk - EARTH_RATE_RADPS * r.toeS;
  const x = radius * Math.cos(u);
  const y = radius * Math.sin(u);
  const cosN = Math.cos(node);
  const sinN = Math.sin(node);
  const cosI = Math.cos(i);
  out[0] = x * cosN - y * cosI * sinN;
  out[1] = x * sinN + y * cosI * cosN;
  out[2] = y * Math.sin(i);
  const dt = (week - r.week) * WEEK_S + (sow - r.tocS);
  const relativity = (-2 * Math.sqrt(mu)) / (LIGHT_MPS * LIGHT_MPS);
  out[3] = r.af0S + dt * (r.af1 + dt * r.af2PerS) + relativity * r.e * r.sqrtA * sinE;
}

/** Broadcast records by satellite; gives the one whose reference is nearest. */
export class BroadcastOrbits implements Orbits {
  private readonly bySatellite = new Map<string, Ephemeris[]>();
  /** The last answer by satellite: an epoch asks several times for the same. */
  private readonly last = new Map<string, Sent>();

  constructor(records: Ephemeris[]) {
    for (const r of records) {
      const list = this.bySatellite.get(r.satellite);
      if (list) list.push(r);
      else this.bySatellite.set(r.satellite, [r]);
    }
  }

  sent(satellite: string, week: number, bySatelliteS: number): Sent | undefined {
    let known = this.last.get(satellite);
    if (known && known.bySatelliteS === bySatelliteS && known.week === week) return known;
    const record = this.at(satellite, week, bySatelliteS);
    if (!record) return undefined;
    if (!known) this.last.set(satellite, (known = { week, bySatelliteS, orbit: new Float64Array(4), groupDelayS: 0 }));
    known.week = week;
    known.bySatelliteS = bySatelliteS;
    known.groupDelayS = record.groupDelayS;
    known.groupDelayE5bS = record.groupDelayE5bS;
    // relativity moves the time by 40 ns at most, the satellite in it by 0.2 mm across the line of sight
    const dt = (week - record.week) * WEEK_S + (bySatelliteS - record.tocS);
    const clock = record.af0S + dt * (record.af1 + dt * record.af2PerS);
    broadcastOrbit(record, week, bySatelliteS - clock, known.orbit);
    return known;
  }

  get satellites(): string[] {
    return [...this.bySatellite.keys()];
  }

  /** The healthy record nearest in time, or undefined when none is valid then. */
  at(satellite: string, week: number, sow: number): Ephemeris | undefined {
    let best: Ephemeris | undefined;
    let least = Infinity;
    for (const r of this.bySatellite.get(satellite) ?? []) {
      if (r.health !== 0) continue;
      const age = Math.abs((week - r.toeWeek) * WEEK_S + (sow - r.toeS));
      if (age <= (VALID_S[r.system] ?? 7200) && age < least) {
        best = r;
        least = age;
      }
    }
    return best;
  }
}
