import { geodeticToEcef, type ReferenceSystem } from '@longheron/core/frames';
import { GPS_WEEK } from '../drive';
import { observe, ROVER_ANTENNA, type SiteAir, type SiteEpoch, type SiteSatellite } from '../gnss';
import { trueMarks } from '../marks';
import { groundAt, SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

export * from './exposures';

/** Antenna reference point over the tip of the pole, metres. */
export const POLE_M = 1.8;
/** Marks occupied, in order: on footways and in grass, some known as check marks. */
export const OCCUPIED = ['K2', 'K10', 'K3', 'C3', 'K13', 'K5', 'C4'];
const STAY_S = 45;
const WALK_MPS = 1.3;
/** Standing about before the first and after the last, seconds. */
const STANDBY_S = 20;

export interface Occupation {
  name: string;
  startSow: number;
  endSow: number;
}

/** The walk with a pole: where its antenna is at any time, and when which mark was occupied. */
export interface PoleWalk {
  startSow: number;
  endSow: number;
  occupations: Occupation[];
  /** Antenna reference point, Earth-centred metres. */
  antennaAt(sow: number, out: Float64Array): void;
}

/** From mark to mark at walking pace with the antenna swaying; still over each for three quarters of a minute. */
export function poleWalk(system: ReferenceSystem, startSow: number): PoleWalk {
  const all = trueMarks();
  const marks = OCCUPIED.map((name) => all.find((m) => m.name === name)!);
  const occupations: Occupation[] = [];
  let t = startSow;
  const first = { x: marks[0].x - 8, y: marks[0].y - 5 };
  const legs: Array<{ from: number; to: number; a: { x: number; y: number }; b: { x: number; y: number } }> = [];
  let at = first;
  t += STANDBY_S;
  for (const m of marks) {
    const walk = Math.hypot(m.x - at.x, m.y - at.y) / WALK_MPS;
    legs.push({ from: t, to: t + walk, a: at, b: m });
    t += walk;
    occupations.push({ name: m.name, startSow: t, endSow: t + STAY_S });
    t += STAY_S;
    at = m;
  }
  const endSow = t + STANDBY_S / 4;
  const geo = new Float64Array(3);
  const antennaAt = (sow: number, out: Float64Array) => {
    const k = occupations.findIndex((o) => sow >= o.startSow && sow <= o.endSow);
    let x: number;
    let y: number;
    let h: number;
    if (k >= 0 || sow > occupations[occupations.length - 1].endSow) {
      const m = marks[k >= 0 ? k : marks.length - 1];
      [x, y, h] = [m.x, m.y, m.heightM + POLE_M];
    } else {
      const leg = legs.find((l) => sow >= l.from && sow < l.to);
      const u = leg ? (sow - leg.from) / (leg.to - leg.from) : 0;
      const [a, b] = leg ? [leg.a, leg.b] : [first, first];
      x = a.x + u * (b.x - a.x) + 0.04 * Math.sin(5.3 * sow);
      y = a.y + u * (b.y - a.y);
      h = groundAt(x, y) + POLE_M + 0.12 + 0.03 * Math.sin(11 * sow);
    }
    system.unproject(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, h, geo);
    out.set(geodeticToEcef(system.ellipsoid, geo[0], geo[1], geo[2]));
  };
  return { startSow, endSow, occupations, antennaAt };
}

/** The field book as CSV. */
export function fieldBookText(list: Occupation[]): string {
  const row = (o: Occupation) =>
    `${o.name},${GPS_WEEK},${o.startSow.toFixed(1)},${o.endSow.toFixed(1)},${POLE_M.toFixed(3)}\n`;
  return `name,gps_week,start_sow,end_sow,antenna_height_m\n${list.map(row).join('')}`;
}

/** What the receiver on the pole observes, once a second. */
export function observePole(walk: PoleWalk, sky: SiteSatellite[], air: SiteAir): SiteEpoch[] {
  const first = Math.ceil(walk.startSow);
  const tags = Float64Array.from({ length: Math.floor(walk.endSow) - first + 1 }, (_, k) => first + k);
  return observe(
    {
      name: 'pole',
      tags,
      antenna: ROVER_ANTENNA,
      place: walk.antennaAt,
      clockS: (tag) => 1.3e-6 + 2e-9 * (tag - first),
    },
    sky,
    air,
  );
}
