import { basename } from 'node:path';
import { carryPlaced, type Placing, type ReferenceSystem } from '@longheron/core/frames';
import { type Watch } from '@longheron/core/shared';
import { LasFile, writeReprojected } from '@longheron/formats/las';

/** Finer steps than this keep nothing: a store of 0.1 mm. */
const FINEST_M = 0.0001;
/** Writes a cloud that is in a frame of its own where its points lie in a system: see `placeByPoints`. */
export async function placeCloud(
  path: string,
  outPath: string,
  to: ReferenceSystem,
  placing: Placing,
  watch?: Watch,
  name = basename(path),
): Promise<{ written: number }> {
  const file = await LasFile.openPath(path);
  file.source.name = name;
  const { metresPerUnit, verticalMetresPerUnit } = to.definition;
  try {
    const steps = [metresPerUnit, metresPerUnit, verticalMetresPerUnit].map(
      (unit, k) => 10 ** Math.floor(Math.log10(Math.max(file.header.scale[k], FINEST_M) / unit) + 1e-9),
    ) as [number, number, number];
    return await writeReprojected(
      file,
      outPath,
      to.definition,
      steps,
      (x, y, z, out) => {
        carryPlaced(placing, x, y, z, out);
        out[0] /= metresPerUnit;
        out[1] /= metresPerUnit;
        out[2] /= verticalMetresPerUnit;
      },
      watch,
    );
  } finally {
    await file.close();
  }
}
