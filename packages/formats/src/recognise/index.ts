import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { openFile } from '../bytes';

export type FileKind = 'point-cloud' | 'laser-returns' | 'trajectory' | 'marks' | 'mounting' | 'table' | 'unknown';

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
    return recogniseBytes(await source.read(0, Math.min(size, 4096)));
  } finally {
    await source.close();
  }
}

export function recogniseBytes(head: Uint8Array): FileKind {
  const starts = (text: string) => [...text].every((c, i) => head[i] === c.charCodeAt(0));
  if (starts('LASF')) return 'point-cloud';
  if (HDF5.every((b, i) => head[i] === b)) return 'laser-returns';
  const text = new TextDecoder('utf-8').decode(head).replace(/^\uFEFF/, '');
  if (/^\s*\{/.test(text) && /"sensors"\s*:/.test(text)) return 'mounting';
  if (head.includes(0)) return 'unknown';
  const first = text.split(/\r\n|\n|\r/).find((l) => l.trim() && !l.startsWith('#')) ?? '';
  const columns = first
    .toLowerCase()
    .split(/[,;\t]/)
    .map((c) => c.trim());
  if (columns.includes('gps_sow') && columns.includes('lat_deg')) return 'trajectory';
  if (columns.some((c) => /^easting/.test(c)) && columns.some((c) => /^northing/.test(c))) return 'marks';
  if (first.split(/[,;\t]|\s+/).length >= 4 && /\d/.test(text)) return 'table';
  return 'unknown';
}
