import { median } from '../../numeric/statistics';
import { GRADES } from './labels';

/** Cells in plan. */
export interface CellGrid {
  westM: number;
  northM: number;
  cellM: number;
  columns: number;
  rows: number;
}

/** A surface of cells: those that are not sure are not there. */
export interface FusedSurface {
  count: number;
  /** Cell of each point. */
  cell: Int32Array;
  heightM: Float64Array;
  /** 1 SD of the height by how pairs agree, metres. */
  sdM: Float32Array;
  rgb: Uint8Array;
  /** 1 SD of a label, pixels, by grade: what pairs differ by says it. NaN where no two pairs meet. */
  labelSdPx: Float64Array;
  /** Cells that pairs disagreed on, and those that one alone saw. */
  disagreed: number;
  alone: number;
}

/** Heights of one cell that are kept. */
const MOST = 8;
/** Heights that differ by no more than so many deviations are of one surface. */
const ALIKE = 4;
/** Pairs of heights by which a label's deviation is told, at most and at least for a grade of its own. */
const MOST_DIFFERENCES = 200_000;
const ENOUGH_DIFFERENCES = 100;
/** A label is not better than this, pixels: its steps are one. */
const LEAST_LABEL_PX = 0.05;

/** A pair that heights come from: its pictures, and the way of its base in plan. */
interface Source {
  first: number;
  second: number;
  east: number;
  north: number;
}

/**
 * Heights that pairs of pictures tell, cell by cell, made one. What a place looks like in a picture errs for all pairs of that
 * picture: heights of pairs that share one hang together, as a half of a label along both bases.
 */
export class HeightFusion {
  private readonly sources: Source[] = [];
  private readonly source: Uint16Array;
  private readonly height: Float32Array;
  private readonly perLabel: Float32Array;
  private readonly colour: Uint32Array;
  private readonly grade: Uint8Array;
  private readonly count: Uint8Array;
  /** Of the pair at hand: how far from the middle of the cell, and its sample. */
  private readonly off: Float32Array;
  private readonly ownHeight: Float32Array;
  private readonly ownPerLabel: Float32Array;
  private readonly ownColour: Uint32Array;
  private readonly ownGrade: Uint8Array;
  private readonly touched: Int32Array;
  private touchedCount = 0;
  private lowM = Number.NaN;

  constructor(readonly grid: CellGrid) {
    const n = grid.columns * grid.rows;
    this.height = new Float32Array(MOST * n);
    this.perLabel = new Float32Array(MOST * n);
    this.colour = new Uint32Array(MOST * n);
    this.source = new Uint16Array(MOST * n);
    this.grade = new Uint8Array(MOST * n);
    this.ownGrade = new Uint8Array(n);
    this.count = new Uint8Array(n);
    this.off = new Float32Array(n).fill(Infinity);
    this.ownHeight = new Float32Array(n);
    this.ownPerLabel = new Float32Array(n);
    this.ownColour = new Uint32Array(n);
    this.touched = new Int32Array(n);
  }

  /** Begins a pair. @param base from its first picture to the second, east and north first. */
  beginPair(first: number, second: number, base: ArrayLike<number>): void {
    const size = Math.hypot(base[0], base[1]) || 1;
    this.sources.push({ first, second, east: base[0] / size, north: base[1] / size });
  }

  /** How two heights hang together: their covariance over both changes with a label and its variance. */
  private together(p: number, q: number): number {
    if (p === q) return 1;
    const [a, b] = [this.sources[p], this.sources[q]];
    const cos = a.east * b.east + a.north * b.north;
    // in one role an error moves both labels alike, in different ones against each other
    const same = (a.first === b.first ? 1 : 0) + (a.second === b.second ? 1 : 0);
    const other = (a.first === b.second ? 1 : 0) + (a.second === b.first ? 1 : 0);
    return ((same - other) * cos) / 2;
  }

  /**
   * A height of the pair at hand. @param perLabelM by how much it changes with one label, metres.
   * @param grade of the match. @param rgb where its colour stands, at three times `pixel`.
   */
  add(
    eM: number,
    nM: number,
    hM: number,
    perLabelM: number,
    grade: number,
    rgb: ArrayLike<number>,
    pixel: number,
  ): void {
    const { westM, northM, cellM, columns, rows } = this.grid;
    const x = (eM - westM) / cellM;
    const y = (northM - nM) / cellM;
    const [c, r] = [Math.floor(x), Math.floor(y)];
    if (c < 0 || r < 0 || c >= columns || r >= rows) return;
    const k = r * columns + c;
    const off = (x - c - 0.5) ** 2 + (y - r - 0.5) ** 2;
    if (off >= this.off[k]) return;
    if (this.off[k] === Infinity) this.touched[this.touchedCount++] = k;
    // kept as differences: single precision is not enough for heights of mountains
    if (Number.isNaN(this.lowM)) this.lowM = hM;
    this.off[k] = off;
    this.ownHeight[k] = hM - this.lowM;
    this.ownPerLabel[k] = perLabelM;
    this.ownGrade[k] = grade;
    this.ownColour[k] = (rgb[3 * pixel] << 16) | (rgb[3 * pixel + 1] << 8) | rgb[3 * pixel + 2];
  }

