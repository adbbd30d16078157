import { DEG, rotationFromAngles, rotationFromQuaternion } from '@longheron/core/frames';
import { type Matrix3 } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { parse } from 'csv-parse/sync';
import { decodeText } from '../csv';

/** Where a photograph was taken, and how what it refers to was turned. */
export interface PhotoPosition {
  image: string;
  /** Name of its camera, where the list says so. */
  camera?: string;
  latRad: number;
  lonRad: number;
  hEllM: number;
  /** The axes of the point to north, east, down; undefined without an attitude. */
  rotation?: Matrix3;
  /** 1 SD north, east, down, metres, where the list says it. */
  sdM?: [number, number, number];
  /** GPS seconds, where the list says so. */
  gpsS?: number;
}

export interface PhotoPositions {
  crs?: string;
  /** What positions and attitudes are of: a sensor's name, `imu`, `antenna`; `camera` for orientations. */
  point?: string;
  /** Attitudes turn the camera's frame itself, as an adjustment writes them. */
  oriented: boolean;
  rows: PhotoPosition[];
  /** 1 SD of the turn about each axis of an adjusted picture, degrees, row by row; NaN where it is not said. */
  sdTurnDeg: number[];
  /** Images that have no position. */
  without: string[];
}

/**
 * Reads positions of events (`label`, angles) or orientations of pictures (`image`, quaternion), docs/formats/events.md.
 * @throws Problem that names line and column.
 */
export function readPhotoPositions(bytes: Uint8Array, file: string): PhotoPositions {
  const text = decodeText(bytes, file);
  const comment = (key: string) => new RegExp(`^#\\s*${key}:\\s*(.+?)\\s*$`, 'm').exec(text)?.[1];
  const head = text.split(/\r\n|\n|\r/).findIndex((l) => l.trim() !== '' && !l.startsWith('#'));
  let table: string[][];
  try {
    table = parse(text, {
      comment: '#',
      comment_no_infix: true,
      skip_empty_lines: true,
      trim: true,
      relax_column_count: true,
    });
  } catch (error) {
    throw wrong(`The table cannot be read: ${(error as Error).message}.`, file, 'text');
  }
  const [header, ...lines] = table;
  const at = (name: string) => header?.indexOf(name) ?? -1;
  const oriented = at('qw') >= 0;
  const image = at('image') >= 0 ? at('image') : at('label');
  if (image < 0 || at('lat_deg') < 0 || at('lon_deg') < 0 || at('h_ell_m') < 0)
    throw wrong(
      'Positions of photographs have the columns label (or image), lat_deg, lon_deg and h_ell_m.',
      file,
      'header line',
    );
  const rows: PhotoPosition[] = [];
  const without: string[] = [];
  const sdTurnDeg: number[] = [];
  lines.forEach((cells, r) => {
    const place = (name: string) => `line ${head + r + 2}, column ${name}`;
    const number = (name: string) => {
      const cell = at(name) < 0 ? '' : (cells[at(name)] ?? '');
      if (cell === '') return Number.NaN;
      const value = Number(cell);
      if (!Number.isFinite(value)) throw wrong(`${name} is "${cell}": not a number.`, file, place(name));
      return value;
    };
    const name = cells[image] ?? '';
    const [lat, lon, h] = ['lat_deg', 'lon_deg', 'h_ell_m'].map(number);
    if (Number.isNaN(lat) || Number.isNaN(lon) || Number.isNaN(h)) {
      without.push(name);
      return;
    }
    if (Math.abs(lat) > 90 || Math.abs(lon) > 360)
      throw wrong(`Latitude ${lat}, longitude ${lon}: no place on Earth.`, file, place('lat_deg'));
    const camera = at('camera') < 0 ? '' : (cells[at('camera')] ?? '');
    const [week, sow] = ['gps_week', 'gps_sow'].map(number);
    const sd = ['sd_n_m', 'sd_e_m', 'sd_d_m'].map(number) as [number, number, number];
    sdTurnDeg.push(number('sd_rot_deg'));
    const rotation = oriented ? fromQuaternion(number) : fromAngles(number);
    rows.push({
      image: name,
      ...(camera ? { camera } : {}),
      latRad: lat * DEG,
      lonRad: lon * DEG,
      hEllM: h,
      ...(rotation ? { rotation } : {}),
      ...(sd.every((v) => v > 0) ? { sdM: sd } : {}),
      ...(Number.isFinite(week + sow) ? { gpsS: week * 604800 + sow } : {}),
    });
  });
  return { crs: comment('crs'), point: comment('point'), oriented, rows, sdTurnDeg, without };
}

/** A picture of a block that has a frame of its own. */
export interface LocalOrientation {
  image: string;
  camera: string;
  /** Metres in that frame. */
  at: [number, number, number];
  /** Camera axes into those of the frame. */
  rotation: Matrix3;
  sdM: [number, number, number];
  sdTurnDeg: number;
}

/** Reads orientations of a block in a frame of its own, docs/formats/block.md; pictures left out have none. */
export function readLocalOrientations(bytes: Uint8Array, file: string): LocalOrientation[] {
  const rows = parse<{ [column: string]: string }>(decodeText(bytes, file), {
    columns: true,
    comment: '#',
    comment_no_infix: true,
    skip_empty_lines: true,
    trim: true,
  });
  return rows.flatMap((row): LocalOrientation[] => {
    const number = (name: string) => (row[name] === '' || row[name] === undefined ? Number.NaN : Number(row[name]));
    const rotation = fromQuaternion(number);
    const at: [number, number, number] = [number('x_m'), number('y_m'), number('z_m')];
    if (!rotation || !at.every(Number.isFinite)) return [];
    const sdM: [number, number, number] = [number('sd_x_m'), number('sd_y_m'), number('sd_z_m')];
    return [{ image: row.image, camera: row.camera, at, rotation, sdM, sdTurnDeg: number('sd_rot_deg') || 0 }];
  });
}

function fromQuaternion(number: (name: string) => number): Matrix3 | undefined {
  const q = Float64Array.from(['qw', 'qx', 'qy', 'qz'], number);
  const length = Math.hypot(...q);
  if (!(length > 0)) return undefined;
  const out: Matrix3 = new Float64Array(9);
  rotationFromQuaternion(
    q.map((v) => v / length),
    0,
    out,
  );
  return out;
}

function fromAngles(number: (name: string) => number): Matrix3 | undefined {
  const [roll, pitch, heading] = ['roll_deg', 'pitch_deg', 'heading_deg'].map((n) => number(n) * DEG);
  return Number.isFinite(roll + pitch + heading) ? rotationFromAngles(roll, pitch, heading) : undefined;
}

const wrong = (text: string, file: string, place: string) =>
  new Problem(text, { code: 'positions', file, place, remedy: 'Correct the line, or make the positions again.' });
