import { type Attributes } from '@longheron/core/cloud';

/** A vertical slice of a stored cloud: the points within half a width of a line in plan. */
export interface SectionLine {
  /** Project metres. */
  from: [number, number];
  to: [number, number];
  widthM: number;
}

export interface Slice {
  count: number;
  /** Along the line, metres from its start. */
  alongM: Float32Array;
  /** To the left of the line, metres. */
  acrossM: Float32Array;
  heightM: Float32Array;
  cls: Uint8Array;
  /** Bits of rejection and selection. */
  flags: Uint8Array;
  strip: Uint16Array;
  intensity: Uint16Array;
  /** Seconds since the cloud's first, in its steps. */
  timeSteps: Uint32Array;
  /** 1 SD of height, tenths of a millimetre. */
  sdH: Uint16Array;
  echo: Uint8Array;
  echoes: Uint8Array;
  /** Red, green, blue of clouds that have them; black otherwise. */
  colour: Uint8Array;
  /** Place of each point in the packs. */
  row: Uint32Array;
}

export const lengthOf = (s: SectionLine) => Math.hypot(s.to[0] - s.from[0], s.to[1] - s.from[1]);

/** Whether a square in plan touches the slice (separating axes of square and slice). */
export function touches(s: SectionLine, minX: number, minY: number, edgeM: number): boolean {
  const length = lengthOf(s) || 1e-9;
  const ux = (s.to[0] - s.from[0]) / length;
  const uy = (s.to[1] - s.from[1]) / length;
  const half = edgeM / 2;
  const cx = minX + half - (s.from[0] + s.to[0]) / 2;
  const cy = minY + half - (s.from[1] + s.to[1]) / 2;
  const reach = half * (Math.abs(ux) + Math.abs(uy));
  if (Math.abs(cx * ux + cy * uy) > length / 2 + reach) return false;
  if (Math.abs(-cx * uy + cy * ux) > s.widthM / 2 + reach) return false;
  const bx = (length / 2) * Math.abs(ux) + (s.widthM / 2) * Math.abs(uy);
  const by = (length / 2) * Math.abs(uy) + (s.widthM / 2) * Math.abs(ux);
  return Math.abs(cx) <= half + bx && Math.abs(cy) <= half + by;
}

/** Moves the line sideways (to its left for positive metres). */
export function stepped(s: SectionLine, byM: number): SectionLine {
  const length = lengthOf(s) || 1e-9;
  const nx = (-(s.to[1] - s.from[1]) / length) * byM;
  const ny = ((s.to[0] - s.from[0]) / length) * byM;
  return { ...s, from: [s.from[0] + nx, s.from[1] + ny], to: [s.to[0] + nx, s.to[1] + ny] };
}

/** Collects points that fall into a slice. */
export class SliceBuilder {
  private readonly length: number;
  private readonly ux: number;
  private readonly uy: number;
  private readonly parts: Slice[] = [];
  count = 0;

  constructor(private readonly s: SectionLine) {
    this.length = lengthOf(s) || 1e-9;
    this.ux = (s.to[0] - s.from[0]) / this.length;
    this.uy = (s.to[1] - s.from[1]) / this.length;
  }

  /**
   * @param position int32 × 3 per point, scaled about `origin`.
   * @param first row of the first point. @param colour red, green, blue of each, where there are any.
   */
  add(
    position: Int32Array,
    attributes: Attributes,
    classes: Uint8Array,
    flags: Uint8Array,
    scale: number,
    origin: [number, number, number],
    first: number,
    colour?: Uint8Array,
  ): void {
    const n = classes.length;
    if (position.length !== 3 * n || attributes.count !== n)
      throw new Error('the columns of a node have other lengths');
    const ox = origin[0] - this.s.from[0];
    const oy = origin[1] - this.s.from[1];
    const half = this.s.widthM / 2;
    const at = new Uint32Array(n);
    let count = 0;
    for (let i = 0; i < n; i++) {
      const x = position[3 * i] * scale + ox;
      const y = position[3 * i + 1] * scale + oy;
      const across = -x * this.uy + y * this.ux;
      if (across > half || across < -half) continue;
      const along = x * this.ux + y * this.uy;
      if (along < 0 || along > this.length) continue;
      at[count++] = i;
    }
    if (count === 0) return;
    const part = empty(count);
    for (let k = 0; k < count; k++) {
      const i = at[k];
      const x = position[3 * i] * scale + ox;
      const y = position[3 * i + 1] * scale + oy;
      part.alongM[k] = x * this.ux + y * this.uy;
      part.acrossM[k] = -x * this.uy + y * this.ux;
      part.heightM[k] = position[3 * i + 2] * scale + origin[2];
      part.cls[k] = classes[i];
      part.flags[k] = flags[i];
      part.intensity[k] = attributes.intensity(i);
      part.strip[k] = attributes.strip(i);
      part.timeSteps[k] = attributes.time(i);
      part.sdH[k] = attributes.sdSteps(i);
      part.echo[k] = attributes.echo(i);
      part.echoes[k] = attributes.echoes(i);
      part.row[k] = first + i;
      if (colour) part.colour.set(colour.subarray(3 * i, 3 * i + 3), 3 * k);
    }
    this.parts.push(part);
    this.count += count;
  }

  finish(): Slice {
    const out = empty(this.count);
    let o = 0;
    for (const p of this.parts) {
      out.alongM.set(p.alongM, o);
      out.heightM.set(p.heightM, o);
      out.acrossM.set(p.acrossM, o);
      out.cls.set(p.cls, o);
      out.flags.set(p.flags, o);
      out.strip.set(p.strip, o);
      out.intensity.set(p.intensity, o);
      out.timeSteps.set(p.timeSteps, o);
      out.sdH.set(p.sdH, o);
      out.echo.set(p.echo, o);
      out.echoes.set(p.echoes, o);
      out.row.set(p.row, o);
      out.colour.set(p.colour, 3 * o);
      o += p.count;
    }
    return out;
  }
}

function empty(n: number): Slice {
  return {
    count: n,
    alongM: new Float32Array(n),
    acrossM: new Float32Array(n),
    heightM: new Float32Array(n),
    cls: new Uint8Array(n),
    flags: new Uint8Array(n),
    strip: new Uint16Array(n),
    intensity: new Uint16Array(n),
    timeSteps: new Uint32Array(n),
    sdH: new Uint16Array(n),
    echo: new Uint8Array(n),
    echoes: new Uint8Array(n),
    colour: new Uint8Array(3 * n),
    row: new Uint32Array(n),
  };
}
