import { type Vector3 } from '@longheron/core/numeric';

/** A part of the plan, metres. */
export interface Box {
  west: number;
  south: number;
  east: number;
  north: number;
}

/** What both hold; undefined where they do not meet. */
export function common(a: Box, b: Box): Box | undefined {
  const out = {
    west: Math.max(a.west, b.west),
    south: Math.max(a.south, b.south),
    east: Math.min(a.east, b.east),
    north: Math.min(a.north, b.north),
  };
  return out.west < out.east && out.south < out.north ? out : undefined;
}

/** The box of places. */
export function boxOf(places: ReadonlyArray<Vector3 | readonly [number, number]>): Box {
  const out = { west: Infinity, south: Infinity, east: -Infinity, north: -Infinity };
  for (const [e, n] of places) {
    out.west = Math.min(out.west, e);
    out.east = Math.max(out.east, e);
    out.south = Math.min(out.south, n);
    out.north = Math.max(out.north, n);
  }
  return out;
}

/** Cells made at once. */
const TILE_CELLS = 900;

/** Parts of an area of at most so many cells along each side, on whole multiples of the cell, row by row from the north-west. */
export function tilesOf(area: Box, cellM: number): Box[] {
  const [west, east] = [Math.floor(area.west / cellM), Math.ceil(area.east / cellM)];
  const [south, north] = [Math.floor(area.south / cellM), Math.ceil(area.north / cellM)];
  const out: Box[] = [];
  const along = (from: number, to: number) => {
    const parts = Math.ceil((to - from) / TILE_CELLS);
    return Array.from({ length: parts }, (_, k) => [
      from + Math.round(((to - from) * k) / parts),
      from + Math.round(((to - from) * (k + 1)) / parts),
    ]);
  };
  for (const [s, n] of along(south, north).reverse())
    for (const [w, e] of along(west, east))
      out.push({ west: w * cellM, south: s * cellM, east: e * cellM, north: n * cellM });
  return out;
}
