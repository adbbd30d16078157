import { type Photo } from '@longheron/core/trajectory';

/** A list of photographs as CSV, docs/formats/photos.md: made where the photographs are, without sending them. */
export function photoListCsv(photos: readonly Photo[]): string {
  const time = (s: number) => (Number.isFinite(s) ? new Date(1000 * s).toISOString().replace(/Z$/, '') : '');
  const cell = (s: string) => (/[",\n]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);
  return `name,taken\n${photos.map((p) => `${cell(p.name)},${time(p.takenS)}\n`).join('')}`;
}
