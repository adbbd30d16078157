import { gridText } from '@longheron/core/frames';
import { openFile } from '../bytes';
import { findSystem } from '../crs';
import { type Inspect } from '../format/facts';
import { readTiffPlace } from './place';

/** Facts of a georeferenced image: an orthophoto, a picture of intensity, a grid of heights. */
export const inspectRaster: Inspect = async ({ path, name }, out) => {
  const source = await openFile(path, name);
  const p = await readTiffPlace(source).finally(() => source.close());
  const numbers = p.format === 3 ? 'floating point' : `${p.bits} bits`;
  out.count = p.columns * p.rows;
  out.details.push(
    ['Size', `${p.columns} by ${p.rows} cells`],
    ['Bands', `${p.bands} of ${numbers}`],
    ...(p.at ? ([['Cell', `${p.at.stepX} by ${p.at.stepY}`]] as Array<[string, string]>) : []),
  );
  const finding = (code: string, text: string, effect: string, remedy: string) =>
    out.findings.push({ code, severity: 'warning', file: out.name, text, effect, remedy });
  if (!p.at) {
    finding(
      'raster-place',
      'The picture does not say where it lies.',
      'It cannot be shown in plan.',
      'Write it as a GeoTIFF, with the size of a cell and the place of a corner.',
    );
    return;
  }
  const { west, north, stepX, stepY } = p.at;
  const named = p.file ? gridText(p.file) : p.horizontal ? `EPSG:${p.horizontal}` : null;
  const crs = p.geographic ? 'geographic' : named;
  out.extent = {
    min: [west, north - p.rows * stepY, 0],
    max: [west + p.columns * stepX, north, 0],
    crs,
  };
  if (crs) out.details.push(['System', p.horizontal ? `${findSystem(p.horizontal)?.name ?? 'unknown'} (${crs})` : crs]);
  else
    finding(
      'raster-crs',
      'The picture names no coordinate system.',
      'It is shown where its numbers put it.',
      'Check it against marks that are seen in it.',
    );
  if (Math.abs(stepX / stepY - 1) > 1e-6)
    finding(
      'raster-cells',
      `Its cells are ${stepX} by ${stepY}: not square.`,
      'It cannot be shown in plan.',
      'Write it with square cells.',
    );
};
