import { Problem } from '@longheron/core/shared';
import { type Photo } from '@longheron/core/trajectory';
import { csvCell, decodeText, splitCsv } from '../csv';

export * from './exif';

/** Reads a list of photographs, `name,taken`, docs/formats/photos.md; `taken` may be empty. */
export function readPhotoList(bytes: Uint8Array, file: string): Photo[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const [name, taken] = ['name', 'taken'].map((c) => table.header.indexOf(c));
  if (name < 0 || taken < 0)
    throw new Problem('A list of photographs has the columns name and taken.', {
      code: 'photos-columns',
      file,
      place: 'header line',
      remedy: 'Name the columns so.',
    });
  return table.rows.map((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const text = cells[taken] ?? '';
    const takenS = text === '' ? Number.NaN : Date.parse(/Z$/.test(text) ? text : `${text}Z`) / 1000;
    if (text !== '' && Number.isNaN(takenS))
      throw new Problem(`taken is "${text}": not a date and time.`, {
        code: 'photos-value',
        file,
        place: `line ${table.lineNumbers[r]}, column taken`,
        remedy: 'Write it as 2026-06-16T09:02:11.',
      });
    return { name: cells[name] ?? '', takenS };
  });
}

/** The same as CSV. */
export function photoListCsv(photos: Photo[]): string {
  const time = (s: number) => (Number.isFinite(s) ? new Date(1000 * s).toISOString().replace(/Z$/, '') : '');
  return `name,taken\n${photos.map((p) => `${csvCell(p.name)},${time(p.takenS)}\n`).join('')}`;
}
