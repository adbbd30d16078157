import { DEG } from '@longheron/core/frames';
import { SOLUTIONS, type Trajectory } from '@longheron/core/trajectory';
import { columnsOf, openColumns, type ColumnLayout, type ColumnRows } from '../csv';
import { TRAJECTORY_COLUMNS } from './columns';

/** Reads a trajectory that is in memory. Every wrong value is named by line and column. */
export async function readTrajectory(bytes: Uint8Array, file: string, pieceBytes?: number): Promise<Trajectory> {
  const { layout, columns } = layoutOf();
  const rows = await columnsOf(bytes, file, layout, pieceBytes);
  return assemble(rows, columns(rows.count));
}

/** Reads a trajectory from its file, piece by piece. */
export async function openTrajectory(path: string, file: string): Promise<Trajectory> {
  const { layout, columns } = layoutOf();
  const rows = await openColumns(path, file, layout);
  return assemble(rows, columns(rows.count));
}

function layoutOf(): { layout: ColumnLayout; columns: (count: number) => Map<string, Float64Array> } {
  const made = new Map<string, Float64Array>();
  const layout: ColumnLayout = {
    code: 'trajectory',
    required: ['gps_week', 'gps_sow', 'lat_deg', 'lon_deg', 'h_ell_m'],
    target(name, rows) {
      if (name === 'solution' || !(TRAJECTORY_COLUMNS as readonly string[]).includes(name)) return undefined;
      const into = new Float64Array(rows);
      made.set(name, into);
      return { into, from: 0, step: 1 };
    },
    words: { name: 'solution', of: (word) => Math.max(0, (SOLUTIONS as readonly string[]).indexOf(word)) },
    missing: 'See docs/formats/trajectory.md for the columns.',
    empty: 'The trajectory has no epochs.',
  };
  const columns = (count: number) =>
    new Map([...made].map(([name, v]) => [name, v.length === count ? v : v.subarray(0, count)]));
  return { layout, columns };
}

function assemble(rows: ColumnRows, columns: Map<string, Float64Array>): Trajectory {
  const { comments, lines } = rows;
  const solution = rows.words?.subarray(0, rows.count);
  const bad = (line: number, column: string, value: string, why: string) => rows.bad(line, column, value, why);
  const weeks = columns.get('gps_week')!;
  const sow = columns.get('gps_sow')!;
  const lat = columns.get('lat_deg')!,
    lon = columns.get('lon_deg')!,
    h = columns.get('h_ell_m')!;
  const week = weeks[0];
  for (let i = 0; i < sow.length; i++) {
    if (!(weeks[i] >= 0 && weeks[i] < 10000)) throw bad(lines[i], 'gps_week', String(weeks[i]), 'not a GPS week');
    sow[i] += (weeks[i] - week) * 604800;
    if (!(Math.abs(lat[i]) <= 90)) throw bad(lines[i], 'lat_deg', String(lat[i]), 'a latitude lies from -90 to 90');
    if (!(Math.abs(lon[i]) <= 360)) throw bad(lines[i], 'lon_deg', String(lon[i]), 'a longitude lies from -180 to 180');
    if (!(h[i] > -1000 && h[i] < 50000))
      throw bad(lines[i], 'h_ell_m', String(h[i]), 'outside -1 to 50 km; is the unit metres?');
    if (i > 0 && !(sow[i] > sow[i - 1])) throw bad(lines[i], 'gps_sow', String(sow[i]), 'time does not go forward');
  }
  const get = (name: string): Float64Array | undefined => {
    const column = columns.get(name);
    return column && column.every((v) => !Number.isNaN(v)) ? column : undefined;
  };
  // in place: a long trajectory is not in memory twice
  const radians = (name: string) => {
    const column = get(name);
    if (column) for (let i = 0; i < column.length; i++) column[i] *= DEG;
    return column;
  };
  const satellites = get('satellites');
  return {
    week,
    sow,
    latRad: radians('lat_deg')!,
    lonRad: radians('lon_deg')!,
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
