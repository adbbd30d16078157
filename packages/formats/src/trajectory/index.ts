import { readFile } from 'node:fs/promises';
import { DEG } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { SOLUTIONS, type Trajectory } from '@longheron/core/trajectory';
import { decodeText, readDecimal, splitCsv, type CsvTable } from '../csv';
import { format } from '../format';
import about from './about';
import { inspectTrajectory } from './inspect';

/** Header of the trajectory layout, docs/formats/trajectory.md. */
export const TRAJECTORY_COLUMNS = [
  'gps_week',
  'gps_sow',
  'lat_deg',
  'lon_deg',
  'h_ell_m',
  'roll_deg',
  'pitch_deg',
  'heading_deg',
  'vn_mps',
  've_mps',
  'vd_mps',
  'sd_n_m',
  'sd_e_m',
  'sd_d_m',
  'sd_roll_deg',
  'sd_pitch_deg',
  'sd_heading_deg',
  'solution',
  'satellites',
] as const;

const REQUIRED = ['gps_week', 'gps_sow', 'lat_deg', 'lon_deg', 'h_ell_m'];

function bad(file: string, line: number, column: string, value: string, why: string): Problem {
  return new Problem(`${column} is "${value}": ${why}.`, {
    code: 'trajectory-value',
    file,
    place: `line ${line}, column ${column}`,
    remedy: 'Correct the line, or export the trajectory again.',
  });
}

function checkCount(row: string, table: CsvTable, index: number, file: string): void {
  const count = row.split(',').length;
  if (count === table.header.length) return;
  throw new Problem(`The line has ${count} values, the header ${table.header.length}.`, {
    code: 'trajectory-line',
    file,
    place: `line ${table.lineNumbers[index]}`,
    remedy:
      index === table.rows.length - 1 ? 'The file was cut off: copy it again from its origin.' : 'Correct the line.',
  });
}

/** Reads a trajectory. Every wrong value is named by line and column. */
export function readTrajectory(bytes: Uint8Array, file: string): Trajectory {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = new Map(table.header.map((name, i) => [name, i]));
  for (const name of REQUIRED)
    if (!at.has(name))
      throw new Problem(`The column ${name} is missing.`, {
        code: 'trajectory-columns',
        file,
        place: 'header line',
        remedy: 'See docs/formats/trajectory.md for the columns.',
      });
  const n = table.rows.length;
  if (n === 0)
    throw new Problem('The trajectory has no epochs.', {
      code: 'trajectory-empty',
      file,
      place: 'after the header line',
      remedy: 'Copy the file again from its origin.',
    });
  const columns = new Map<string, Float64Array>();
  for (const c of TRAJECTORY_COLUMNS)
    if (c !== 'solution' && at.has(c)) columns.set(c, new Float64Array(n).fill(Number.NaN));
  // the columns by their place in a line
  const places = table.header.map((name) => columns.get(name));
  const solutionAt = at.get('solution') ?? -1;
  const solution = solutionAt >= 0 ? new Uint8Array(n) : undefined;
  for (let r = 0; r < n; r++) {
    const row = table.rows[r];
    let cell = 0;
    for (let from = 0; from <= row.length; cell++) {
      let to = row.indexOf(',', from);
      if (to < 0) to = row.length;
      const out = places[cell];
      if (out !== undefined && to > from) {
        const value = readDecimal(row, from, to);
        if (!Number.isFinite(value)) {
          checkCount(row, table, r, file);
          throw bad(file, table.lineNumbers[r], table.header[cell], row.slice(from, to), 'not a number');
        }
        out[r] = value;
      } else if (cell === solutionAt)
        solution![r] = Math.max(0, SOLUTIONS.indexOf(row.slice(from, to).trim() as never));
      from = to + 1;
    }
    if (cell !== places.length) checkCount(row, table, r, file);
  }
  return assemble(columns, solution, table.comments, table.lineNumbers, file);
}

