import { applyLocalMap, makeLocalMap, type LocalMap } from '@longheron/core/frames';
import { apply3, transpose3, type Matrix3, type Vector3 } from '@longheron/core/numeric';
import {
  choosePairs,
  clipped,
  drawRectified,
  expectedAt,
  HeightFusion,
  labelRange,
  matchPair,
  rectify,
  wayOf,
  type CellGrid,
  type Depths,
  type FusedSurface,
  type OrientedPicture,
  type RectifiedPair,
} from '@longheron/core/photo';
import { gridSds, toBlock, type AdjustedPictures, type Axes } from '../shared/photographs';
import { type Box } from './area';

/** Places along each side of a tile by which pairs are chosen. */
const LATTICE = 9;
/** A pick so good that only poses are left of an expectation, pixels. */
const NO_PICK_PX = 0.01;

/** A part of the surface. */
export interface MadeTile {
  surface: FusedSurface;
  grid: CellGrid;
  pairs: number;
  /** 1 SD of places by what is known of the poses, metres: east, north, height. */
  poseSdM: Vector3;
}

/** What is matched: photographs as their block knows them, and how to get at their pixels. */
export interface Matching {
  block: AdjustedPictures & { axes: Axes };
  pixels(picture: OrientedPicture): Promise<Uint8Array>;
  cellM: number;
  heightsM: readonly [number, number];
  /** Called as the tile goes on, with the share done. */
  each(share: number): void;
}

/** Matches all pairs over one tile and makes their heights one; undefined where no pair shows it. */
export async function makeTile(tile: Box, m: Matching): Promise<MadeTile | undefined> {
  const { block, cellM, heightsM } = m;
  const grid: CellGrid = {
    westM: tile.west,
    northM: tile.north,
    cellM,
    columns: Math.round((tile.east - tile.west) / cellM),
    rows: Math.round((tile.north - tile.south) / cellM),
  };
  const [low, high] = heightsM.map((h) => latticeOf(tile, h, block));
  const middle = latticeOf(tile, (heightsM[0] + heightsM[1]) / 2, block);
  const chosen = choosePairs(block.pictures, middle);
  if (!chosen.length) return undefined;
  const toGrid = new FromBlock(block.axes, tile, heightsM[0]);
  const fusion = new HeightFusion(grid);
  let used = 0;
  for (const [k, { first, second }] of chosen.entries()) {
    const each = (share: number) => m.each((k + share) / chosen.length);
    each(0);
    const [a, b] = [block.pictures[first], block.pictures[second]];
    const whole = rectify(a, b);
    const seen = whole && rangesOf(whole, a, b, low, high);
    const range = seen && labelRange(whole, seen.depthsM);
    const pair = range && clipped(whole, seen.first, secondOf(seen.first, range));
    if (!pair) continue;
    const one = drawRectified(pair, pair.first, a, await m.pixels(a));
    const other = drawRectified(pair, pair.second, b, await m.pixels(b));
    const found = matchPair(pair, one, other, seen.depthsM, (share) => each(0.1 + 0.85 * share));
    fusion.beginPair(
      first,
      second,
      b.centreM.map((v, i) => v - a.centreM[i]),
    );
    put(fusion, pair, a, one.rgb, one.columns, found, toGrid);
    fusion.endPair();
    used++;
  }
  return used ? { surface: fusion.finish(), grid, pairs: used, poseSdM: poseSds(block, tile, heightsM) } : undefined;
}

/** Heights of a pair, cell by cell. */
function put(
  fusion: HeightFusion,
  pair: RectifiedPair,
  { centreM }: OrientedPicture,
  rgb: Uint8Array,
  columns: number,
  { depthM, grade }: Depths,
  toGrid: FromBlock,
): void {
  const { at } = toGrid;
  const perDepth2 = 1 / (pair.focalPx * pair.baseM);
  for (let k = 0; k < depthM.length; k++) {
    const d = depthM[k];
    if (d !== d) continue;
    const way = wayOf(pair, pair.first.left + (k % columns), pair.top + Math.floor(k / columns));
    toGrid.carry(centreM[0] + d * way[0], centreM[1] + d * way[1], centreM[2] + d * way[2]);
    // a depth changes the height as far as its way leads down
    fusion.add(at[0], at[1], at[2], Math.abs(way[2]) * d * d * perDepth2, grade[k], rgb, k);
  }
}