  /** Ends a pair: each cell has one height of it, that nearest to its middle. */
  endPair(): void {
    for (let i = 0; i < this.touchedCount; i++) {
      const k = this.touched[i];
      this.off[k] = Infinity;
      const n = this.count[k];
      if (n === MOST) continue;
      const at = MOST * k + n;
      this.height[at] = this.ownHeight[k];
      this.perLabel[at] = this.ownPerLabel[k];
      this.colour[at] = this.ownColour[k];
      this.grade[at] = this.ownGrade[k];
      this.source[at] = this.sources.length - 1;
      this.count[k] = n + 1;
    }
    this.touchedCount = 0;
  }

  /**
   * 1 SD of a label by grade: the usual difference of two heights of a cell that are of this grade or the next, in labels.
   * NaN where no two pairs meet.
   */
  private labelSds(): Float64Array {
    const { count, height, perLabel, source, grade } = this;
    let meet = 0;
    for (const n of count) if (n > 1) meet++;
    const every = Math.max(1, Math.floor(meet / MOST_DIFFERENCES));
    const all: number[] = [];
    const of: number[][] = Array.from({ length: GRADES }, () => []);
    let seen = 0;
    for (let k = 0; k < count.length; k++) {
      if (count[k] < 2 || seen++ % every) continue;
      const at = MOST * k;
      const [g, h] = [perLabel[at], perLabel[at + 1]];
      const variance = g * g + h * h - 2 * g * h * this.together(source[at], source[at + 1]);
      if (!(variance > 0)) continue;
      const off = Math.abs(height[at] - height[at + 1]) / Math.sqrt(variance);
      all.push(off);
      const [p, q] = [grade[at], grade[at + 1]];
      if (Math.abs(p - q) <= 1) for (const own of new Set([p, q])) of[own].push(off);
    }
    // the middle of absolute normal errors is 0.6745 of their SD
    const sdOf = (v: number[]) => (v.length ? Math.max(LEAST_LABEL_PX, median(v) / 0.6745) : Number.NaN);
    return Float64Array.from(of, (own) => sdOf(own.length >= ENOUGH_DIFFERENCES ? own : all));
  }

  /** The surface: of each cell the height on which most pairs agree, at least two and more than half of them. */
  finish(): FusedSurface {
    const { count, height, colour, source, grid } = this;
    const labelSdPx = this.labelSds();
    // from here on deviations of each height
    const sd = this.perLabel.map((v, i) => v * labelSdPx[this.grade[i]]);
    const n = grid.columns * grid.rows;
    const cell: number[] = [];
    const out = { heightM: [] as number[], sdM: [] as number[], rgb: [] as number[] };
    let [disagreed, alone] = [0, 0];
    const order = new Int32Array(MOST);
    for (let k = 0; k < n; k++) {
      const m = count[k];
      if (m === 1) alone++;
      if (m < 2) continue;
      const at = MOST * k;
      for (let i = 0; i < m; i++) {
        let j = i;
        for (; j > 0 && height[at + order[j - 1]] > height[at + i]; j--) order[j] = order[j - 1];
        order[j] = i;
      }
      let [from, size] = [0, 0];
      for (let a = 0; a < m; a++) {
        let b = a;
        const first = at + order[a];
        while (
          b + 1 < m &&
          height[at + order[b + 1]] - height[first] <= ALIKE * Math.hypot(sd[first], sd[at + order[b + 1]])
        )
          b++;
        if (b - a + 1 > size) [from, size] = [a, b - a + 1];
      }
      if (size < 2 || 2 * size <= m) {
        disagreed++;
        continue;
      }
      let [weight, sum] = [0, 0];
      let best = at + order[from];
      for (let a = from; a < from + size; a++) {
        const s = at + order[a];
        const w = 1 / sd[s] ** 2;
        weight += w;
        sum += w * height[s];
        if (sd[s] < sd[best]) best = s;
      }
      cell.push(k);
      out.heightM.push(this.lowM + sum / weight);
      let variance = 0;
      for (let a = from; a < from + size; a++)
        for (let b = from; b < from + size; b++) {
          const [s, t] = [at + order[a], at + order[b]];
          variance += this.together(source[s], source[t]) / (sd[s] * sd[t]);
        }
      // shared errors may cancel, but the model of them is not believed below a part of what independent heights would leave
      out.sdM.push(Math.sqrt(Math.max(variance, weight / size)) / weight);
      out.rgb.push(colour[best] >> 16, (colour[best] >> 8) & 255, colour[best] & 255);
    }
    return {
      count: cell.length,
      cell: Int32Array.from(cell),
      heightM: Float64Array.from(out.heightM),
      sdM: Float32Array.from(out.sdM),
      rgb: Uint8Array.from(out.rgb),
      labelSdPx,
      disagreed,
      alone,
    };
  }
}
