import { Random } from '@longheron/core/numeric';
import { constellation, siteOrbit, type SiteSatellite } from '../gnss/constellation';

const LIGHT = 299792458;
const TURN = 7.2921151467e-5;

/** A satellite as it is, beside what its record says. */
export interface TrueSatellite {
  record: SiteSatellite;
  name: string;
  /** How far it stands from its record, Earth-fixed metres, and its clock, metres. */
  off: [number, number, number];
  clockOffM: number;
}

export function drawSky(seed: number, toeSow: number, systems: string, orbitM: number): TrueSatellite[] {
  const random = new Random(seed, 'what broadcast records leave');
  return constellation(seed, toeSow)
    .filter((s) => systems.includes(s.name[0]))
    .map((record) => ({
      record,
      name: record.name,
      off: [0, 1, 2].map(() => orbitM * random.normal()) as [number, number, number],
      clockOffM: 0.5 * orbitM * random.normal(),
    }));
}

const at = new Float64Array(4);

/** The way of a signal that arrives at a place: metres, direction to the satellite, its clock in seconds. */
export function wayOf(s: TrueSatellite, sow: number, place: ArrayLike<number>) {
  let seconds = 0.078;
  let lengthM = 0;
  const unit: [number, number, number] = [0, 0, 0];
  for (let k = 0; k < 4; k++) {
    siteOrbit(s.record, sow - seconds, at);
    const [c, w] = [Math.cos(TURN * seconds), Math.sin(TURN * seconds)];
    const [px, py, pz] = [at[0] + s.off[0], at[1] + s.off[1], at[2] + s.off[2]];
    const x = px * c + py * w - place[0];
    const y = py * c - px * w - place[1];
    const z = pz - place[2];
    lengthM = Math.sqrt(x * x + y * y + z * z);
    seconds = lengthM / LIGHT;
    unit[0] = x / lengthM;
    unit[1] = y / lengthM;
    unit[2] = z / lengthM;
  }
  return { lengthM, unit, clockS: at[3] + s.clockOffM / LIGHT };
}
