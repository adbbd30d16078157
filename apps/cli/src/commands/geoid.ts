import { gridText } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { useGrid } from '@longheron/formats/crs';

/** What `--geoid` means, for the help of every command that takes it. */
export const GEOID_REASON =
  'GTX or GeoTIFF: heights of the system are above the geoid of the first grid; files may name any';

/** Ellipsoidal heights, said: grids are then known only for the files that name them. */
const ELLIPSOIDAL = /\+0$/;

/**
 * A system with its heights above the geoid in a file; every grid is known from then on by what it holds.
 * @param named as the flag has it, undefined when it was not given. @param paths of `--geoid`.
 * @throws Problem for heights that are named twice, or a file that is no geoid grid.
 */
export function aboveGeoid(named: string | undefined, paths: string[], flag: string): string | undefined {
  const [grid] = paths.map((path) => gridText(useGrid(path)));
  if (named === undefined || ELLIPSOIDAL.test(named)) return named?.replace(ELLIPSOIDAL, '');
  if (!grid) return named;
  if (named.includes('+'))
    throw new Problem(`--${flag} names heights already, --geoid names others.`, {
      code: 'option',
      remedy: `Write --${flag} ${named.split('+')[0]} --geoid ${paths.join(',')}.`,
    });
  return `${named}+${grid}`;
}
