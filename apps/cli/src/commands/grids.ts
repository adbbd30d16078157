import { gridText } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { useGrid } from '@longheron/formats/crs';

/** What `--geoid` means, for the help of every command that takes it. */
export const GEOID_REASON =
  'GTX or GeoTIFF: heights of the system are above the geoid of the first grid; files may name any';

/** What `--shift` means. */
export const SHIFT_REASON = 'NTv2: plan of the system is shifted from its datum by the first grid; files may name any';

/**
 * A system with its heights above the geoid in a file, and its plan shifted by a grid; every grid is known from then on
 * by what it holds.
 * @param named as the flag has it, undefined when it was not given. @param geoids, shifts paths of the two flags.
 * @throws Problem for heights that are named twice, or a file that is no grid of its kind.
 */
export function withGrids(
  named: string | undefined,
  geoids: string[],
  shifts: string[],
  flag: string,
): string | undefined {
  const [grid] = geoids.map((path) => known(path, 'geoid'));
  const [shift] = shifts.map((path) => known(path, 'shift'));
  if (named === undefined) return undefined;
  const [plan, heights] = named.split('+');
  const by = shift ? `${plan}~${shift}` : plan;
  if (heights === undefined) return grid ? `${by}+${grid}` : by;
  // ellipsoidal heights, said: geoids are then known only for the files that name them
  if (heights === '0') return by;
  if (grid)
    throw new Problem(`--${flag} names heights already, --geoid names others.`, {
      code: 'option',
      remedy: `Write --${flag} ${plan} --geoid ${geoids.join(',')}.`,
    });
  return `${by}+${heights}`;
}

function known(path: string, is: 'geoid' | 'shift'): string {
  const grid = useGrid(path);
  if (grid.is === is) return gridText(grid);
  const [found, flag] = grid.is === 'shift' ? ['datum shifts', 'shift'] : ['a geoid', 'geoid'];
  throw new Problem(`This is a grid of ${found}.`, { code: 'option', file: path, remedy: `Give it with --${flag}.` });
}
