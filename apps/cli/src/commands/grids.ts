import { existsSync } from 'node:fs';
import { gridText } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { useGrid, type FileIs } from '@longheron/formats/crs';

/** What `--geoid` means, for the help of every command that takes it. */
export const GEOID_REASON =
  'GTX or GeoTIFF: heights of the system are above the geoid of the first grid; files may name any';

/** What `--shift` means. */
export const SHIFT_REASON =
  'NTv2 or GeoTIFF: plan of the system is shifted from its datum by the first grid; files may name any';

/** What `--systems` means. */
export const SYSTEMS_REASON =
  'well-known text of systems that files name; --crs takes such a file too, for plan or heights';

/** Files that a system may need, by flag: paths. */
export interface SystemFiles {
  geoid: string[];
  shift: string[];
  systems: string[];
}

/**
 * A system with its heights above the geoid in a file, and its plan shifted by a grid; every file is known from then on
 * by what it holds. Plan and heights may each be a file of well-known text.
 * @param named as the flag has it, undefined when it was not given. @param files paths of the other flags.
 * @throws Problem for heights that are named twice, or a file that is not of its kind.
 */
export function withGrids(named: string | undefined, files: SystemFiles, flag: string): string | undefined {
  files.systems.forEach((path) => known(path, 'system'));
  const [grid] = files.geoid.map((path) => known(path, 'geoid'));
  const [shift] = files.shift.map((path) => known(path, 'shift'));
  if (named === undefined) return undefined;
  const [plan, heights] = parted(named);
  const by = shift ? `${plan}~${shift}` : plan;
  if (heights === undefined) return grid ? `${by}+${grid}` : by;
  // ellipsoidal heights, said: geoids are then known only for the files that name them
  if (heights === '0') return plan.startsWith('EPSG:') || /^\d+$/.test(plan) ? by : `${by}+0`;
  // heights of a file may themselves count from a grid, which is given beside it
  const byFile = heights.includes('@');
  if (grid && !byFile)
    throw new Problem(`--${flag} names heights already, --geoid names others.`, {
      code: 'option',
      remedy: `Write --${flag} ${plan} --geoid ${files.geoid.join(',')}.`,
    });
  return `${by}+${heights}`;
}

/** Plan and heights of a system as typed, files of well-known text among them by their names. */
function parted(named: string): [plan: string, heights?: string] {
  const asFile = (text: string) => (existsSync(text) ? known(text, 'system') : text);
  if (existsSync(named)) return [known(named, 'system')];
  const at = named.lastIndexOf('+');
  return at < 0 ? [named] : [asFile(named.slice(0, at)), asFile(named.slice(at + 1))];
}

const WORDS: Record<FileIs, [found: string, flag: string]> = {
  geoid: ['a grid of a geoid', 'geoid'],
  shift: ['a grid of datum shifts', 'shift'],
  system: ['the text of a coordinate system', 'crs'],
};

function known(path: string, is: FileIs): string {
  const grid = useGrid(path);
  if (grid.is === is) return gridText(grid);
  const [found, flag] = WORDS[grid.is];
  throw new Problem(`This is ${found}.`, { code: 'option', file: path, remedy: `Give it with --${flag}.` });
}
