import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { type NoiseLevel } from '../drive/noise';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '../terrain';
import { listedTargets } from './cast';
import { scanners, spheres, SURVEYED, type ScanPoint } from './setUps';

const MARK_SD_M = 0.003;
const STATION_SD_M = 0.004;
/** The list of stations names the third scan at the place of the fifth. */
export const WRONG_STATION = { scan: 'stand_3', at: 'stand_5' } as const;

const HEAD = `# crs: ${SITE_SYSTEM}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note\n`;

/** Targets as the instrument listed them, by scan. */
export function targetsText(seed: number, level: NoiseLevel, system: ReferenceSystem): string {
  const rows = scanners(seed, system).flatMap((s) =>
    listedTargets(s, system, { seed, level }).map(
      (t) => `${s.name},${t.target},${t.at.map((v) => v.toFixed(4)).join(',')},${t.sdM},sphere`,
    ),
  );
  return `scan,target,x_m,y_m,z_m,sd_m,kind\n${rows.join('\n')}\n`;
}

function surveyed(points: ScanPoint[], role: string, sdM: number, random: Random, note: string): string[] {
  return points.map((p) => {
    const at = [SITE_ORIGIN_E + p.x, SITE_ORIGIN_N + p.y, p.heightM].map((v) => v + sdM * random.normal());
    return `${p.name},${role},${at.map((v) => v.toFixed(4)).join(',')},${sdM},${sdM},${sdM},${note}`;
  });
}

/** Four of the spheres, surveyed. */
export function spheresText(seed: number): string {
  const random = new Random(seed, 'surveyed spheres');
  const known = spheres().filter((p) => SURVEYED.includes(p.name));
  return `${HEAD}${surveyed(known, 'control', MARK_SD_M, random, 'centre of a sphere').join('\n')}\n`;
}

/** Where the scanners stood, one under the wrong name. */
export function stationsText(seed: number, system: ReferenceSystem): string {
  const random = new Random(seed, 'surveyed stations');
  const all = scanners(seed, system);
  const there = (name: string) => all.find((o) => o.name === name)!;
  const listed = all.map((s) => (s.name === WRONG_STATION.scan ? { ...there(WRONG_STATION.at), name: s.name } : s));
  return `${HEAD}${surveyed(listed, 'unused', STATION_SD_M, random, 'zero of the scanner').join('\n')}\n`;
}
