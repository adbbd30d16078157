import ImageTile from 'ol/source/TileImage';
import TileGrid from 'ol/tilegrid/TileGrid';
import { type DatasetOf, type RasterDto } from '@longheron/contract/api';

/** Edge of a square, pixels. */
const TILE_PX = 256;

/** Kinds of data that may lie under a map. */
export type UnderMap = DatasetOf<'raster'> | DatasetOf<'orthophoto'>;

/** The picture of a dataset in the system of the project; undefined when it has no place there. @param plan of the project as text. */
export function rasterOf(d: UnderMap, plan: string | undefined): RasterDto | undefined {
  const {
    raster,
    facts,
    crs: made,
  } = d.revision.content as {
    raster?: RasterDto | null;
    facts?: { extent?: { crs?: string | null } | null };
    crs?: string;
  };
  const crs = facts?.extent?.crs ?? made?.split('+')[0];
  return raster && (!crs || crs === plan) ? raster : undefined;
}

export const extentOf = (r: RasterDto): [number, number, number, number] => [
  r.westM,
  r.northM - r.rows * r.stepM,
  r.westM + r.columns * r.stepM,
  r.northM,
];

/** Squares of a picture, as fine as the map asks for. @param url of the picture's squares. @param revision of it: another is asked for anew. */
export function underlaySource(url: string, revision: number, r: RasterDto, projection: string): ImageTile {
  const levels = Math.max(0, Math.ceil(Math.log2(Math.max(r.columns, r.rows) / TILE_PX)));
  const tileGrid = new TileGrid({
    extent: extentOf(r),
    origin: [r.westM, r.northM],
    resolutions: Array.from({ length: levels + 1 }, (_, k) => r.stepM * 2 ** (levels - k)),
    tileSize: TILE_PX,
  });
  return new ImageTile({
    projection,
    tileGrid,
    interpolate: false,
    tileUrlFunction: ([z, x, y]) => `${url}/${levels - z}/${x}/${y}?revision=${revision}`,
  });
}
