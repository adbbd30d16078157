import { readFile } from 'node:fs/promises';
import { noteIn, type Inspect } from '../format/facts';
import { readWaterLevel } from './read';

const WEEK_S = 604800;

/** Facts of levels at a gauge: datum, span, lowest and highest. */
export const inspectWaterLevel: Inspect = async ({ path, name }, out) => {
  const { above, datumEllM, week, sow, levelM } = readWaterLevel(await readFile(path), name);
  const n = levelM.length;
  out.count = n;
  if (n) {
    out.startGps = week[0] * WEEK_S + sow[0];
    out.endGps = week[n - 1] * WEEK_S + sow[n - 1];
  }
  const of = (v: number) => (Number.isFinite(v) ? `${v.toFixed(3)} m` : 'none');
  out.details.push(
    ['Above', above || 'not said'],
    ['Datum above the ellipsoid', datumEllM === null ? 'not said' : of(datumEllM)],
    ['Lowest', of(levelM.reduce((a, b) => Math.min(a, b), Infinity))],
    ['Highest', of(levelM.reduce((a, b) => Math.max(a, b), -Infinity))],
  );
  const note = noteIn(out);
  if (!above)
    note(
      'water-datum',
      'warning',
      'The levels do not say which datum they count from.',
      'Depths that they reduce are relative.',
      'Add a line “# above: NAME OF THE DATUM”.',
    );
};
