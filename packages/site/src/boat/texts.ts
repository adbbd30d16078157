import { type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { type Cast } from '@longheron/core/sonar';
import { GPS_WEEK, type TrueDrive } from '../drive';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { GAUGE_ZERO_M, waterLevelM } from './water';

const DEGREES = 180 / Math.PI;
const LEVEL_SD_M = 0.01;
/** Readings of the gauge are this far apart, and begin and end as long before and after the voyage, seconds. */
const EVERY_S = 60;

/** Casts as the probe's program writes them. */
export function castsText(casts: readonly Cast[]): string {
  const rows = ['cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m,speed_mps'];
  for (const c of casts)
    for (let k = 0; k < c.depthM.length; k++)
      rows.push(
        `${c.name},${c.week},${c.sow.toFixed(1)},${(c.latRad * DEGREES).toFixed(7)},${(c.lonRad * DEGREES).toFixed(7)},${c.depthM[k].toFixed(2)},${c.speedMps[k].toFixed(2)}`,
      );
  return `# sd_mps: ${casts[0].sdMps}\n${rows.join('\n')}\n`;
}

/** Levels at the gauge of the reach, which stands at the quay. */
export function gaugeText(drive: TrueDrive, system: ReferenceSystem, seed: number, factor: number): string {
  const random = new Random(seed, 'gauge');
  const geo = new Float64Array(3);
  system.unproject(SITE_ORIGIN_E + 390, SITE_ORIGIN_N + 330, GAUGE_ZERO_M, geo);
  const rows: string[] = [];
  const end = (drive.x.length - 1) * drive.stepS;
  for (let t = -5 * EVERY_S; t < end + 5 * EVERY_S; t += EVERY_S) {
    const level = waterLevelM(t) - GAUGE_ZERO_M + factor * LEVEL_SD_M * random.normal();
    rows.push(`${GPS_WEEK},${(drive.startSow + t).toFixed(1)},${level.toFixed(3)}`);
  }
  return `# above: Reach gauge zero\n# datum_ell_m: ${geo[2].toFixed(3)}\n# sd_m: ${LEVEL_SD_M}\ngps_week,gps_sow,level_m\n${rows.join('\n')}\n`;
}
