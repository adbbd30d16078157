import { DEG } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { SOLUTIONS, type Trajectory } from '@longheron/core/trajectory';
import { openFile } from '../bytes';
import { decodeText, readDecimal } from '../csv';
import { TRAJECTORY_COLUMNS } from './columns';

const REQUIRED = ['gps_week', 'gps_sow', 'lat_deg', 'lon_deg', 'h_ell_m'];
/** So much of a file is in memory at a time. */
const PIECE_BYTES = 1 << 23;
/** The first bytes say how a text is written. */
const LOOK_BYTES = 1 << 16;
const [CR, LF] = [13, 10];

/** Reads a trajectory that is in memory. Every wrong value is named by line and column. */
export function readTrajectory(bytes: Uint8Array, file: string, pieceBytes = PIECE_BYTES): Trajectory {
  const head = headOf(bytes.subarray(0, LOOK_BYTES), file);
  if (head === 'utf-16') {
    const text = decodeText(bytes, file);
    const rows = new TrajectoryRows(file, text.length >> 5);
    rows.push(text, true);
    return rows.finish();
  }
  refuseBinary(bytes, 0, file);
  const rows = new TrajectoryRows(file, linesIn(bytes));
  const decoder = new TextDecoder(head);
  for (let from = 0; from < bytes.length; from += pieceBytes)
    rows.push(decoder.decode(bytes.subarray(from, from + pieceBytes), { stream: true }));
  rows.push(decoder.decode(), true);
  return rows.finish();
}

/** Reads a trajectory from its file, piece by piece: memory is what its columns take, however long the file is. */
export async function openTrajectory(path: string, file: string): Promise<Trajectory> {
  const source = await openFile(path, file);
  try {
    const head = headOf(await source.read(0, Math.min(source.size, LOOK_BYTES)), file);
    if (head === 'utf-16') return readTrajectory(await source.read(0, source.size), file);
    const each = async (work: (bytes: Uint8Array, at: number) => void) => {
      for (let at = 0; at < source.size; at += PIECE_BYTES)
        work(await source.read(at, Math.min(PIECE_BYTES, source.size - at)), at);
    };
    let lines = 0;
    await each((bytes, at) => {
      refuseBinary(bytes, at, file);
      lines += linesIn(bytes);
    });
    const rows = new TrajectoryRows(file, lines);
    const decoder = new TextDecoder(head);
    await each((bytes) => rows.push(decoder.decode(bytes, { stream: true })));
    rows.push(decoder.decode(), true);
    return rows.finish();
  } finally {
    await source.close();
  }
}

/** How a text is written, by its first bytes. @throws Problem when there are none. */
function headOf(bytes: Uint8Array, file: string): 'utf-8' | 'windows-1252' | 'utf-16' {
  if (bytes.length === 0) decodeText(bytes, file);
  if ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)) return 'utf-16';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

function refuseBinary(bytes: Uint8Array, at: number, file: string): void {
  const zero = bytes.indexOf(0);
  if (zero < 0) return;
  throw new Problem('The file holds binary data, not text.', {
    ...{ code: 'file-encoding', file, place: `byte ${at + zero}` },
    remedy: 'Choose a text file in UTF-8.',
  });
}

/** Lines that may begin in these bytes. */
function linesIn(bytes: Uint8Array): number {
  let count = 1;
  for (let i = 0; i < bytes.length; i++) if (bytes[i] === LF || (bytes[i] === CR && bytes[i + 1] !== LF)) count++;
  return count;
}

function bad(file: string, line: number, column: string, value: string, why: string): Problem {
  return new Problem(`${column} is "${value}": ${why}.`, {
    code: 'trajectory-value',
    file,
    place: `line ${line}, column ${column}`,
    remedy: 'Correct the line, or export the trajectory again.',
  });
}

/** Rows of the layout from pieces of text as they come; a piece may end anywhere. */
class TrajectoryRows {
  private rest = '';
  private line = 0;
  private count = 0;
  private readonly comments = new Map<string, string>();
  private header: string[] | undefined;
  private readonly columns = new Map<string, Float64Array>();
  /** The columns by their place in a line. */
  private places: Array<Float64Array | undefined> = [];
  private solutionAt = -1;
  private solution: Uint8Array | undefined;
  private readonly lines: Int32Array;
  /** A line with too few or too many values: the last one of a file that was cut off, or a wrong one. */
  private odd: { line: number; count: number } | undefined;

  /** @param most rows that may come. */
  constructor(
    private readonly file: string,
    private readonly most: number,
  ) {
    this.lines = new Int32Array(most);
  }

