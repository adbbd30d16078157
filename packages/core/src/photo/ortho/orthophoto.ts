import { type HeightGrid } from '../../surface/grid';
import { type Pixels } from '../paint';
import { type View } from '../view';
import { evenBrightness } from './gains';
import { Relief } from './heights';
import { chooseSeams, type Nodes } from './seams';

/** Cells of an orthophoto. */
export interface OrthoGrid {
  cellM: number;
  westM: number;
  northM: number;
  columns: number;
  rows: number;
}

/** Cells along a side of what is taken from one picture as a whole. */
const NODE = 4;
/** Pictures that are kept of each node. */
const MOST = 4;
/** Nodes along a side of a tile, of which it is asked first whether a picture may see it. */
const TILE = 32;
/** Seen flatter than this, as a square of the tangent, nothing is taken. */
const FLATTEST = 4;
const NOT_YET = 255;

/**
 * An orthophoto of a surface: looks through every picture once, settles seams and brightness, then fills the cells picture by
 * picture, and what those hid from other pictures. Cells that none shows stay empty.
 */
export class Orthophoto {
  readonly grid: OrthoGrid;
  /** Red, green, blue and opacity of each cell, row by row from the north. */
  readonly rgba: Uint8Array;
  private readonly relief: Relief;
  private readonly views: readonly View[];
  private readonly nodes: Nodes;
  private readonly height: Float32Array;
  private readonly tiles: Float32Array;
  /** Nodes that are taken from each picture, and those of which cells are lacking then. */
  private owned: number[][] = [];
  private lacks: number[] | undefined;
  private readonly rank: Uint8Array;
  private gains: Float64Array = new Float64Array(0);
  private chosen: Int8Array = new Int8Array(0);