/** Places of the block to the project's system, about the middle of a tile. */
class FromBlock {
  readonly at = new Float64Array(3);
  private readonly map: LocalMap;
  private readonly origin: Vector3;
  private readonly toNed: Matrix3;

  constructor({ frame, system }: Axes, tile: Box, heightM: number) {
    const geo = new Float64Array(3);
    system.unproject((tile.west + tile.east) / 2, (tile.south + tile.north) / 2, heightM, geo);
    this.map = makeLocalMap(system, geo[0], geo[1], geo[2]);
    this.origin = frame.fromGeodetic(geo[0], geo[1], geo[2]);
    this.toNed = transpose3(frame.fromNed(geo[0], geo[1]));
  }

  carry(x: number, y: number, z: number): void {
    const [n, e, d] = apply3(this.toNed, [x - this.origin[0], y - this.origin[1], z - this.origin[2]]);
    applyLocalMap(this.map, n, e, d, this.at);
  }
}

/** Places over a tile at one height, in the axes of the block, three numbers each. */
function latticeOf({ west, south, east, north }: Box, height: number, block: AdjustedPictures): Float64Array {
  const out = new Float64Array(3 * LATTICE * LATTICE);
  for (let k = 0; k < LATTICE * LATTICE; k++) {
    const e = west + ((k % LATTICE) / (LATTICE - 1)) * (east - west);
    const n = south + (Math.floor(k / LATTICE) / (LATTICE - 1)) * (north - south);
    out.set(toBlock(block, [e, n, height]), 3 * k);
  }
  return out;
}

/** Depths of a tile before a pair, and where its first picture shows it; of what lies before both. */
function rangesOf(pair: RectifiedPair, a: OrientedPicture, b: OrientedPicture, ...lattices: Float64Array[]) {
  const first = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  const depthsM: [number, number] = [Infinity, -Infinity];
  const { axes: m, focalPx: f } = pair;
  const of = (p: OrientedPicture, at: ArrayLike<number>, k: number) => {
    const [x, y, z] = [0, 1, 2].map((i) => at[k + i] - p.centreM[i]);
    return [0, 1, 2].map((i) => m[i] * x + m[3 + i] * y + m[6 + i] * z);
  };
  for (const points of lattices)
    for (let k = 0; k < points.length; k += 3) {
      const [x, y, z] = of(a, points, k);
      if (!(z > 0) || !(of(b, points, k)[2] > 0)) continue;
      depthsM[0] = Math.min(depthsM[0], z);
      depthsM[1] = Math.max(depthsM[1], z);
      first.left = Math.min(first.left, (f * x) / z);
      first.right = Math.max(first.right, (f * x) / z);
      first.top = Math.min(first.top, (f * y) / z);
      first.bottom = Math.max(first.bottom, (f * y) / z);
    }
  return depthsM[0] < depthsM[1] ? { first, depthsM } : undefined;
}

/** Where the second picture shows what the first does, for all labels. */
const secondOf = (first: { left: number; right: number }, { least, count }: { least: number; count: number }) => ({
  left: first.left - least - count,
  right: first.right - least,
});

/** What poses alone do to places: RMS over a tile’s middle and corners. */
function poseSds(block: AdjustedPictures & { axes: Axes }, tile: Box, heightsM: readonly [number, number]): Vector3 {
  const height = (heightsM[0] + heightsM[1]) / 2;
  const places = [
    [tile.west, tile.south],
    [tile.east, tile.south],
    [tile.west, tile.north],
    [tile.east, tile.north],
    [(tile.west + tile.east) / 2, (tile.south + tile.north) / 2],
  ];
  const all = places.flatMap(([e, n]) => {
    const { covM2 } = expectedAt(block.pictures, toBlock(block, [e, n, height]), NO_PICK_PX, block.between);
    return covM2 ? [gridSds(block.axes, covM2)] : [];
  });
  const rms = (k: number) => (all.length ? Math.sqrt(all.reduce((s, v) => s + v[k] ** 2, 0) / all.length) : 0);
  return [rms(0), rms(1), rms(2)];
}
