import { type HeightGrid } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';

/**
 * Writes an ASCII grid, north row first, metres with three decimals, no-data −9999. @param depths the values are turned,
 * positive down; the format has no place to say so.
 */
export async function writeAsciiGrid(path: string, grid: HeightGrid, depths = false): Promise<void> {
  const sign = depths ? -1 : 1;
  await writeFileWhole(path, async (out) => {
    const south = grid.northM - grid.rows * grid.cellM;
    await out.write(
      `ncols ${grid.columns}\nnrows ${grid.rows}\nxllcorner ${grid.westM}\nyllcorner ${south}\ncellsize ${grid.cellM}\nNODATA_value -9999\n`,
    );
    for (let r = 0; r < grid.rows; r++) {
      const row = grid.heightM.subarray(r * grid.columns, (r + 1) * grid.columns);
      await out.write(`${Array.from(row, (h) => (Number.isNaN(h) ? '-9999' : (sign * h).toFixed(3))).join(' ')}\n`);
    }
  });
}

/** Grids of heights as text, written only. */
export default format({ about });
