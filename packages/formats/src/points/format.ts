import { format, type About, type Format } from '../format';
import { inspectPoints } from './inspect';

/** Declares a format of points that are written as LAS to be worked on; every one is inspected alike. */
export const pointFormat = <const A extends About>(
  f: Format<A, never> & Required<Pick<Format<A, never>, 'points' | 'sniff'>>,
): Format<A, never> =>
  format<A, never>({
    ...f,
    inspect: async ({ path, name }, out, watch) => inspectPoints(await f.points(path, name), f.about.name, out, watch),
  });
