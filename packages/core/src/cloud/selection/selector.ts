import { PolygonMask } from './polygonMask';
import {
  type Selection,
  type SelectionFilter,
  type SelectionLine,
  type SelectionRegion,
  type SelectionShape,
} from './types';

/** A shape made ready: coordinates are metres about the cloud's origin. */
interface Shape {
  has(x: number, y: number, z: number): boolean;
  /** Whether a cube may hold points of it; never false when it does. */
  touches(x: number, y: number, z: number, edgeM: number): boolean;
}

function viewShape(m: number[], polygon: number[]): Shape {
  const mask = new PolygonMask(polygon);
  return {
    has(x, y, z) {
      const w = m[3] * x + m[7] * y + m[11] * z + m[15];
      if (w <= 0) return false;
      const depth = m[2] * x + m[6] * y + m[10] * z + m[14];
      if (depth < -w || depth > w) return false;
      return mask.has((m[0] * x + m[4] * y + m[8] * z + m[12]) / w, (m[1] * x + m[5] * y + m[9] * z + m[13]) / w);
    },
    touches(x, y, z, edgeM) {
      let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
      for (let k = 0; k < 8; k++) {
        const [cx, cy, cz] = [k & 1 ? x + edgeM : x, k & 2 ? y + edgeM : y, k & 4 ? z + edgeM : z];
        const w = m[3] * cx + m[7] * cy + m[11] * cz + m[15];
        // partly behind the eye: its picture has no bounds
        if (w <= 0) return true;
        const [px, py] = [
          (m[0] * cx + m[4] * cy + m[8] * cz + m[12]) / w,
          (m[1] * cx + m[5] * cy + m[9] * cz + m[13]) / w,
        ];
        [minX, minY, maxX, maxY] = [Math.min(minX, px), Math.min(minY, py), Math.max(maxX, px), Math.max(maxY, py)];
      }
      return minX <= mask.maxX && maxX >= mask.minX && minY <= mask.maxY && maxY >= mask.minY;
    },
  };
}

function planShape(polygon: number[], heights: [number, number] | undefined, origin: readonly number[]): Shape {
  const mask = new PolygonMask(polygon.map((v, i) => v - origin[i % 2]));
  const [low, high] = heights ? heights.map((h) => h - origin[2]) : [-Infinity, Infinity];
  return {
    has: (x, y, z) => z >= low && z <= high && mask.has(x, y),
    touches: (x, y, z, e) =>
      x <= mask.maxX && x + e >= mask.minX && y <= mask.maxY && y + e >= mask.minY && z <= high && z + e >= low,
  };
}

/** What lies within half a width of a line, with places in it. */
function sectionFrame(line: SelectionLine, origin: readonly number[]) {
  const [dx, dy] = [line.to[0] - line.from[0], line.to[1] - line.from[1]];
  const length = Math.hypot(dx, dy) || 1e-9;
  const [ux, uy] = [dx / length, dy / length];
  const [x0, y0] = [line.from[0] - origin[0], line.from[1] - origin[1]];
  const half = line.widthM / 2;
  return {
    along: (x: number, y: number) => (x - x0) * ux + (y - y0) * uy,
    inside(x: number, y: number): boolean {
      const across = (y - y0) * ux - (x - x0) * uy;
      const along = (x - x0) * ux + (y - y0) * uy;
      return across <= half && across >= -half && along >= 0 && along <= length;
    },
    touches(x: number, y: number, edgeM: number): boolean {
      const r = edgeM / 2;
      const [cx, cy] = [x + r - x0 - dx / 2, y + r - y0 - dy / 2];
      const reach = r * (Math.abs(ux) + Math.abs(uy));
      return Math.abs(cx * ux + cy * uy) <= length / 2 + reach && Math.abs(cy * ux - cx * uy) <= half + reach;
    },
  };
}

function sectionShape(line: SelectionLine, polygon: number[], origin: readonly number[]): Shape {
  const frame = sectionFrame(line, origin);
  const mask = new PolygonMask(polygon);
  return {
    has: (x, y, z) => frame.inside(x, y) && mask.has(frame.along(x, y), z + origin[2]),
    touches: (x, y, z, e) => z + origin[2] <= mask.maxY && z + e + origin[2] >= mask.minY && frame.touches(x, y, e),
  };
}

