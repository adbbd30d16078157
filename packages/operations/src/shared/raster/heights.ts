import { readFile } from 'node:fs/promises';
import { Problem, type Notice } from '@longheron/core/shared';
import { findSystem, parseSystem } from '@longheron/formats/crs';
import { memorySource } from '@longheron/formats/bytes';
import { readTiff, readTiffPlace } from '@longheron/formats/tiff';
import { type SurfaceHeights } from '../../computation/types';

/** Heights of a GeoTIFF of one band, in the units of metres. @throws Problem for what is no grid of heights. */
export async function heightsOf(path: string, name: string, given?: string): Promise<SurfaceHeights> {
  const bytes = await readFile(path).catch(() => {
    throw new Problem('There is no such file.', { code: 'file-open', file: name, remedy: 'Check the path.' });
  });
  const raster = readTiff(bytes, name);
  const place = await readTiffPlace(memorySource(bytes, name));
  const wrong = (text: string, at: string, remedy: string) =>
    new Problem(text, { code: 'surface', file: name, place: at, remedy });
  if (raster.geographic)
    throw wrong('It is in latitude and longitude.', 'geographic keys', 'Write it in the plane of the project.');
  if (Math.abs(raster.stepX / raster.stepY - 1) > 1e-6)
    throw wrong(`Its cells are ${raster.stepX} by ${raster.stepY}.`, 'tag 33550', 'Write it with square cells.');
  const findings: Notice[] = [];
  const named =
    place.horizontal && findSystem(place.horizontal)
      ? `EPSG:${place.horizontal}${place.vertical ? `+${place.vertical}` : ''}`
      : undefined;
  const crs = given ?? named;
  if (!given && named && !place.vertical)
    findings.push({
      code: 'surface-heights',
      severity: 'warning',
      file: name,
      text: 'The surface does not say what its heights are above; they are taken for ellipsoidal.',
      effect: 'If they are above a geoid, all is off by its height, tens of metres.',
      remedy: 'Give the system with --crs, e.g. EPSG:25832+5773.',
    });
  const system = crs ? parseSystem(crs).definition : undefined;
  const unit = system?.metresPerUnit ?? 1;
  const up = system?.verticalMetresPerUnit ?? 1;
  if (up !== 1) for (let k = 0; k < raster.values.length; k++) raster.values[k] *= up;
  const cellM = raster.stepX * unit;
  return {
    grid: {
      cellM,
      westM: raster.left * unit - 0.5 * cellM,
      northM: raster.top * unit + 0.5 * cellM,
      columns: raster.columns,
      rows: raster.rows,
      heightM: raster.values,
    },
    ...(crs ? { crs } : {}),
    findings,
  };
}
