import { median } from '../numeric/statistics';
import { DepthMap } from './depthMap';
import { normalsOf, type Normals } from './normals';
import { type View } from './view';

/** Points about an origin of their own, so that single precision holds millimetres. */
export interface PaintPoints {
  count: number;
  /** Easting, northing, height of the origin, metres. */
  origin: readonly [number, number, number];
  x: Float32Array;
  y: Float32Array;
  z: Float32Array;
}

/** A decoded picture: three bytes a pixel, rows from the top. */
export interface Pixels {
  widthPx: number;
  heightPx: number;
  rgb: Uint8Array;
}

/** How points are looked at through a picture. */
export interface Looking {
  /** From the camera, metres; farther points are left alone. 0 or not given: none is. */
  farthestM?: number;
  /** Called from time to time; may throw. */
  tick?: () => void;
  /** Told how far away points usually are, metres; what it gives hears of each point that is seen: its row and pixel. */
  visible?: (usualDepthM: number) => (row: number, u: number, v: number) => void;
}

/** What a picture gave. */
export interface PictureShare {
  /** Points in its frame, no farther than is looked, and how many of them something else hides from it. */
  inFrame: number;
  hidden: number;
}

/** Colours of points, and where they are from. */
export interface Painted {
  /** Three bytes a point; 0 where there is none. */
  rgb: Uint8Array;
  /** Number of the picture, −1: none. */
  picture: Int16Array;
  coloured: number;
  /** Points in the frame of some picture that all of them are hidden from. */
  hidden: number;
  /** Points for which pictures disagreed, so that not the best one was taken. */
  outvoted: number;
}

/** Pictures that may speak for a point: the best ones. */
const KEPT = 4;
/** Edge of the tiles that pictures are looked up by, metres. */
const TILE_M = 15;
/** A colour differs from the others by more than this, of 255, where something passed by. */
const APART = 70;
const LEAST_COSINE = 0.15;
const NO_SURFACE = 0.6;
/** How much worse the corner of a picture counts than its middle. */
const CORNER = 0.6;
const LEAST_CELL_PX = 2;
const MOST_CELL_PX = 24;
const LEAST_SLACK_M = 0.25;
/** Edge of a cell of depths in distances of points: one cell of thirteen is then empty by chance. */
const CELL_SPACINGS = 1.6;

interface Tile {
  from: number;
  to: number;
  box: [number, number, number, number, number, number];
}

/**
 * Colours points from oriented pictures. Each point keeps the pictures that see it best, by the size of a pixel on its
 * surface (distance and angle) and by how near to the middle of the picture it lies; what stands in front hides it. In the
 * end the best one speaks that agrees with the others, so that vehicles and people that passed by leave no trace.
 */
export class Painter {
  private readonly order: Int32Array;
  private readonly tiles: Tile[];
  private readonly normals: Normals;
  /** Usual distance of points, metres. */
  readonly spacingM: number;
  private readonly score: Float32Array;
  private readonly from: Int16Array;
  private readonly seen: Uint8Array;
  /** 1: in some frame. */
  private readonly framed: Uint8Array;
  /** For each tile the views that see its middle best; undefined: all are looked through. */
  private best: Array<Set<number>> | undefined;
  /** First candidate of each tile that the current view sees, and the tile. */
  private readonly segments: Array<{ from: number; tile: number }> = [];
  private index = new Int32Array(1 << 16);
  private at = new Float32Array(3 << 16);

  /** Points in the order of their tiles: neighbours lie near each other in memory. */
  private readonly points: PaintPoints;

  constructor(given: PaintPoints) {
    const { count } = given;
    this.score = new Float32Array(KEPT * count).fill(Number.POSITIVE_INFINITY);
    this.from = new Int16Array(KEPT * count).fill(-1);
    this.seen = new Uint8Array(3 * KEPT * count);
    this.framed = new Uint8Array(count);
    const { order, tiles } = tilesOf(given);
    const inOrder = (v: Float32Array) => {
      const out = new Float32Array(count);
      for (let k = 0; k < count; k++) out[k] = v[order[k]];
      return out;
    };
    this.order = order;
    this.tiles = tiles;
    this.points = { ...given, x: inOrder(given.x), y: inOrder(given.y), z: inOrder(given.z) };
    this.spacingM = spacingOf(given, tiles);
    this.normals = normalsOf(this.points, Math.max(0.3, 3 * this.spacingM));
  }

