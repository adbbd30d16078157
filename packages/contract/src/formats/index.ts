import { type About, type Written } from '@longheron/formats/format/about';
import { FORMATS, POINT_FORMATS } from './index.generated';

export { FORMATS, POINT_FORMATS };
export { type About, type Written };

/** A way in which points are written. */
export type PointFormat = keyof typeof POINT_FORMATS & string;

/** Endings of files that points are written to, with their dot. */
export const POINT_ENDINGS: readonly string[] = [
  ...new Set(Object.values<Written>(POINT_FORMATS).map(({ extension }) => `.${extension}`)),
];

/** Formats one by one, each with all that may be said of one. */
export const ABOUT_FORMATS: readonly About[] = Object.values(FORMATS);

export const isPointFormat = (name: string): name is PointFormat => name in POINT_FORMATS;

/** A way in which points are written, with all that may be said of one. */
export const pointFormat = (name: PointFormat): Written => POINT_FORMATS[name];

/** Choices of the way in which points are written. */
export const POINT_FORMAT_CHOICES = Object.fromEntries(
  Object.entries<Written>(POINT_FORMATS).map(([name, { label }]) => [name, label]),
) as { [N in PointFormat]: string };

/** What can be imported, in the order of what it is: name, what it holds, usual endings. */
export const READ_FORMATS: readonly About[] = ABOUT_FORMATS.filter((f) => f.kind).sort((a, b) =>
  a.name.localeCompare(b.name, 'en', { sensitivity: 'base' }),
);
