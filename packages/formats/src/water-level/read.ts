import { Problem } from '@longheron/core/shared';
import { decodeText, splitCsv } from '../csv';

/** Levels of the water at a gauge, in order of time. */
export interface WaterLevel {
  /** Name of the datum that levels count from; '' when the file does not say. */
  above: string;
  /** Height of that datum above the ellipsoid, metres, where it is known. */
  datumEllM: number | null;
  /** 1 SD of a level, metres; null when the file does not say. */
  sdM: number | null;
  week: Int32Array;
  sow: Float64Array;
  levelM: Float64Array;
}

const COLUMNS = ['gps_week', 'gps_sow', 'level_m'];
const MAX_LEVEL_M = 50;
const MAX_DATUM_M = 9000;

/** Reads levels at a gauge, docs/formats/water-level.md. Every wrong value is named by line and column. */
export function readWaterLevel(bytes: Uint8Array, file: string): WaterLevel {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = COLUMNS.map((name) => table.header.indexOf(name));
  const refuse = (text: string, place: string, remedy: string) =>
    new Problem(text, { code: 'water-level', file, place, remedy });
  if (at.includes(-1))
    throw refuse(
      `The column ${COLUMNS[at.indexOf(-1)]} is missing.`,
      'header line',
      `Levels of the water have the columns ${COLUMNS.join(', ')}.`,
    );
  const said = table.comments.get('datum_ell_m');
  const datumEllM = said === undefined ? null : Number(said);
  if (datumEllM !== null && !(said?.trim() && Math.abs(datumEllM) < MAX_DATUM_M))
    throw refuse(
      `datum_ell_m is "${said}": no height above the ellipsoid in metres.`,
      'comment datum_ell_m',
      'Correct the line, or leave it out.',
    );
  const saidSd = table.comments.get('sd_m');
  const sdM = saidSd === undefined ? null : Number(saidSd);
  if (sdM !== null && !(sdM > 0 && sdM < MAX_LEVEL_M))
    throw refuse(`sd_m is "${saidSd}": no deviation in metres.`, 'comment sd_m', 'Correct the line, or leave it out.');
  const n = table.rows.length;
  const out: WaterLevel = {
    above: table.comments.get('above') ?? '',
    datumEllM,
    sdM,
    week: new Int32Array(n),
    sow: new Float64Array(n),
    levelM: new Float64Array(n),
  };
  table.rows.forEach((row, r) => {
    const cells = row.split(',');
    const values = at.map((k, c) => {
      const text = cells[k]?.trim() ?? '';
      const v = text === '' ? Number.NaN : Number(text);
      if (!Number.isFinite(v) || (c === 2 && Math.abs(v) > MAX_LEVEL_M))
        throw refuse(
          `${COLUMNS[c]} is "${text}": ${c === 2 ? 'no level in metres' : 'not a number'}.`,
          `line ${table.lineNumbers[r]}, column ${COLUMNS[c]}`,
          'Correct the line.',
        );
      return v;
    });
    [out.week[r], out.sow[r], out.levelM[r]] = values;
    if (r > 0 && secondsOf(out, r) <= secondsOf(out, r - 1))
      throw refuse(
        'The level is not later than the one before.',
        `line ${table.lineNumbers[r]}, column gps_sow`,
        'Write the levels in the order of time, each once.',
      );
  });
  return out;
}

const WEEK_S = 604800;
const secondsOf = ({ week, sow }: WaterLevel, r: number) => week[r] * WEEK_S + sow[r];
