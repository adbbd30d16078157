import { type ReferenceSystem } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { type Context, type OpenedFile } from '../../computation/types';

export { frameNotices } from './frames';

/** Names of files by their paths, for messages. */
export const namesOf = (files: ReadonlyArray<OpenedFile | undefined>): Record<string, string> =>
  Object.fromEntries(files.flatMap((f) => (f ? [[f.path, f.name]] : [])));

/** The system to work in, as text. @throws Problem when none was given. */
export function crsFrom({ crs }: Context): string {
  if (crs) return crs;
  throw new Problem('No coordinate system was given.', {
    code: 'reference',
    place: '--crs',
    remedy: 'Set it in the reference line, or give it as EPSG:25832+5773.',
  });
}

export const systemFrom = (context: Context): ReferenceSystem => parseSystem(crsFrom(context));

const withUnit = (factor: number, digits: number, unit: string) => (v: unknown) =>
  typeof v === 'number' ? `${(factor * v).toFixed(digits)} ${unit}` : '–';

/** Metres in words. */
export const centimetres = withUnit(100, 1, 'cm');
export const millimetres = withUnit(1000, 0, 'mm');
export const percent = (v: unknown) => `${(100 * Number(v)).toFixed(1)} %`;

/** A number that JSON can hold; null for one that is none. */
export const finite = (v: number) => (Number.isFinite(v) ? v : null);