  /**
   * Says which pictures there will be, so that points need not be looked at through pictures that see them far worse than
   * others do. What the good ones do not see is looked at through the rest.
   */
  plan(views: readonly View[]): void {
    const [e0, n0, h0] = this.points.origin;
    this.best = this.tiles.map(({ box }) => {
      const [x, y, z] = [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2];
      const seen = views.flatMap((view, number) => {
        if (!view.see(x + e0, y + n0, z + h0)) return [];
        return [{ number, worth: this.worthOf(view, view.at[0], view.at[1], view.at[2]) }];
      });
      seen.sort((a, b) => a.worth - b.worth);
      return new Set(seen.slice(0, KEPT).map((s) => s.number));
    });
  }

  /** Size of a pixel, made worse by how far it lies from the middle of the picture; the less the better. */
  private worthOf({ camera: { widthPx, heightPx, focalPx } }: View, u: number, v: number, depth: number): number {
    const off = (4 * ((u - widthPx / 2) ** 2 + (v - heightPx / 2) ** 2)) / (widthPx ** 2 + heightPx ** 2);
    return (depth / focalPx) * (1 + CORNER * off);
  }

  /**
   * Looks at all points through a picture. @param number of the picture.
   * @returns how many lie in its frame, and how many of these are hidden.
   */
  look(number: number, view: View, pixels: Pixels, looking: Looking = {}): PictureShare {
    const { points } = this;
    const [e0, n0, h0] = points.origin;
    const limitM = looking.farthestM ? looking.farthestM : Number.POSITIVE_INFINITY;
    const [ce, cn, ch] = view.centre;
    let count = 0;
    const depths: number[] = [];
    this.segments.length = 0;
    for (const [t, tile] of this.tiles.entries()) {
      const [west, south, low, east, north, high] = tile.box;
      const away = (from: number, to: number, at: number) => Math.max(from - at, at - to, 0);
      if (Math.hypot(away(west, east, ce - e0), away(south, north, cn - n0), away(low, high, ch - h0)) > limitM)
        continue;
      if (!view.maySee(west + e0, south + n0, low + h0, east + e0, north + n0, high + h0)) continue;
      looking.tick?.();
      this.segments.push({ from: count, tile: t });
      for (let i = tile.from; i < tile.to; i++) {
        if (!view.see(points.x[i] + e0, points.y[i] + n0, points.z[i] + h0) || view.at[2] > limitM) continue;
        if (count === this.index.length) this.grow();
        this.index[count] = i;
        this.at[3 * count] = view.at[0];
        this.at[3 * count + 1] = view.at[1];
        this.at[3 * count + 2] = view.at[2];
        if ((count & 63) === 0) depths.push(view.at[2]);
        count++;
      }
    }
    if (!count) return { inFrame: 0, hidden: 0 };
    const usualM = median(depths);
    const map = this.depthsOf(view, count, usualM);
    return { inFrame: count, hidden: this.take(number, view, pixels, map, count, looking.visible?.(usualM)) };
  }

  private grow(): void {
    const index = new Int32Array(2 * this.index.length);
    index.set(this.index);
    const at = new Float32Array(2 * this.at.length);
    at.set(this.at);
    this.index = index;
    this.at = at;
  }

  private depthsOf(view: View, count: number, usualDepthM: number): DepthMap {
    const { widthPx, heightPx, focalPx } = view.camera;
    const apartPx = (CELL_SPACINGS * this.spacingM * focalPx) / usualDepthM;
    const map = new DepthMap(widthPx, heightPx, Math.min(MOST_CELL_PX, Math.max(LEAST_CELL_PX, Math.ceil(apartPx))));
    const { at } = this;
    for (let k = 0; k < 3 * count; k += 3) map.add(at[k], at[k + 1], at[k + 2]);
    return map;
  }

