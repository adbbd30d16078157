import { Random } from '@longheron/core/numeric';
import { type AirStrength } from './air';

/** What a session is like. */
export const SESSION_KINDS = [
  'open',
  'gps',
  'galileo',
  'south',
  'north',
  'older',
  'jumps',
  'oneband',
  'long',
  'rough',
  'street',
] as const;
export type SessionKind = (typeof SESSION_KINDS)[number];

/** Errors of one receiver, 1 SD. */
export interface ReceiverStrength {
  codeM: number;
  phaseM: number;
  codePathM: number;
  phasePathM: number;
  /** Shortest and longest time that multipath stays alike, seconds. */
  pathTauS: [number, number];
}

/** How often things go wrong, by satellite and hour. */
export interface Mishaps {
  slipsPerHour: number;
  /** Share of slips that the receiver tells. */
  told: number;
  /** Times without the second band, by satellite and hour; a share of them ends with a slip that nobody tells. */
  missingPerHour: number;
  missingSlips: number;
  /** Codes by way of a reflection, by satellite and hour. */
  reflectedPerHour: number;
  /** Times without any satellite, by hour. */
  blindPerHour: number;
  /** Part of the horizon behind buildings, radians, and how high these stand. */
  walls: number;
  wallSin: number;
}

export interface SessionStrengths {
  kind: SessionKind;
  latRad: number;
  lonRad: number;
  heightM: number;
  baselineM: number;
  climbM: number;
  systems: string;
  bands: 1 | 2;
  rateHz: number;
  lengthS: number;
  rover: ReceiverStrength;
  base: ReceiverStrength;
  air: AirStrength;
  mishaps: Mishaps;
  /** The code's clock is set back by a millisecond, the phase's runs on. */
  jumps: boolean;
  /** Drift of the rover's clock, seconds by second. */
  drift: number;
  /** Broadcast orbits and clocks are off by this, 1 SD, metres. */
  orbitM: number;
  /** Metres a second. */
  speed: number;
}

const RAD = Math.PI / 180;
const QUIET: Mishaps = {
  slipsPerHour: 0.5,
  told: 0.6,
  missingPerHour: 1,
  missingSlips: 0.3,
  reflectedPerHour: 0,
  blindPerHour: 0,
  walls: 0,
  wallSin: 0,
};

/** Draws a session of a kind: where, how far, how noisy, what goes wrong. */
export function drawStrengths(kind: SessionKind, seed: number): SessionStrengths {
  const r = new Random(seed, `session ${kind}`);
  const level = Math.exp(r.between(Math.log(0.5), Math.log(2)));
  const receiver = (more: number): ReceiverStrength => ({
    codeM: more * level * r.between(0.15, 0.4),
    phaseM: more * level * r.between(0.0009, 0.0022),
    codePathM: more * level * r.between(0.15, 0.5),
    phasePathM: more * level * r.between(0.0015, 0.004),
    pathTauS: [r.between(8, 30), r.between(40, 160)],
  });
  const long = kind === 'long' || kind === 'rough';
  const lat = kind === 'south' ? r.between(-48, -20) : kind === 'north' ? r.between(62, 71) : r.between(30, 58);
  const rough = kind === 'rough';
  const waveKm = r.between(120, 300);
  // a wave adds 2π·amplitude over length to the gradient
  const wave = rough ? r.between(1, 4) * 1e-6 : r.between(0, 0.4) * 1e-6;
  return {
    kind,
    latRad: lat * RAD,
    lonRad: (kind === 'south' ? r.between(-75, -45) : r.between(-120, 140)) * RAD,
    heightM: r.between(0, 900),
    baselineM: long ? 28000 * r.between(0.95, 1.05) : kind === 'oneband' ? 2000 : r.between(300, 2000),
    climbM: long ? r.between(-150, 250) : r.between(-40, 80),
    systems: kind === 'gps' || kind === 'older' ? 'G' : kind === 'galileo' ? 'E' : 'GE',
    bands: kind === 'oneband' ? 1 : 2,
    rateHz: kind === 'older' || long ? 1 : r.uniform() < 0.5 ? 1 : 2,
    lengthS: long ? 2400 : kind === 'oneband' ? 1500 : 1200,
    rover: receiver(1),
    base: receiver(0.8),
    air: {
      ionosphereM: r.between(1, 12),
      gradient: (rough ? r.between(1, 4) : r.between(0, 0.6)) * 1e-6,
      waveM: (wave * waveKm * 1000) / (2 * Math.PI),
      waveKm,
      wavePeriodS: r.between(600, 1800),
      wetM: r.between(0.03, 0.28),
      wetPerKm: r.between(0, 0.0006),
      wetWalkM: r.between(0.003, 0.02),
    },
    mishaps:
      kind === 'street'
        ? {
            slipsPerHour: 20,
            told: 0.5,
            missingPerHour: 20,
            missingSlips: 0.5,
            reflectedPerHour: 12,
            blindPerHour: 9,
            walls: r.between(1, 3),
            wallSin: Math.sin(r.between(25, 50) * RAD),
          }
        : { ...QUIET, missingPerHour: kind === 'open' || kind === 'older' ? 6 : 1 },
    jumps: kind === 'jumps' || (kind !== 'older' && r.uniform() < 0.25),
    drift: r.between(-1, 1) * (kind === 'jumps' ? 1e-5 : 1e-6),
    orbitM: r.between(0.4, 1.6),
    speed: r.between(2, 14),
  };
}
