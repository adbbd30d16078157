import { basename } from 'node:path';
import { type ReferenceSystem } from '@longheron/core/frames';
import { Problem, type Watch } from '@longheron/core/shared';
import { systemOf } from '@longheron/formats/crs';
import { codesNamed, LasFile, writeReprojected, type CarryPoint } from '@longheron/formats/las';

/** Finer steps than this, metres, keep nothing: a store of 0.1 mm. */
const FINEST_M = 0.0001;

/**
 * The system that a cloud is in: as its file says, or as a person does where it says nothing.
 * @param stated as text for `parseSystem`, made ready.
 */
export function systemOfCloud(file: LasFile, stated: ReferenceSystem | undefined): ReferenceSystem {
  const codes = codesNamed(file.header);
  if (!codes) {
    if (stated) return stated;
    throw new Problem('The cloud names no coordinate system.', {
      code: 'reproject-from',
      file: file.source.name,
      place: 'variable length records',
      remedy: 'Say which system it is in.',
    });
  }
  const own = systemOf(codes.plan, codes.vertical, codes.shift);
  if (stated && stated.label !== own.label)
    throw new Problem(`The file says that it is in ${own.label}; ${stated.label} was stated.`, {
      code: 'reproject-from',
      file: file.source.name,
      place: 'variable length records',
      remedy: 'Leave the statement out; a file with a wrong statement must be written anew first.',
    });
  return own;
}

/** From units of one system's file to those of another, over geodetic coordinates: no datum shift. */
export function carryBetween(from: ReferenceSystem, to: ReferenceSystem): CarryPoint {
  const [a, b] = [from.definition, to.definition];
  const geo = new Float64Array(3);
  return (x, y, z, out) => {
    from.unproject(x * a.metresPerUnit, y * a.metresPerUnit, z * a.verticalMetresPerUnit, geo);
    to.project(geo[0], geo[1], geo[2], out);
    out[0] /= b.metresPerUnit;
    out[1] /= b.metresPerUnit;
    out[2] /= b.verticalMetresPerUnit;
  };
}

/** Steps of coordinates in another unit: a power of ten no coarser than they were, no finer than 0.1 mm. */
function scaleIn(scale: number, fromM: number, toM: number): number {
  const wanted = Math.max((scale * fromM) / toM, FINEST_M / toM / 10);
  return 10 ** Math.floor(Math.log10(wanted) + 1e-9);
}

/** Writes a cloud in another system; see `writeReprojected`. @returns the system it was in. */
export async function reprojectCloud(
  path: string,
  outPath: string,
  to: ReferenceSystem,
  stated?: ReferenceSystem,
  watch?: Watch,
  name = basename(path),
): Promise<{ from: ReferenceSystem; written: number }> {
  const file = await LasFile.openPath(path);
  file.source.name = name;
  try {
    const from = systemOfCloud(file, stated);
    const [a, b] = [from.definition, to.definition];
    const { scale } = file.header;
    const steps: [number, number, number] = [
      scaleIn(scale[0], a.metresPerUnit, b.metresPerUnit),
      scaleIn(scale[1], a.metresPerUnit, b.metresPerUnit),
      scaleIn(scale[2], a.verticalMetresPerUnit, b.verticalMetresPerUnit),
    ];
    const { written } = await writeReprojected(file, outPath, b, steps, carryBetween(from, to), watch);
    return { from, written };
  } finally {
    await file.close();
  }
}
