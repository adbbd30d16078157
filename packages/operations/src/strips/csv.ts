import { type Contents } from '@longheron/contract/kinds';
import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';

/** Pairs of strips before and after as CSV in the unit of the project, units in the columns' names. */
export function pairsCsv({ figures, crs }: Contents['adjustment'], unit: LengthUnit): string {
  const u = UNIT_SYMBOL[unit];
  const length = (v: number | null) => (v === null ? '' : (v / METRES_PER[unit]).toFixed(5));
  return [
    `# crs: ${crs}`,
    '# differences along the normal, the second less the first; noise: what the scatter of the points lets expect',
    `first_strip,first_head,second_strip,second_head,patches,before_mean_${u},before_rms_${u},after_mean_${u},after_rms_${u},noise_${u}`,
    ...figures.overlaps.map((p) =>
      [
        p.first.strip,
        p.first.head,
        p.second.strip,
        p.second.head,
        p.patches,
        ...[p.before_mean_m, p.before_rms_m, p.after_mean_m, p.after_rms_m, p.noise_m].map(length),
      ].join(','),
    ),
    '',
  ].join('\n');
}

/** Corrections of heights along the lines as CSV. */
export function driftCsv({ figures }: Contents['adjustment'], unit: LengthUnit): string {
  const u = UNIT_SYMBOL[unit];
  const length = (v: number) => (v / METRES_PER[unit]).toFixed(5);
  return [
    '# added to the heights of the trajectory; straight between these moments',
    `strip,gps_sow,dh_${u},sd_${u}`,
    ...figures.drift.map((d) => [d.strip, d.gps_sow.toFixed(3), length(d.dh_m), length(d.sd_m)].join(',')),
    '',
  ].join('\n');
}
