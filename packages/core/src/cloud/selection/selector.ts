import { Problem } from '../../shared/problem';
import { type Runs } from '../edits/runs';
import { type GroundGrid } from '../finders/aboveGround';
import { PointFilter } from './filter';
import { INSIDE, MIXED, OUTSIDE, PolygonMask, type BoxState } from './polygonMask';
import {
  type Selection,
  type SelectionFilter,
  type SelectionLine,
  type SelectionRegion,
  type SelectionShape,
} from './types';

/** Rows of the points in a cube. */
export interface RowRange {
  first: number;
  count: number;
}

/** A shape made ready: coordinates are metres about the cloud's origin. */
interface Shape {
  has(x: number, y: number, z: number, row: number): boolean;
  /** How a cube lies to it; mixed where that is not sure. */
  state(x: number, y: number, z: number, edgeM: number, rows?: RowRange): BoxState;
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
    state(x, y, z, edgeM) {
      let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
      let [before, beyond, clear] = [true, true, true];
      for (let k = 0; k < 8; k++) {
        const [cx, cy, cz] = [k & 1 ? x + edgeM : x, k & 2 ? y + edgeM : y, k & 4 ? z + edgeM : z];
        const w = m[3] * cx + m[7] * cy + m[11] * cz + m[15];
        // partly behind the eye: its picture has no bounds
        if (w <= 0) return MIXED;
        const depth = m[2] * cx + m[6] * cy + m[10] * cz + m[14];
        if (depth >= -w) before = false;
        if (depth <= w) beyond = false;
        if (depth < -w || depth > w) clear = false;
        const px = (m[0] * cx + m[4] * cy + m[8] * cz + m[12]) / w;
        const py = (m[1] * cx + m[5] * cy + m[9] * cz + m[13]) / w;
        [minX, minY, maxX, maxY] = [Math.min(minX, px), Math.min(minY, py), Math.max(maxX, px), Math.max(maxY, py)];
      }
      if (before || beyond) return OUTSIDE;
      const state = mask.boxState(minX, minY, maxX, maxY);
      return state === INSIDE && !clear ? MIXED : state;
    },
  };
}

function planShape(polygon: number[], heights: [number, number] | undefined, origin: readonly number[]): Shape {
  const mask = new PolygonMask(polygon.map((v, i) => v - origin[i % 2]));
  const [low, high] = heights ? heights.map((h) => h - origin[2]) : [-Infinity, Infinity];
  return {
    has: (x, y, z) => z >= low && z <= high && mask.has(x, y),
    state(x, y, z, e) {
      if (z > high || z + e < low) return OUTSIDE;
      const state = mask.boxState(x, y, x + e, y + e);
      return state === INSIDE && (z < low || z + e > high) ? MIXED : state;
    },
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
    state: (x, y, z, e) =>
      z + origin[2] <= mask.maxY && z + e + origin[2] >= mask.minY && frame.touches(x, y, e) ? MIXED : OUTSIDE,
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
    state: (x, y, z, e) =>
      z + origin[2] <= high && z + e + origin[2] >= low && frame.touches(x, y, e) ? MIXED : OUTSIDE,
  };
}

/** Rows as runs: looked up by halving, with the last run at hand since rows mostly ascend. */
function rowsShape({ first, length }: Runs): Shape {
  let last = 0;
  const at = (row: number) => {
    let [low, high] = [0, first.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (first[middle] + length[middle] <= row) low = middle + 1;
      else high = middle;
    }
    return low;
  };
  return {
    has(_x, _y, _z, row) {
      if (!(last < first.length && row >= first[last] && row < first[last] + length[last])) last = at(row);
      return last < first.length && row >= first[last];
    },
    state(_x, _y, _z, _e, rows) {
      if (!rows) return MIXED;
      const r = at(rows.first);
      if (r >= first.length || first[r] >= rows.first + rows.count) return OUTSIDE;
      return first[r] <= rows.first && first[r] + length[r] >= rows.first + rows.count ? INSIDE : MIXED;
    },
  };
}

/** What a selection that names found rows needs: the rows of an object. */
export type RowsOf = (object: string) => Runs;

const noRows: RowsOf = () => {
  throw new Problem('What was found is not at hand any more.', {
    code: 'selection-rows',
    remedy: 'Find it again.',
  });
};