function assemble(
  columns: Map<string, Float64Array>,
  solution: Uint8Array | undefined,
  comments: Map<string, string>,
  lines: number[],
  file: string,
): Trajectory {
  const weeks = columns.get('gps_week')!;
  const sow = columns.get('gps_sow')!;
  const lat = columns.get('lat_deg')!,
    lon = columns.get('lon_deg')!,
    h = columns.get('h_ell_m')!;
  const week = weeks[0];
  for (let i = 0; i < sow.length; i++) {
    if (!(weeks[i] >= 0 && weeks[i] < 10000)) throw bad(file, lines[i], 'gps_week', String(weeks[i]), 'not a GPS week');
    sow[i] += (weeks[i] - week) * 604800;
    if (!(Math.abs(lat[i]) <= 90))
      throw bad(file, lines[i], 'lat_deg', String(lat[i]), 'a latitude lies from -90 to 90');
    if (!(Math.abs(lon[i]) <= 360))
      throw bad(file, lines[i], 'lon_deg', String(lon[i]), 'a longitude lies from -180 to 180');
    if (!(h[i] > -1000 && h[i] < 50000))
      throw bad(file, lines[i], 'h_ell_m', String(h[i]), 'outside -1 to 50 km; is the unit metres?');
    if (i > 0 && !(sow[i] > sow[i - 1]))
      throw bad(file, lines[i], 'gps_sow', String(sow[i]), 'time does not go forward');
  }
  const get = (name: string): Float64Array | undefined => {
    const column = columns.get(name);
    return column && column.every((v) => !Number.isNaN(v)) ? column : undefined;
  };
  const radians = (name: string) => get(name)?.map((v) => v * DEG);
  const satellites = get('satellites');
  return {
    week,
    sow,
    latRad: lat.map((v) => v * DEG),
    lonRad: lon.map((v) => v * DEG),
    hEllM: h,
    rollRad: radians('roll_deg'),
    pitchRad: radians('pitch_deg'),
    headingRad: radians('heading_deg'),
    vnMps: get('vn_mps'),
    veMps: get('ve_mps'),
    vdMps: get('vd_mps'),
    sdNM: get('sd_n_m'),
    sdEM: get('sd_e_m'),
    sdDM: get('sd_d_m'),
    sdRollRad: radians('sd_roll_deg'),
    sdPitchRad: radians('sd_pitch_deg'),
    sdHeadingRad: radians('sd_heading_deg'),
    solution,
    satellites: satellites && Uint8Array.from(satellites),
    crs: comments.get('crs'),
    epoch: comments.has('epoch') ? Number(comments.get('epoch')) : undefined,
    point: comments.get('point'),
    source: comments.get('source'),
  };
}

/** Writes the layout, in pieces of a few thousand lines. */
export function* trajectoryCsv(t: Trajectory): Generator<string> {
  let out = '';
  if (t.crs) out += `# crs: ${t.crs}\n`;
  if (t.epoch !== undefined) out += `# epoch: ${t.epoch}\n`;
  if (t.point) out += `# point: ${t.point}\n`;
  if (t.source) out += `# source: ${t.source}\n`;
  out += `${TRAJECTORY_COLUMNS.join(',')}\n`;
  const deg = (v: Float64Array | undefined, i: number, d: number) => (v ? (v[i] / DEG).toFixed(d) : '');
  const met = (v: Float64Array | undefined, i: number) => (v ? v[i].toFixed(4) : '');
  for (let i = 0; i < t.sow.length; i++) {
    const turn = Math.floor(t.sow[i] / 604800);
    out +=
      [
        t.week + turn,
        (t.sow[i] - turn * 604800).toFixed(6),
        (t.latRad[i] / DEG).toFixed(10),
        (t.lonRad[i] / DEG).toFixed(10),
        t.hEllM[i].toFixed(4),
        deg(t.rollRad, i, 5),
        deg(t.pitchRad, i, 5),
        deg(t.headingRad, i, 5),
        met(t.vnMps, i),
        met(t.veMps, i),
        met(t.vdMps, i),
        met(t.sdNM, i),
        met(t.sdEM, i),
        met(t.sdDM, i),
        deg(t.sdRollRad, i, 5),
        deg(t.sdPitchRad, i, 5),
        deg(t.sdHeadingRad, i, 5),
        t.solution ? SOLUTIONS[t.solution[i]] : '',
        t.satellites ? t.satellites[i] : '',
      ].join(',') + '\n';
    if ((i & 0xfff) === 0xfff) {
      yield out;
      out = '';
    }
  }
  yield out;
}

/** Trajectories with named columns. */
export default format({
  about,
  sniff: (look) => (look.has('gps_sow', 'lat_deg') ? 'columns' : undefined),
  inspect: async (file, out) => inspectTrajectory(out, readTrajectory(await readFile(file.path), file.name)),
  open: async (path, name) => readTrajectory(await readFile(path), name),
});
