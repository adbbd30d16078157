import { edgeShift, type EdgeShift, type Grey, type Pixels } from '@longheron/core/photo';

/** Edge of a cell of the comparison, pixels: points must be about as dense. */
const LEAST_CELL_PX = 2;
const MOST_CELL_PX = 6;

/** Gathers intensities of visible points in the plane of a picture. */
export class IntensityPicture {
  readonly cellPx: number;
  private readonly columns: number;
  private readonly rows: number;
  private readonly sum: Float32Array;
  private readonly count: Uint16Array;

  /** @param apartPx distance of points in the picture. */
  constructor(
    private readonly pixels: Pixels,
    apartPx: number,
  ) {
    this.cellPx = Math.min(MOST_CELL_PX, Math.max(LEAST_CELL_PX, Math.round(apartPx)));
    this.columns = Math.floor(pixels.widthPx / this.cellPx);
    this.rows = Math.floor(pixels.heightPx / this.cellPx);
    this.sum = new Float32Array(this.columns * this.rows);
    this.count = new Uint16Array(this.columns * this.rows);
  }

  add(u: number, v: number, intensity: number): void {
    const c = Math.floor((u + 0.5) / this.cellPx);
    const r = Math.floor((v + 0.5) / this.cellPx);
    if (c < 0 || r < 0 || c >= this.columns || r >= this.rows) return;
    this.sum[r * this.columns + c] += intensity;
    this.count[r * this.columns + c]++;
  }

  /** Shift of the picture against the points, in pixels; undefined where edges tell nothing. */
  shift(): EdgeShift | undefined {
    const { columns, rows, cellPx } = this;
    const found = edgeShift(this.intensities(), this.brightness());
    if (!found || columns * rows === 0) return undefined;
    return { ...found, dx: found.dx * cellPx, dy: found.dy * cellPx };
  }

  private intensities(): Grey {
    const { columns, rows, sum, count } = this;
    const value = new Float32Array(columns * rows).fill(Number.NaN);
    for (let k = 0; k < value.length; k++) if (count[k]) value[k] = sum[k] / count[k];
    // single cells without a point have what those about them have
    const whole = value.slice();
    for (let r = 1; r < rows - 1; r++)
      for (let c = 1; c < columns - 1; c++) {
        const k = r * columns + c;
        if (count[k]) continue;
        let [s, n] = [0, 0];
        for (const j of [k - 1, k + 1, k - columns, k + columns])
          if (count[j]) {
            s += value[j];
            n++;
          }
        if (n >= 2) whole[k] = s / n;
      }
    return { columns, rows, value: whole };
  }

  private brightness(): Grey {
    const { columns, rows, cellPx, pixels } = this;
    const value = new Float32Array(columns * rows);
    for (let r = 0; r < rows; r++)
      for (let c = 0; c < columns; c++) {
        let s = 0;
        for (let y = r * cellPx; y < (r + 1) * cellPx; y++)
          for (let x = c * cellPx; x < (c + 1) * cellPx; x++) {
            const k = 3 * (y * pixels.widthPx + x);
            s += 0.299 * pixels.rgb[k] + 0.587 * pixels.rgb[k + 1] + 0.114 * pixels.rgb[k + 2];
          }
        value[r * columns + c] = s / cellPx ** 2;
      }
    return { columns, rows, value };
  }
}