  private take(
    number: number,
    view: View,
    pixels: Pixels,
    map: DepthMap,
    count: number,
    visible?: (row: number, u: number, v: number) => void,
  ): number {
    const { points, at, index, framed, score, from } = this;
    const { x, y, z } = points;
    const { cube, normal } = this.normals;
    const { widthPx, heightPx, focalPx } = view.camera;
    const centre = view.centre;
    const ce = centre[0] - points.origin[0];
    const cn = centre[1] - points.origin[1];
    const ch = centre[2] - points.origin[2];
    const slackM = Math.max(LEAST_SLACK_M, this.spacingM);
    // corners of a frame are worse than its middle; a panorama is as good all round
    const middle = view.camera.model === 'sphere' ? 0 : 4 / (widthPx * widthPx + heightPx * heightPx);
    let hidden = 0;
    let segment = -1;
    let next = 0;
    let good = true;
    for (let k = 0; k < count; k++) {
      while (k >= next && segment + 1 < this.segments.length) {
        segment++;
        good = !this.best || this.best[this.segments[segment].tile].has(number);
        next = this.segments[segment + 1]?.from ?? count;
      }
      const i = index[k];
      const spare = !good && from[KEPT * i] >= 0;
      if (spare && !visible) continue;
      const u = at[3 * k];
      const v = at[3 * k + 1];
      const depth = at[3 * k + 2];
      framed[i] = 1;
      if (map.hides(u, v, depth, slackM)) {
        hidden++;
        continue;
      }
      visible?.(this.order[i], u, v);
      if (spare) continue;
      const n = 3 * cube[i];
      const dx = ce - x[i];
      const dy = cn - y[i];
      const dz = ch - z[i];
      const along = Math.abs(normal[n] * dx + normal[n + 1] * dy + normal[n + 2] * dz);
      // where there is no surface, all directions are as good
      const facing = along > 0 ? Math.max(LEAST_COSINE, along / Math.sqrt(dx * dx + dy * dy + dz * dz)) : NO_SURFACE;
      const du = u - 0.5 * widthPx;
      const dv = v - 0.5 * heightPx;
      const worth = ((depth / focalPx) * (1 + CORNER * (du * du + dv * dv) * middle)) / facing;
      if (worth < score[KEPT * i + KEPT - 1]) this.keep(i, number, worth, u, v, pixels);
    }
    return hidden;
  }

  /** Keeps a picture among the best of a point, with its colour there. */
  private keep(i: number, number: number, worth: number, u: number, v: number, pixels: Pixels): void {
    const { score, from, seen } = this;
    const base = KEPT * i;
    let place = base + KEPT - 1;
    while (place > base && score[place - 1] > worth) {
      score[place] = score[place - 1];
      from[place] = from[place - 1];
      seen[3 * place] = seen[3 * place - 3];
      seen[3 * place + 1] = seen[3 * place - 2];
      seen[3 * place + 2] = seen[3 * place - 1];
      place--;
    }
    score[place] = worth;
    from[place] = number;
    sample(pixels, u, v, seen, 3 * place);
  }

  /** The colour of each point, after all pictures. */
  finish(): Painted {
    const { points, from, seen, framed } = this;
    const { count } = points;
    const rgb = new Uint8Array(3 * count);
    const picture = new Int16Array(count).fill(-1);
    let [coloured, hidden, outvoted] = [0, 0, 0];
    for (let k = 0; k < count; k++) {
      const base = KEPT * k;
      const i = this.order[k];
      let n = 0;
      while (n < KEPT && from[base + n] >= 0) n++;
      if (n === 0) {
        hidden += framed[k];
        continue;
      }
      const chosen = n < 3 ? 0 : agreed(seen, 3 * base, n);
      if (chosen > 0) outvoted++;
      coloured++;
      picture[i] = from[base + chosen];
      const at = 3 * (base + chosen);
      rgb[3 * i] = seen[at];
      rgb[3 * i + 1] = seen[at + 1];
      rgb[3 * i + 2] = seen[at + 2];
    }
    return { rgb, picture, coloured, hidden, outvoted };
  }
}