  constructor(grid: OrthoGrid, surface: HeightGrid, views: readonly View[]) {
    this.grid = grid;
    this.views = views;
    this.relief = new Relief(surface);
    this.rgba = new Uint8Array(4 * grid.columns * grid.rows);
    this.rank = new Uint8Array(grid.columns * grid.rows).fill(NOT_YET);
    const columns = Math.ceil(grid.columns / NODE);
    const rows = Math.ceil(grid.rows / NODE);
    const places = columns * rows * MOST;
    this.nodes = {
      columns,
      rows,
      most: MOST,
      picture: new Int16Array(places).fill(-1),
      lean: new Float32Array(places).fill(Number.POSITIVE_INFINITY),
      rgb: new Uint8Array(3 * places),
    };
    this.height = new Float32Array(columns * rows);
    const step = NODE * grid.cellM;
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++)
        this.height[r * columns + c] = this.relief.at(
          grid.westM + Math.min((c + 0.5) * step, grid.columns * grid.cellM),
          grid.northM - Math.min((r + 0.5) * step, grid.rows * grid.cellM),
        );
    this.tiles = this.tileHeights();
  }

  /** Notes which nodes a picture shows, and in what colours. Every picture is looked through before seams are settled. */
  look(k: number, pixels: Pixels): void {
    const { nodes, grid, height, relief, views } = this;
    const view = views[k];
    const centre = view.centre;
    const [ce, cn, ch] = centre;
    const step = NODE * grid.cellM;
    for (let tr = 0; tr < nodes.rows; tr += TILE)
      for (let tc = 0; tc < nodes.columns; tc += TILE) {
        if (!this.maySee(view, tr, tc)) continue;
        for (let r = tr; r < Math.min(nodes.rows, tr + TILE); r++)
          for (let c = tc; c < Math.min(nodes.columns, tc + TILE); c++) {
            const node = r * nodes.columns + c;
            const h = height[node];
            if (h !== h) continue;
            const e = grid.westM + (c + 0.5) * step;
            const n = grid.northM - (r + 0.5) * step;
            const lean = ((e - ce) ** 2 + (n - cn) ** 2) / (ch - h) ** 2;
            const at = (node + 1) * MOST - 1;
            if (!(ch > h) || lean > FLATTEST || lean >= nodes.lean[at]) continue;
            if (!view.see(e, n, h) || relief.hides(e, n, h, centre)) continue;
            this.keep(node, k, lean, pixels, view.at[0], view.at[1]);
          }
      }
  }

  /** Lowest and highest node of each tile. */
  private tileHeights(): Float32Array {
    const { nodes, height } = this;
    const across = Math.ceil(nodes.columns / TILE);
    const out = new Float32Array(2 * across * Math.ceil(nodes.rows / TILE));
    for (let t = 0; t < out.length; t += 2) {
      out[t] = Number.POSITIVE_INFINITY;
      out[t + 1] = Number.NEGATIVE_INFINITY;
    }
    for (let r = 0; r < nodes.rows; r++)
      for (let c = 0; c < nodes.columns; c++) {
        const h = height[r * nodes.columns + c];
        const t = 2 * (Math.floor(r / TILE) * across + Math.floor(c / TILE));
        if (h < out[t]) out[t] = h;
        if (h > out[t + 1]) out[t + 1] = h;
      }
    return out;
  }

  private maySee(view: View, row: number, column: number): boolean {
    const { grid, nodes, tiles } = this;
    const t = 2 * ((row / TILE) * Math.ceil(nodes.columns / TILE) + column / TILE);
    const [low, high] = [tiles[t], tiles[t + 1]];
    if (!(high >= low)) return false;
    const step = NODE * grid.cellM;
    const [west, north] = [grid.westM + column * step, grid.northM - row * step];
    return view.maySee(west, north - TILE * step, low, west + TILE * step, north, high);
  }

  /** Puts a picture among those of a node, in order of their lean. */
  private keep(node: number, k: number, lean: number, { widthPx, heightPx, rgb }: Pixels, u: number, v: number): void {
    const { picture, lean: leans, rgb: own } = this.nodes;
    let at = (node + 1) * MOST - 1;
    for (; at > node * MOST && leans[at - 1] > lean; at--) {
      picture[at] = picture[at - 1];
      leans[at] = leans[at - 1];
      own.copyWithin(3 * at, 3 * (at - 1), 3 * at);
    }
    picture[at] = k;
    leans[at] = lean;
    // the mean of four pixels: a node is some pixels wide
    const c = Math.min(widthPx - 2, Math.max(0, Math.floor(u)));
    const r = Math.min(heightPx - 2, Math.max(0, Math.floor(v)));
    const a = 3 * (r * widthPx + c);
    const b = a + 3 * widthPx;
    for (let channel = 0; channel < 3; channel++)
      own[3 * at + channel] = (rgb[a + channel] + rgb[a + 3 + channel] + rgb[b + channel] + rgb[b + 3 + channel]) / 4;
  }

  /** Settles brightness and seams. @param even whether brightness is evened. */
  settle(even: boolean): void {
    const n = this.views.length;
    this.gains = even ? evenBrightness(this.nodes, n) : new Float64Array(3 * n).fill(1);
    this.chosen = chooseSeams(this.nodes, this.gains);
    this.owned = this.views.map(() => []);
    this.chosen.forEach((j, node) => {
      if (j >= 0) this.owned[this.nodes.picture[node * MOST + j]].push(node);
    });
  }

  /** Fills the cells that are taken from a picture. */
  fill(k: number, pixels: Pixels): void {
    for (const node of this.owned[k]) this.fillNode(node, k, 0, pixels);
  }

  /** Pictures that may show what was hidden from those that cells were taken from: for {@link patch}. */
  patching(): number[] {
    const wanted = new Set<number>();
    const { nodes, chosen } = this;
    this.lacks = this.lacking();
    for (const node of this.lacks)
      for (let j = 0; j < MOST; j++) {
        const p = nodes.picture[node * MOST + j];
        if (p >= 0 && j !== chosen[node]) wanted.add(p);
      }
    return [...wanted].sort((a, b) => a - b);
  }

  /** Fills cells of a picture that were hidden from the one they should have been taken from; the more upright wins. */
  patch(k: number, pixels: Pixels): void {
    const { nodes, chosen } = this;
    for (const node of this.lacks ?? [])
      for (let j = 0; j < MOST; j++)
        if (j !== chosen[node] && nodes.picture[node * MOST + j] === k) this.fillNode(node, k, 1 + j, pixels);
  }

  /** Nodes of which some cells are not filled from their own picture. */
  private lacking(): number[] {
    const { nodes, grid, rank, chosen } = this;
    const out: number[] = [];
    for (let node = 0; node < chosen.length; node++) {
      if (chosen[node] < 0) continue;
      const [r0, c0] = [NODE * Math.floor(node / nodes.columns), NODE * (node % nodes.columns)];
      let lacks = false;
      for (let r = r0; r < Math.min(grid.rows, r0 + NODE) && !lacks; r++)
        for (let c = c0; c < Math.min(grid.columns, c0 + NODE); c++) lacks ||= rank[r * grid.columns + c] === NOT_YET;
      if (lacks) out.push(node);
    }
    return out;
  }

  private fillNode(node: number, k: number, rank: number, { widthPx, heightPx, rgb }: Pixels): void {
    const { grid, nodes, relief, gains, rgba } = this;
    const view = this.views[k];
    const centre = view.centre;
    const r0 = NODE * Math.floor(node / nodes.columns);
    const c0 = NODE * (node % nodes.columns);
    const red = gains[3 * k];
    const green = gains[3 * k + 1];
    const blue = gains[3 * k + 2];
    for (let r = r0; r < Math.min(grid.rows, r0 + NODE); r++)
      for (let c = c0; c < Math.min(grid.columns, c0 + NODE); c++) {
        const cell = r * grid.columns + c;
        if (this.rank[cell] <= rank) continue;
        const e = grid.westM + (c + 0.5) * grid.cellM;
        const n = grid.northM - (r + 0.5) * grid.cellM;
        const h = relief.at(e, n);
        if (h !== h || !view.see(e, n, h) || relief.hides(e, n, h, centre)) continue;
        const u = Math.min(widthPx - 1.001, Math.max(0, view.at[0]));
        const v = Math.min(heightPx - 1.001, Math.max(0, view.at[1]));
        const x = Math.floor(u);
        const y = Math.floor(v);
        const p = u - x;
        const q = v - y;
        const a = 3 * (y * widthPx + x);
        const b = a + 3 * widthPx;
        const wa = (1 - p) * (1 - q);
        const wb = p * (1 - q);
        const wc = (1 - p) * q;
        const wd = p * q;
        const out = 4 * cell;
        rgba[out] = clamp(red * (wa * rgb[a] + wb * rgb[a + 3] + wc * rgb[b] + wd * rgb[b + 3]));
        rgba[out + 1] = clamp(green * (wa * rgb[a + 1] + wb * rgb[a + 4] + wc * rgb[b + 1] + wd * rgb[b + 4]));
        rgba[out + 2] = clamp(blue * (wa * rgb[a + 2] + wb * rgb[a + 5] + wc * rgb[b + 2] + wd * rgb[b + 5]));
        rgba[out + 3] = 255;
        this.rank[cell] = rank;
      }
  }

  /** Cells that stayed empty, those of them that have no height, and those taken from another picture than beside them. */
  count(): { empty: number; bare: number; patched: number } {
    const { rank, grid, relief } = this;
    let [empty, bare, patched] = [0, 0, 0];
    for (let r = 0; r < grid.rows; r++)
      for (let c = 0; c < grid.columns; c++) {
        const from = rank[r * grid.columns + c];
        if (from !== NOT_YET) {
          if (from > 0) patched++;
          continue;
        }
        empty++;
        const h = relief.at(grid.westM + (c + 0.5) * grid.cellM, grid.northM - (r + 0.5) * grid.cellM);
        if (h !== h) bare++;
      }
    return { empty, bare, patched };
  }

  /** Nodes that are taken from each picture, and by what its red, green and blue were multiplied. */
  shares(): Array<{ cells: number; gains: [number, number, number] }> {
    const { nodes, chosen, gains } = this;
    const count = new Int32Array(this.views.length);
    for (let node = 0; node < chosen.length; node++)
      if (chosen[node] >= 0) count[nodes.picture[node * MOST + chosen[node]]] += NODE * NODE;
    return [...count].map((cells, k) => ({ cells, gains: [gains[3 * k], gains[3 * k + 1], gains[3 * k + 2]] }));
  }
}

const clamp = (v: number) => (v > 255 ? 255 : v + 0.5);
