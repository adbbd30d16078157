import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { constants, gunzipSync } from 'node:zlib';
import { Problem } from '@longheron/core/shared';
import { openFile, type ByteSource } from '../bytes';
import { readTiffPlace } from '../tiff';
import { gtxHead } from '../geoid';
import { layoutOf } from '../xyz';

export type FileKind =
  | 'point-cloud'
  | 'laser-returns'
  | 'trajectory'
  | 'inertial'
  | 'gnss-observations'
  | 'gnss-navigation'
  | 'gnss-orbits'
  | 'gnss-antennas'
  | 'events'
  | 'occupations'
  | 'measurements'
  | 'photos'
  | 'geoid'
  | 'outlines'
  | 'raster'
  | 'marks'
  | 'mounting'
  | 'table'
  | 'unknown';

/** As much of a file is looked at. */
const LOOK_BYTES = 4096;
/** As much of an HDF5 file is looked through for the names of its columns. */
const HDF5_LOOK_BYTES = 1 << 20;
const HDF5 = [0x89, 0x48, 0x44, 0x46, 0x0d, 0x0a, 0x1a, 0x0a];

/** Tells what a file is by its content; its name plays no part. */
export async function recogniseFile(path: string, name = basename(path)): Promise<FileKind> {
  const size = await stat(path).then(
    (s) => s.size,
    () => {
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    },
  );
  if (size === 0)
    throw new Problem('The file is empty.', {
      code: 'file-empty',
      file: name,
      place: 'byte 0',
      remedy: 'Copy the file again from its origin.',
    });
  const source = await openFile(path, name);
  try {
    const head = await source.read(0, Math.min(size, LOOK_BYTES));
    if (gtxHead(head, size)) return 'geoid';
    if (isTiff(head)) return await tiffKind(source);
    if (isHdf5(head)) return hdf5Kind(await source.read(0, Math.min(size, HDF5_LOOK_BYTES)));
    if (head[0] !== 0x1f || head[1] !== 0x8b) return recogniseBytes(head);
    // of compressed files only RINEX is read
    const kind = recogniseBytes(unpackedHead(head));
    return kind.startsWith('gnss-') ? kind : 'unknown';
  } finally {
    await source.close();
  }
}

/** One band in latitude and longitude is a geoid; all else is a picture. */
async function tiffKind(source: ByteSource): Promise<FileKind> {
  const place = await readTiffPlace(source);
  return place.geographic && place.bands === 1 ? 'geoid' : 'raster';
}

const isTiff = (head: Uint8Array) =>
  (head[0] === 0x49 && head[1] === 0x49 && head[2] === 42) || (head[0] === 0x4d && head[1] === 0x4d && head[3] === 42);

/** The first bytes of what a gzip stream holds; empty when it is none. */
function unpackedHead(packed: Uint8Array): Uint8Array {
  try {
    return gunzipSync(packed, { finishFlush: constants.Z_SYNC_FLUSH, maxOutputLength: 1 << 22 });
  } catch {
    return new Uint8Array(0);
  }
}

const isHdf5 = (head: Uint8Array) => HDF5.every((b, i) => head[i] === b);

/** By the names of columns, which stand in front of the data; the readers check the layout. */
function hdf5Kind(head: Uint8Array): FileKind {
  const text = Buffer.from(head.buffer, head.byteOffset, head.byteLength);
  return text.includes('gyro') || text.includes('accel') ? 'inertial' : 'laser-returns';
}

export function recogniseBytes(head: Uint8Array): FileKind {
  const starts = (text: string) => [...text].every((c, i) => head[i] === c.charCodeAt(0));
  if (starts('LASF') || starts('ASTM-E57') || starts('ply\n') || starts('ply\r\n')) return 'point-cloud';
  if (isHdf5(head)) return hdf5Kind(head);
  const text = new TextDecoder('utf-8').decode(head).replace(/^\uFEFF/, '');
  const rinex = /^.{20}(.).{39}(RINEX VERSION \/ TYPE|CRINEX VERS)/.exec(text);
  // the compact form is told apart, and refused with its remedy, by the reader
  if (rinex)
    return rinex[2].startsWith('C') || rinex[1].toUpperCase() === 'O' ? 'gnss-observations' : 'gnss-navigation';
  if (/^.{60}ANTEX VERSION \/ SYST/.test(text)) return 'gnss-antennas';
  if (/^#[a-d][PV]\d{4} /.test(text)) return 'gnss-orbits';
  if (/^\s*\{/.test(text) && /"sensors"\s*:/.test(text)) return 'mounting';
  if (
    /^\s*\{/.test(text) &&
    /"type"\s*:\s*"(FeatureCollection|Feature|GeometryCollection|(Multi)?(Polygon|LineString))"/.test(text)
  )
    return 'outlines';
  if (head.includes(0)) return 'unknown';
  const first = text.split(/\r\n|\n|\r/).find((l) => l.trim() && !l.startsWith('#')) ?? '';
  const columns = first
    .toLowerCase()
    .split(/[,;\t]/)
    .map((c) => c.trim());
  if (columns.includes('gps_sow') && columns.includes('lat_deg')) return 'trajectory';
  if (columns.includes('gps_sow') && columns.includes('gx_radps')) return 'inertial';
  if (columns.includes('start_sow') && columns.includes('end_sow')) return 'occupations';
  if (columns.includes('from') && columns.includes('to') && columns.includes('value_m')) return 'measurements';
  if (columns.includes('gps_sow') && columns.includes('label')) return 'events';
  if (columns.includes('name') && columns.includes('taken')) return 'photos';
  // points written as text by name: what no list of marks has
  if (columns.includes('intensity') && columns.includes('classification')) return 'point-cloud';
  if (columns.some((c) => /^easting/.test(c)) && columns.some((c) => /^northing/.test(c))) return 'marks';
  // a list of marks in numbers alone fits into the look; a cloud goes on
  if (head.length >= LOOK_BYTES && layoutOf(text.split(/\r\n|\n|\r/).slice(0, -1))) return 'point-cloud';
  if (first.split(/[,;\t]|\s+/).length >= 4 && /\d/.test(text)) return 'table';
  return 'unknown';
}
