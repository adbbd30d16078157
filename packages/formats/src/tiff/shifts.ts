import { type ShiftGrid, type ShiftPart } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { readTiffs, type TiffRaster } from './raster';

const SECONDS_PER: Record<string, number> = { 'arc-second': 1, degree: 3600, radian: (3600 * 180) / Math.PI };
/** Shifts between datums are no larger, arc seconds. */
const MAX_SHIFT_SEC = 600;

/**
 * Reads a grid of datum shifts from a GeoTIFF after the open geodetic grid convention: two bands of offsets in latitude and
 * longitude, finer grids in directories of their own. @throws Problem naming what is wrong.
 */
export function readTiffShifts(bytes: Uint8Array, file: string): ShiftGrid {
  const refuse = (text: string, place: string) =>
    new Problem(text, { code: 'tiff', file, place, remedy: 'Ask for the grid of datum shifts as NTv2 or GeoTIFF.' });
  const rasters = readTiffs(bytes, file);
  const { items } = rasters[0];
  const type = items.get('TYPE');
  if (type !== undefined && type !== 'HORIZONTAL_OFFSET')
    throw refuse(
      `It is a grid of ${type.toLowerCase().replace(/_/g, ' ')}, not of datum shifts in plan.`,
      'metadata, TYPE',
    );
  const parts = rasters.map((raster, k) => partOf(raster, items, `grid ${k + 1}`, refuse));
  return {
    from: items.get('source_crs_epsg_code') ? `EPSG:${items.get('source_crs_epsg_code')}` : 'the datum of the system',
    to: items.get('target_crs_epsg_code')
      ? `EPSG:${items.get('target_crs_epsg_code')}`
      : (items.get('target_crs_name') ?? 'the frame'),
    parts,
  };
}

function partOf(
  t: TiffRaster,
  first: TiffRaster['items'],
  name: string,
  refuse: (text: string, place: string) => Problem,
): ShiftPart {
  if (!t.geographic || t.bands.length < 2)
    throw refuse(
      t.geographic ? `It has ${t.bands.length} band, two are needed.` : 'It is not in latitude and longitude.',
      name,
    );
  const item = (key: string, band: number) => t.items.get(`${key} ${band}`) ?? first.get(`${key} ${band}`);
  const find = (what: string, otherwise: number) => {
    const at = t.bands.findIndex((_, b) => (item('DESCRIPTION', b) ?? '').startsWith(what));
    return at < 0 ? otherwise : at;
  };
  const [lat, lon] = [find('latitude_offset', 0), find('longitude_offset', 1)];
  const factorOf = (band: number) => {
    const unit = item('UNITTYPE', band) ?? 'arc-second';
    const factor = SECONDS_PER[unit];
    if (!factor) throw refuse(`Its offsets are in “${unit}”.`, `${name}, band ${band + 1}`);
    return factor * (item('positive_value', band) === 'west' ? -1 : 1);
  };
  const turned = (band: number): Float32Array => {
    const factor = factorOf(band);
    const out = new Float32Array(t.columns * t.rows);
    for (let r = 0; r < t.rows; r++)
      for (let c = 0; c < t.columns; c++) {
        const v = t.bands[band][(t.rows - 1 - r) * t.columns + c] * factor;
        if (Math.abs(v) > MAX_SHIFT_SEC)
          throw refuse(`It holds a shift of ${v.toFixed(1)}″: none between datums.`, `${name}, band ${band + 1}`);
        out[r * t.columns + c] = v;
      }
    return out;
  };
  return {
    name: t.items.get('grid_name') ?? name,
    southDeg: t.top - (t.rows - 1) * t.stepY,
    westDeg: t.left,
    stepLatDeg: t.stepY,
    stepLonDeg: t.stepX,
    rows: t.rows,
    columns: t.columns,
    latSec: turned(lat),
    lonSec: turned(lon),
  };
}
