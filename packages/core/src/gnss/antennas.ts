import { type System } from './signals';

/** Phase centre of an antenna on one signal (ANTEX 1.4). */
export interface PhaseCentre {
  /** Mean phase centre from the antenna reference point: north, east, up; of a satellite x, y, z. Metres. */
  offsetM: [number, number, number];
  /** Variations by zenith angle for all azimuths, metres. */
  anyAzimuthM: Float64Array;
  /** Variations by azimuth, then zenith angle; undefined where the calibration has none. */
  byAzimuthM?: Float64Array;
}

/** Calibration of one antenna. */
export interface Antenna {
  /** Type, 16 characters, and radome, 4: as RINEX headers name it. */
  type: string;
  /** Serial number, or the satellite's name; empty for all of a type. */
  serial: string;
  zenithFromDeg: number;
  zenithStepDeg: number;
  /** 0 when no variations by azimuth are given. */
  azimuthStepDeg: number;
  /** By system and band as ANTEX names them: `G01`, `E05`. */
  centres: Map<string, PhaseCentre>;
  /** Time from which and to which it holds, GPS seconds. */
  fromGps: number;
  toGps: number;
}

const RADOME_AT = 16;
const padded = (name: string) => name.trimEnd().padEnd(20).slice(0, 20);

export interface FoundAntenna {
  antenna: Antenna;
  /** What stands in for what was asked for; empty when it is the antenna itself. */
  instead: string;
}

/**
 * Calibration for the antenna a header names. With an unknown radome that of the antenna without one is taken, and
 * said. @param name type and radome as in a header, with or without filling blanks.
 */
export function findAntenna(list: readonly Antenna[], name: string): FoundAntenna | undefined {
  const asked = padded(name);
  if (!asked.trim()) return undefined;
  const withRadome = asked.slice(RADOME_AT).trim() ? asked : `${asked.slice(0, RADOME_AT)}NONE`;
  const exact = list.find((a) => padded(a.type) === withRadome);
  if (exact) return { antenna: exact, instead: '' };
  const type = asked.slice(0, RADOME_AT);
  const bare = list.find((a) => padded(a.type) === `${type}NONE`);
  if (!bare) return undefined;
  return { antenna: bare, instead: `radome ${asked.slice(RADOME_AT).trim()} is unknown; calibrated without radome` };
}

/** Signals of GPS whose centres stand in for those of Galileo, where a calibration has none: the nearest frequency. */
const STAND_IN: Record<string, string> = { E01: 'G01', E05: 'G02', E07: 'G02', E08: 'G02', G05: 'G02' };

/** The centre of a signal, or of the one nearest in frequency. */
export function centreOf(a: Antenna, system: System, band: string): PhaseCentre | undefined {
  const name = `${system}${band.padStart(2, '0')}`;
  return a.centres.get(name) ?? a.centres.get(STAND_IN[name] ?? '');
}

/**
 * What a receiving antenna adds to the range from its reference point: −offset·direction + variation, metres.
 * @param azimuthRad NaN when the antenna's bearing is unknown, as on a moving platform: then only what holds for all
 * azimuths counts, offsets in plan included.
 */
export function phaseCentreM(a: Antenna, c: PhaseCentre, sinEl: number, azimuthRad: number): number {
  const [north, east, up] = c.offsetM;
  const zenith = (Math.acos(Math.min(1, Math.max(-1, sinEl))) * 180) / Math.PI;
  const steps = c.anyAzimuthM.length - 1;
  const at = Math.max(0, Math.min(steps, (zenith - a.zenithFromDeg) / a.zenithStepDeg));
  const k = Math.min(steps - 1, Math.floor(at));
  const u = at - k;
  const row = (table: Float64Array, first: number) => table[first + k] + u * (table[first + k + 1] - table[first + k]);
  if (Number.isNaN(azimuthRad)) return row(c.anyAzimuthM, 0) - up * sinEl;
  const cosEl = Math.sqrt(Math.max(0, 1 - sinEl * sinEl));
  const flat = cosEl * (north * Math.cos(azimuthRad) + east * Math.sin(azimuthRad));
  if (!c.byAzimuthM) return row(c.anyAzimuthM, 0) - up * sinEl - flat;
  const turn = ((((azimuthRad * 180) / Math.PI) % 360) + 360) % 360;
  const rows = c.byAzimuthM.length / (steps + 1);
  const az = turn / a.azimuthStepDeg;
  const r = Math.min(rows - 2, Math.floor(az));
  const v = az - r;
  const low = row(c.byAzimuthM, r * (steps + 1));
  const high = row(c.byAzimuthM, (r + 1) * (steps + 1));
  return low + v * (high - low) - up * sinEl - flat;
}