function shapeOf(s: SelectionShape, origin: readonly number[], rowsOf: RowsOf): Shape {
  if (s.kind === 'rows') return rowsShape(rowsOf(s.object));
  if (s.kind === 'view') return viewShape(s.matrix, s.polygon);
  if (s.kind === 'plan') return planShape(s.polygon, s.heightM, origin);
  if (s.kind === 'section') return sectionShape(s.line, s.polygon, origin);
  return brushShape(s, origin);
}

/** What a selection names and does not hold: rows that were found, heights of the ground. */
export interface SelectionSources {
  rows: RowsOf;
  /** Heights of a grid of the ground, row by row. */
  ground(object: string): Float32Array;
}

const noSources: SelectionSources = {
  rows: noRows,
  ground: () => {
    throw new Problem('The ground is not at hand any more.', {
      code: 'selection-ground',
      remedy: 'Turn the filter of heights off and on again.',
    });
  },
};

function groundOf(filter: SelectionFilter, sources: SelectionSources): GroundGrid | undefined {
  const { above } = filter;
  if (!above) return undefined;
  const { cellM, minX, minY, columns, rows } = above;
  const heightM = sources.ground(above.object);
  if (heightM.length !== columns * rows) noSources.ground(above.object);
  return { cellM, minX, minY, columns, rows, heightM };
}

/** Tells which points a selection holds. */
export class Selector extends PointFilter {
  private readonly regions: Array<{ mode: SelectionRegion['mode']; shape: Shape }>;
  private readonly inverted: boolean;
  /** How the cube that is looked at lies to each shape. */
  private readonly states: BoxState[];
  private readonly clip: ReturnType<typeof sectionFrame> | undefined;

  /** @param origin of the cloud: easting, northing, height of its zero, metres. */
  constructor(selection: Selection, origin: readonly number[], sources: SelectionSources = noSources) {
    super(selection.filter, groundOf(selection.filter, sources), origin[2]);
    this.regions = selection.regions.map((r) => ({ mode: r.mode, shape: shapeOf(r.shape, origin, sources.rows) }));
    this.states = this.regions.map(() => MIXED);
    this.inverted = selection.inverted;
    if (selection.filter.clip) this.clip = sectionFrame(selection.filter.clip, origin);
  }

  /** Whether a cube may hold points of the selection; never false when it does. Metres about the origin. */
  touches(x: number, y: number, z: number, edgeM: number, rows?: RowRange): boolean {
    return this.enter(x, y, z, edgeM, rows) !== OUTSIDE;
  }

  /**
   * Turns to the points of a cube: what its place decides for all of them is decided once. Every `has` that follows must
   * be of a point in it.
   */
  enter(x: number, y: number, z: number, edgeM: number, rows?: RowRange): BoxState {
    const { regions, states } = this;
    let all: BoxState = regions.length === 0 || regions[0].mode !== 'add' ? INSIDE : OUTSIDE;
    for (let i = 0; i < regions.length; i++) {
      const state = (states[i] = regions[i].shape.state(x, y, z, edgeM, rows));
      if (regions[i].mode === 'add')
        all = state === INSIDE ? INSIDE : state === OUTSIDE ? all : all === INSIDE ? INSIDE : MIXED;
      else if (all !== OUTSIDE) {
        const kept: BoxState =
          regions[i].mode === 'within' ? state : state === MIXED ? MIXED : state === INSIDE ? OUTSIDE : INSIDE;
        all = kept === OUTSIDE ? OUTSIDE : kept === MIXED ? MIXED : all;
      }
    }
    const turned = !this.inverted || all === MIXED ? all : all === INSIDE ? OUTSIDE : INSIDE;
    if (turned === OUTSIDE) return turned;
    if (this.clip && !this.clip.touches(x, y, edgeM)) return OUTSIDE;
    return this.clip || this.needsPlace ? MIXED : turned;
  }

  /** Whether a point is selected, leaving attributes aside; metres about the origin, and its row for what was found. */
  has(x: number, y: number, z: number, row = -1): boolean {
    const { regions, states } = this;
    if (this.clip && !this.clip.inside(x, y)) return false;
    if (this.needsPlace && !this.passesPlace(x, y, z)) return false;
    // what begins by taking away, or within, begins with everything
    let inside = regions.length === 0 || regions[0].mode !== 'add';
    for (let i = 0; i < regions.length; i++) {
      const { mode, shape } = regions[i];
      if (mode === 'add' ? inside : !inside) continue;
      const held = states[i] === MIXED ? shape.has(x, y, z, row) : states[i] === INSIDE;
      inside = mode === 'subtract' ? !held : held;
    }
    return inside !== this.inverted;
  }
}