function brushShape(s: Extract<SelectionShape, { kind: 'brush' }>, origin: readonly number[]): Shape {
  const frame = sectionFrame(s.line, origin);
  // in units of the brush's half axes it is round
  const path = s.path.map((v, i) => v / (i % 2 ? s.heightM : s.alongM));
  const heights = s.path.filter((_, i) => i % 2);
  const [low, high] = [Math.min(...heights) - s.heightM, Math.max(...heights) + s.heightM];
  return {
    has(x, y, z) {
      const h = z + origin[2];
      if (h < low || h > high || !frame.inside(x, y)) return false;
      const [px, py] = [frame.along(x, y) / s.alongM, h / s.heightM];
      for (let i = 0; i < path.length; i += 2) {
        const j = i + 2 < path.length ? i + 2 : i;
        const [dx, dy] = [path[j] - path[i], path[j + 1] - path[i + 1]];
        const square = dx * dx + dy * dy;
        const t = square > 0 ? ((px - path[i]) * dx + (py - path[i + 1]) * dy) / square : 0;
        const u = t < 0 ? 0 : t > 1 ? 1 : t;
        if ((px - path[i] - u * dx) ** 2 + (py - path[i + 1] - u * dy) ** 2 <= 1) return true;
      }
      return false;
    },
    touches: (x, y, z, e) => z + origin[2] <= high && z + e + origin[2] >= low && frame.touches(x, y, e),
  };
}

function shapeOf(s: SelectionShape, origin: readonly number[]): Shape {
  if (s.kind === 'view') return viewShape(s.matrix, s.polygon);
  if (s.kind === 'plan') return planShape(s.polygon, s.heightM, origin);
  if (s.kind === 'section') return sectionShape(s.line, s.polygon, origin);
  return brushShape(s, origin);
}

/** Tells which points a selection holds. */
export class Selector {
  private readonly regions: Array<{ mode: SelectionRegion['mode']; shape: Shape }>;
  private readonly shown = new Uint8Array(256).fill(1);
  private readonly strips: Set<number> | undefined;
  private readonly inverted: boolean;
  private readonly filter: SelectionFilter;

  /** @param origin of the cloud: easting, northing, height of its zero, metres. */
  constructor(selection: Selection, origin: readonly number[]) {
    this.regions = selection.regions.map((r) => ({ mode: r.mode, shape: shapeOf(r.shape, origin) }));
    this.inverted = selection.inverted;
    this.filter = selection.filter;
    for (const c of selection.filter.hiddenClasses) this.shown[c] = 0;
    if (selection.filter.strips) this.strips = new Set(selection.filter.strips);
  }

  /** Whether a cube may hold points of the selection; never false when it does. Metres about the origin. */
  touches(x: number, y: number, z: number, edgeM: number): boolean {
    if (this.inverted || this.regions.length === 0) return true;
    return (
      this.regions.some((r) => r.mode === 'add' && r.shape.touches(x, y, z, edgeM)) || this.regions[0].mode !== 'add'
    );
  }

  /** Whether a place is selected, leaving attributes aside; metres about the origin. */
  has(x: number, y: number, z: number): boolean {
    const { regions } = this;
    // what begins by taking away, or within, begins with everything
    let inside = regions.length === 0 || regions[0].mode !== 'add';
    for (let i = 0; i < regions.length; i++) {
      const { mode, shape } = regions[i];
      if (mode === 'add') inside ||= shape.has(x, y, z);
      else if (inside) inside = mode === 'subtract' ? !shape.has(x, y, z) : shape.has(x, y, z);
    }
    return inside !== this.inverted;
  }

  /** Whether attributes other than class and rejection must be looked at. */
  get needsAttributes(): boolean {
    const { time, intensity } = this.filter;
    return !!time || !!intensity || !!this.strips;
  }

  /** Whether a point counts by its class and rejection. */
  passes(cls: number, rejected: boolean): boolean {
    const { rejected: wanted } = this.filter;
    return this.shown[cls] === 1 && (wanted === 'shown' || rejected === (wanted === 'only'));
  }

  /** Whether it counts by what else is known of it. */
  passesAttributes(gpsS: number, strip: number, intensity: number): boolean {
    const { time, intensity: range } = this.filter;
    if (time && !(gpsS >= time[0] && gpsS <= time[1])) return false;
    if (this.strips && !this.strips.has(strip)) return false;
    return !range || (intensity >= range[0] && intensity <= range[1]);
  }
}