/** The first of several colours that is like the middle one of each channel. */
function agreed(seen: Uint8Array, at: number, n: number): number {
  let best = 0;
  let least = Number.POSITIVE_INFINITY;
  const red = middleOf(seen, at, n);
  const green = middleOf(seen, at + 1, n);
  const blue = middleOf(seen, at + 2, n);
  for (let k = 0; k < n; k++) {
    const p = at + 3 * k;
    const off = Math.max(Math.abs(seen[p] - red), Math.abs(seen[p + 1] - green), Math.abs(seen[p + 2] - blue));
    if (off <= APART) return k;
    if (off < least) {
      least = off;
      best = k;
    }
  }
  return best;
}

/** Median of three or four bytes three apart; of four the mean of the two in the middle. */
function middleOf(seen: Uint8Array, at: number, n: number): number {
  let [sum, low, high] = [0, 255, 0];
  for (let k = 0; k < n; k++) {
    const v = seen[at + 3 * k];
    sum += v;
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return (sum - low - high) / (n - 2);
}

/** Colour between four pixels. */
function sample({ widthPx, heightPx, rgb }: Pixels, u: number, v: number, out: Uint8Array, at: number): void {
  const x = u < 0 ? 0 : u > widthPx - 1 ? widthPx - 1 : u;
  const y = v < 0 ? 0 : v > heightPx - 1 ? heightPx - 1 : v;
  const c = Math.min(widthPx - 2, x | 0);
  const r = Math.min(heightPx - 2, y | 0);
  const a = x - c;
  const b = y - r;
  const k = 3 * (r * widthPx + c);
  const below = k + 3 * widthPx;
  const w00 = (1 - b) * (1 - a);
  const w01 = (1 - b) * a;
  const w10 = b * (1 - a);
  const w11 = a * b;
  for (let i = 0; i < 3; i++)
    out[at + i] = w00 * rgb[k + i] + w01 * rgb[k + 3 + i] + w10 * rgb[below + i] + w11 * rgb[below + 3 + i] + 0.5;
}

/** Points in order of square tiles, and the tiles with their boxes. */
function tilesOf({ count, x, y, z }: PaintPoints): { order: Int32Array; tiles: Tile[] } {
  const keys = new Map<number, number>();
  const tileOf = new Int32Array(count);
  const counts: number[] = [];
  const boxes: Tile['box'][] = [];
  let last = Number.NaN;
  let lastTile = 0;
  for (let i = 0; i < count; i++) {
    const key = Math.floor(x[i] / TILE_M) * 0x200000 + Math.floor(y[i] / TILE_M);
    let tile = key === last ? lastTile : keys.get(key);
    if (tile === undefined) {
      tile = counts.push(0) - 1;
      keys.set(key, tile);
      boxes.push([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
    }
    last = key;
    lastTile = tile;
    tileOf[i] = tile;
    counts[tile]++;
    const b = boxes[tile];
    b[0] = Math.min(b[0], x[i]);
    b[1] = Math.min(b[1], y[i]);
    b[2] = Math.min(b[2], z[i]);
    b[3] = Math.max(b[3], x[i]);
    b[4] = Math.max(b[4], y[i]);
    b[5] = Math.max(b[5], z[i]);
  }
  let sum = 0;
  const tiles = counts.map((n, t): Tile => ({ from: sum, to: (sum += n), box: boxes[t] }));
  const next = Int32Array.from(tiles, (t) => t.from);
  const order = new Int32Array(count);
  for (let i = 0; i < count; i++) order[next[tileOf[i]]++] = i;
  return { order, tiles };
}

/** Distance of points in plan where they are as dense as in the thinner quarter of the tiles that are full of them. */
function spacingOf({ count }: PaintPoints, tiles: readonly Tile[]): number {
  if (!count) return 1;
  const all = tiles.map((t) => t.to - t.from).sort((a, b) => a - b);
  const usual = all[Math.floor(0.25 * all.length)];
  return Math.min(2, Math.max(0.01, TILE_M / Math.sqrt(Math.max(1, usual))));
}
