import { EXPECTED_COLOURS, OVERLAP_COLOURS, type BlockExpectation } from '@longheron/contract/kinds/block';
import { median, quantile, type Vector3 } from '@longheron/core/numeric';
import { expectedAt, type AdjustedBlock, type Block, type OrientedPicture } from '@longheron/core/photo';
import { fromBlock, gridSds, toBlock, type Axes } from '../shared/photographs';
import { gridPicture, onScale } from '../shared/pictures';
import { type Store } from '../shared/store';

/** Cells along the longer side. */
const MOST_CELLS = 48;
/** So many photographs of a place are as good as more. */
const MANY = 9;
const rgb = (hex: string) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));

/** Maps of what a block would know of places on the ground: overlap, and deviations of heights. */
export async function expectationOf(
  block: Block,
  a: AdjustedBlock,
  axes: Axes,
  sdPx: number,
  store: Store,
): Promise<BlockExpectation | null> {
  const index = picturesOf(block, a);
  const known = { pictures: [...index.keys()], axes };
  const places = block.points.flatMap((_, p): Vector3[] => {
    const at = a.state.points.subarray(3 * p, 3 * p + 3);
    return Number.isFinite(at[0]) ? [fromBlock(known, [at[0], at[1], at[2]])] : [];
  });
  if (places.length < 3 || known.pictures.length < 2) return null;
  const side = (k: 0 | 1): [number, number] => {
    const v = places.map((p) => p[k]);
    return [quantile(v, 0.01), quantile(v, 0.99)];
  };
  const [[west, east], [south, north]] = [side(0), side(1)];
  const cellM = Math.max(0.1, Math.max(east - west, north - south) / MOST_CELLS);
  const columns = Math.max(1, Math.ceil((east - west) / cellM));
  const rows = Math.max(1, Math.ceil((north - south) / cellM));
  const heights = heightsOf(places, west, north, cellM, columns, rows);
  const between = (p: OrientedPicture, q: OrientedPicture) => {
    const [row, column] = [index.get(p)!, index.get(q)!];
    if (!Number.isFinite(a.covariances.of(row, column))) return undefined;
    return Float64Array.from({ length: 36 }, (_, k) => a.covariances.of(row + Math.floor(k / 6), column + (k % 6)));
  };
  const count = new Int32Array(columns * rows);
  const plan = new Float64Array(columns * rows).fill(Number.NaN);
  const height = new Float64Array(columns * rows).fill(Number.NaN);
  for (let k = 0; k < count.length; k++) {
    const e = west + ((k % columns) + 0.5) * cellM;
    const n = north - (Math.floor(k / columns) + 0.5) * cellM;
    const found = expectedAt(known.pictures, toBlock(known, [e, n, heights[k]]), sdPx, between);
    count[k] = found.pictures;
    if (!found.covM2) continue;
    const sd = gridSds(axes, found.covM2);
    plan[k] = Math.hypot(sd[0], sd[1]) / Math.SQRT2;
    height[k] = sd[2];
  }
  const sure = [...height].filter(Number.isFinite);
  if (!sure.length) return null;
  const limits: [number, number] = [quantile(sure, 0.02), quantile(sure, 0.98)];
  const span = Math.max(1e-6, limits[1] - limits[0]);
  const [overlapScale, heightScale] = [OVERLAP_COLOURS.map(rgb), EXPECTED_COLOURS.map(rgb)];
  const put = async (colourOf: (k: number) => number[] | undefined) =>
    store.bytes(new Uint8Array(await gridPicture({ columns, rows }, true, colourOf)), 'picture');
  const two = count.filter((c) => c >= 2).length;
  return {
    layout: { cellM, columns, rows, westM: west, northM: north },
    overlap: await put((k) => (count[k] ? onScale(overlapScale, (count[k] - 1) / (MANY - 1)) : undefined)),
    height: await put((k) =>
      Number.isFinite(height[k]) ? onScale(heightScale, (height[k] - limits[0]) / span) : undefined,
    ),
    mostPictures: MANY,
    heightM: limits,
    onlyTwo: two ? count.filter((c) => c === 2).length / two : 0,
    medianPlanM: median([...plan].filter(Number.isFinite)),
    medianHeightM: median(sure),
  };
}

/** Pictures of a block as they were adjusted, with their columns in its equations. */
function picturesOf(block: Block, a: AdjustedBlock): Map<OrientedPicture, number> {
  const out = new Map<OrientedPicture, number>();
  block.images.forEach((image, i) => {
    if (!a.oriented[i]) return;
    const sd = (k: number) => Math.sqrt(a.covariances.of(a.imageAt[i] + k, a.imageAt[i] + k));
    const c = a.state.centres;
    out.set(
      {
        name: image.name,
        camera: a.state.cameras[image.camera],
        centreM: [c[3 * i], c[3 * i + 1], c[3 * i + 2]],
        rotation: a.state.rotations.slice(9 * i, 9 * i + 9),
        sdCentreM: [sd(0), sd(1), sd(2)],
        sdTurnRad: Math.sqrt((sd(3) ** 2 + sd(4) ** 2 + sd(5) ** 2) / 3),
      },
      a.imageAt[i],
    );
  });
  return out;
}

/** Points for the height of a cell, and how many cells around it may lend them. */
const ENOUGH_POINTS = 5;
const MOST_RINGS = 3;

/** Middle height of the points of each cell and of those about it; where there are too few that of all. */
function heightsOf(
  places: readonly Vector3[],
  west: number,
  north: number,
  cellM: number,
  columns: number,
  rows: number,
): Float64Array {
  const own: number[][] = Array.from({ length: columns * rows }, () => []);
  for (const [e, n, h] of places) {
    const [c, r] = [Math.floor((e - west) / cellM), Math.floor((north - n) / cellM)];
    if (c >= 0 && r >= 0 && c < columns && r < rows) own[r * columns + c].push(h);
  }
  const all = median(places.map((p) => p[2]));
  return Float64Array.from(own, (_, k) => {
    // a few ties may be wrong: the next cells have a say until there are enough
    for (let ring = 0; ring <= MOST_RINGS; ring++) {
      const near: number[] = [];
      const [row, column] = [Math.floor(k / columns), k % columns];
      for (let r = Math.max(0, row - ring); r <= Math.min(rows - 1, row + ring); r++)
        for (let c = Math.max(0, column - ring); c <= Math.min(columns - 1, column + ring); c++)
          near.push(...own[r * columns + c]);
      if (near.length >= ENOUGH_POINTS) return median(near);
    }
    return all;
  });
}
