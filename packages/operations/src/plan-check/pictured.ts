import { type KeptSight } from '@longheron/contract/kinds/plan-check';
import { type RasterDto } from '@longheron/contract/api';
import { type Mark } from '@longheron/core/accuracy';
import { refineTarget } from '@longheron/core/photo';
import { Problem } from '@longheron/core/shared';
import sharp from 'sharp';
import { openPicture, rasterContent } from '../shared/raster';
import { type PlanSettings } from './find';

/** About a mark at least so much is drawn, metres, and so many cells. */
const LEAST_M = 3;
const LEAST_CELLS = 36;
/** A target of fewer cells than this has no centre to be found. */
const LEAST_TARGET_CELLS = 2.5;
/** Share of a target's edge about which its halves are compared at first. */
const HALF = 0.42;

/** What an orthophoto has at one mark. */
export interface Pictured {
  fit?: KeptSight['fit'];
  reason?: string;
  /** PNG of the square about the given place, its edges those of whole cells of the picture drawn larger. */
  png?: Buffer;
}

export interface OrthoPatches {
  edgeM: number;
  cellM: number;
  of: ReadonlyMap<Mark, Pictured>;
}

/**
 * Targets of marks in an orthophoto, in plan alone. @throws Problem for a picture without a place, or of another system.
 */
export async function findInPicture(
  { path, name }: { path: string; name: string },
  marks: readonly Mark[],
  { target, edgeM, searchM }: PlanSettings,
): Promise<OrthoPatches> {
  const raster = await rasterContent(path, name);
  if (!raster)
    throw new Problem('The picture has no place.', {
      code: 'ortho-place',
      file: name,
      place: 'GeoTIFF tags',
      remedy: 'Choose a GeoTIFF that says where its cells lie.',
    });
  const cellM = raster.stepM;
  // an odd number of cells, so that one has the given place in it
  const cells = 2 * Math.ceil(Math.max(LEAST_M / cellM, LEAST_CELLS) / 2) + 1;
  const of = new Map<Mark, Pictured>();
  for (const mark of marks) of.set(mark, await look(path, raster, mark, cells, { target, edgeM, searchM }));
  return { edgeM: cells * cellM, cellM, of };
}

async function look(
  path: string,
  { columns, rows, stepM, westM, northM }: RasterDto,
  mark: Mark,
  cells: number,
  { target, edgeM, searchM }: Pick<PlanSettings, 'target' | 'edgeM' | 'searchM'>,
): Promise<Pictured> {
  // cell (0, 0) has its middle half a cell from the picture's corner
  const u = (mark.eastingM - westM) / stepM - 0.5;
  const v = (northM - mark.northingM) / stepM - 0.5;
  const margin = Math.ceil(cells / 2) + 2;
  const [left, top] = [Math.round(u) - margin, Math.round(v) - margin];
  const size = 2 * margin + 1;
  if (left < 0 || top < 0 || left + size > columns || top + size > rows)
    return { reason: 'the orthophoto does not reach there' };
  const { data, info } = await openPicture(path)
    .extract({ left, top, width: size, height: size })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const grey = new Float64Array(size * size);
  let empty = 0;
  for (let k = 0; k < grey.length; k++) {
    const at = info.channels * k;
    grey[k] = 0.299 * data[at] + 0.587 * data[at + 1] + 0.114 * data[at + 2];
    if (data[at + info.channels - 1] === 0) empty++;
  }
  if (empty > grey.length / 2) return { reason: 'the orthophoto is empty there' };
  const png = await drawn(data, size, info.channels, u - left, v - top, cells);
  if (target !== 'two-tone') return { png, reason: 'a picture shows painted targets alone' };
  if (edgeM / stepM < LEAST_TARGET_CELLS)
    return { png, reason: `the target has ${(edgeM / stepM).toFixed(1)} cells: too few to find its centre` };
  const picture = { widthPx: size, heightPx: size, grey };
  const found = refineTarget(picture, u - left, v - top, Math.max(1.5, (HALF * edgeM) / stepM), searchM / stepM);
  if ('none' in found) return { png, reason: `no target within ${searchM} m: ${found.none}` };
  const sdM = found.sdPx * stepM;
  return {
    png,
    fit: {
      dE: (found.uPx + left - u) * stepM,
      dN: -(found.vPx + top - v) * stepM,
      sdE: sdM,
      sdN: sdM,
      note: `in the orthophoto, cells of ${(100 * stepM).toFixed(1)} cm`,
    },
  };
}

/** Pixels of a cell in what is drawn. */
const LARGER = 8;

/** The square of so many cells about a place that lies anywhere in its cell, each cell as it is. */
function drawn(data: Buffer, size: number, channels: number, u: number, v: number, cells: number): Promise<Buffer> {
  const n = cells * LARGER;
  const out = new Uint8Array(4 * n * n);
  const cellAt = (k: number, middle: number) =>
    Math.min(size - 1, Math.max(0, Math.round(middle + (k + 0.5) / LARGER - cells / 2)));
  for (let r = 0; r < n; r++)
    for (let c = 0; c < n; c++) {
      const from = channels * (cellAt(r, v) * size + cellAt(c, u));
      const to = 4 * (r * n + c);
      for (let k = 0; k < 3; k++) out[to + k] = data[from + k];
      out[to + 3] = data[from + channels - 1];
    }
  return sharp(out, { raw: { width: n, height: n, channels: 4 } })
    .png()
    .toBuffer();
}
