import { Problem } from '@longheron/core/shared';
import {
  CAST_SD_MPS,
  checkCast,
  pressureDbar,
  SALINITY_PSU,
  soundSpeedMps,
  TEMPERATURE_C,
  type Cast,
} from '@longheron/core/sonar';
import { decodeText, splitCsv } from '../csv';

const DEG = Math.PI / 180;
const MUST = ['cast', 'gps_week', 'gps_sow', 'lat_deg', 'lon_deg', 'depth_m'];
const DEEPEST_M = 12_000;

/**
 * Reads casts, docs/formats/casts.md; speeds from temperature and salinity where there is none. Rows of a cast follow each
 * other. @throws Problem naming line and column, or cast and depth.
 */
export function readCasts(bytes: Uint8Array, file: string): Cast[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const refuse = (text: string, place: string, remedy: string) =>
    new Problem(text, { code: 'casts', file, place, remedy });
  const at = (name: string) => table.header.indexOf(name);
  const missing = MUST.find((name) => at(name) < 0);
  const hasSpeed = at('speed_mps') >= 0;
  if (missing || (!hasSpeed && (at('temperature_c') < 0 || at('salinity_psu') < 0)))
    throw refuse(
      `The column ${missing ?? 'speed_mps'} is missing.`,
      'header line',
      `Casts have the columns ${MUST.join(', ')}, and speed_mps or temperature_c and salinity_psu.`,
    );
  const said = table.comments.get('sd_mps');
  const sdMps = said === undefined ? CAST_SD_MPS : Number(said);
  if (!(sdMps > 0 && sdMps < 20))
    throw refuse(
      `sd_mps is "${said}": no deviation in metres a second.`,
      'comment sd_mps',
      'Correct the line, or leave it out.',
    );
  const out: Array<{ cast: Cast; depth: number[]; speed: number[] }> = [];
  const seen = new Set<string>();
  table.rows.forEach((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const number = (name: string, least: number, most: number) => {
      const text = cells[at(name)] ?? '';
      const value = text === '' ? Number.NaN : Number(text);
      if (value >= least && value <= most) return value;
      throw refuse(
        `${name} is "${text}": ${Number.isFinite(value) ? `outside ${least} to ${most}` : 'not a number'}.`,
        `line ${table.lineNumbers[r]}, column ${name}`,
        'Correct the line, or take it out.',
      );
    };
    const name = cells[at('cast')] ?? '';
    let current = out.at(-1);
    if (!current || current.cast.name !== name) {
      if (!name || seen.has(name))
        throw refuse(
          name ? `The cast "${name}" is interrupted by another.` : 'The cast has no name.',
          `line ${table.lineNumbers[r]}, column cast`,
          'Keep the rows of each cast together, under one name.',
        );
      seen.add(name);
      const none = new Float64Array(0);
      current = {
        cast: {
          name,
          week: number('gps_week', 0, 10_000),
          sow: number('gps_sow', 0, 1_300_000),
          latRad: number('lat_deg', -90, 90) * DEG,
          lonRad: number('lon_deg', -180, 180) * DEG,
          depthM: none,
          speedMps: none,
          sdMps,
        },
        depth: [],
        speed: [],
      };
      out.push(current);
    }
    const depth = number('depth_m', -5, DEEPEST_M);
    current.depth.push(depth);
    current.speed.push(
      hasSpeed
        ? number('speed_mps', 0, 1e5)
        : soundSpeedMps(
            number('temperature_c', ...TEMPERATURE_C),
            number('salinity_psu', ...SALINITY_PSU),
            pressureDbar(Math.max(0, depth), current.cast.latRad),
          ),
    );
  });
  if (!out.length)
    throw refuse(
      'There is no cast in the file.',
      'after the header line',
      'Export the casts again, or choose another file.',
    );
  return out.map(({ cast, depth, speed }) => {
    const whole = { ...cast, depthM: Float64Array.from(depth), speedMps: Float64Array.from(speed) };
    checkCast(whole, file);
    return whole;
  });
}
