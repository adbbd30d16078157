import { type HeightGrid } from '@longheron/core/surface';
import { writeFileWhole } from '../bytes';
import { format } from '../format';
import about from './about';

/** Writes an ASCII grid, north row first, metres with three decimals, no-data −9999. */
export async function writeAsciiGrid(path: string, grid: HeightGrid): Promise<void> {
  await writeFileWhole(path, async (out) => {
    const south = grid.northM - grid.rows * grid.cellM;
    await out.write(
      `ncols ${grid.columns}\nnrows ${grid.rows}\nxllcorner ${grid.westM}\nyllcorner ${south}\ncellsize ${grid.cellM}\nNODATA_value -9999\n`,
    );
    for (let r = 0; r < grid.rows; r++) {
      const row = grid.heightM.subarray(r * grid.columns, (r + 1) * grid.columns);
      await out.write(`${Array.from(row, (h) => (Number.isNaN(h) ? '-9999' : h.toFixed(3))).join(' ')}\n`);
    }
  });
}

/** Grids of heights as text, written only. */
export default format({ about });