  push(piece: string, last = false): void {
    const text = this.rest + piece;
    let from = 0;
    let lf = text.indexOf('\n');
    let cr = text.indexOf('\r');
    for (;;) {
      if (lf < 0 && cr < 0) break;
      const end = lf < 0 || (cr >= 0 && cr < lf) ? cr : lf;
      let next = end + 1;
      if (end === cr) {
        // what ends a line may itself be cut in two
        if (next === text.length && !last) break;
        if (text.charCodeAt(next) === LF) next++;
      }
      this.take(text, from, end);
      from = next;
      if (lf >= 0 && lf < from) lf = text.indexOf('\n', from);
      if (cr >= 0 && cr < from) cr = text.indexOf('\r', from);
    }
    this.rest = text.slice(from);
    if (!last || this.rest === '') return;
    this.take(this.rest, 0, this.rest.length);
    this.rest = '';
  }

  private take(text: string, from: number, to: number): void {
    this.line++;
    const first = text.charCodeAt(from);
    // digits begin a row; what else a line may be is looked at more closely
    if (!(first >= 48 && first <= 57)) {
      const line = text.slice(from, to).replace(/^\uFEFF/, '');
      if (line.trim() === '') return;
      if (line.startsWith('#')) {
        const match = /^#\s*([\w-]+)\s*:\s*(.*)$/.exec(line);
        if (match) this.comments.set(match[1].toLowerCase(), match[2].trim());
        return;
      }
      if (!this.header) return this.begin(line);
    }
    if (!this.header) return this.begin(text.slice(from, to));
    this.row(text, from, to);
  }

  private begin(line: string): void {
    this.header = line.split(',').map((c) => c.trim());
    for (const name of REQUIRED)
      if (!this.header.includes(name))
        throw new Problem(`The column ${name} is missing.`, {
          code: 'trajectory-columns',
          file: this.file,
          place: 'header line',
          remedy: 'See docs/formats/trajectory.md for the columns.',
        });
    for (const c of TRAJECTORY_COLUMNS)
      if (c !== 'solution' && this.header.includes(c))
        this.columns.set(c, new Float64Array(this.most).fill(Number.NaN));
    this.places = this.header.map((name) => this.columns.get(name));
    this.solutionAt = this.header.indexOf('solution');
    if (this.solutionAt >= 0) this.solution = new Uint8Array(this.most);
  }

  private row(text: string, start: number, end: number): void {
    const { places, solutionAt } = this;
    if (this.odd) throw this.oddLine(false);
    const r = this.count++;
    this.lines[r] = this.line;
    let cell = 0;
    for (let from = start; from <= end; cell++) {
      let to = text.indexOf(',', from);
      if (to < 0 || to > end) to = end;
      const out = places[cell];
      if (out !== undefined && to > from) {
        const value = readDecimal(text, from, to);
        if (!Number.isFinite(value)) {
          const count = text.slice(start, end).split(',').length;
          if (count === places.length)
            throw bad(this.file, this.line, this.header![cell], text.slice(from, to), 'not a number');
          this.odd = { line: this.line, count };
          return;
        }
        out[r] = value;
      } else if (cell === solutionAt)
        this.solution![r] = Math.max(0, SOLUTIONS.indexOf(text.slice(from, to).trim() as (typeof SOLUTIONS)[number]));
      from = to + 1;
    }
    if (cell !== places.length) this.odd = { line: this.line, count: cell };
  }

  private oddLine(last: boolean): Problem {
    const { line, count } = this.odd!;
    return new Problem(`The line has ${count} values, the header ${this.places.length}.`, {
      code: 'trajectory-line',
      file: this.file,
      place: `line ${line}`,
      remedy: last ? 'The file was cut off: copy it again from its origin.' : 'Correct the line.',
    });
  }

  finish(): Trajectory {
    if (!this.header)
      throw new Problem('The file has no header line.', {
        ...{ code: 'csv-header', file: this.file, place: 'line 1', remedy: 'See docs/formats for the columns.' },
      });
    if (this.odd) throw this.oddLine(true);
    if (this.count === 0)
      throw new Problem('The trajectory has no epochs.', {
        code: 'trajectory-empty',
        file: this.file,
        place: 'after the header line',
        remedy: 'Copy the file again from its origin.',
      });
    const n = this.count;
    const columns = new Map([...this.columns].map(([name, v]) => [name, v.length === n ? v : v.subarray(0, n)]));
    return assemble(columns, this.solution?.subarray(0, n), this.comments, this.lines, this.file);
  }
}

function assemble(
  columns: Map<string, Float64Array>,
  solution: Uint8Array | undefined,
  comments: Map<string, string>,
  lines: Int32Array,
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
