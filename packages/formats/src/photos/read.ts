import { Problem } from '@longheron/core/shared';
import { type Photo } from '@longheron/core/trajectory';
import { decodeText, splitCsv } from '../csv';

/** Reads a list of photographs, `name,taken`, docs/formats/photos.md; `taken` may be empty. */
export function readPhotoList(bytes: Uint8Array, file: string): Photo[] {
  const table = splitCsv(decodeText(bytes, file), file);
  if (table.header.join() !== 'name,taken')
    throw new Problem('A list of photographs has the columns name and taken.', {
      code: 'photos-columns',
      file,
      place: 'header line',
      remedy: 'Name the columns so.',
    });
  return table.rows.map((row, r) => {
    // names may hold commas, times do not
    const comma = row.lastIndexOf(',');
    const text = row.slice(comma + 1).trim();
    const takenS = text === '' ? Number.NaN : Date.parse(/Z$/.test(text) ? text : `${text}Z`) / 1000;
    if (text !== '' && Number.isNaN(takenS))
      throw new Problem(`taken is "${text}": not a date and time.`, {
        code: 'photos-value',
        file,
        place: `line ${table.lineNumbers[r]}, column taken`,
        remedy: 'Write it as 2026-06-16T09:02:11.',
      });
    const name = row.slice(0, Math.max(0, comma)).trim();
    return { name: /^".*"$/.test(name) ? name.slice(1, -1).replaceAll('""', '"') : name, takenS };
  });
}
