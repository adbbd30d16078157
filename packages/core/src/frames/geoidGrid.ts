import { Problem } from '../shared/problem';
import { type Geoid } from './geoid';

/** A regular grid in latitude and longitude. */
export interface LatLonGrid {
  /** The south-western value, degrees. */
  southDeg: number;
  westDeg: number;
  stepLatDeg: number;
  stepLonDeg: number;
  rows: number;
  columns: number;
}

/** A regular grid of undulations. */
export interface UndulationGrid extends LatLonGrid {
  /** From south to north, each row from west to east, metres; NaN where unknown. */
  valuesM: Float32Array;
  /** How the grid says that it is to be read between its values; straight where it does not say. */
  method?: 'bilinear' | 'biquadratic';
  /** Half of the last digit that its values are written with, metres; 0 for numbers of 32 bits. */
  roundingM?: number;
  /** Its own accuracy, 1 SD in metres, where the file states it. */
  accuracyM?: number;
}

/** Ways between the values of a grid. */
export type Interpolation = 'bilinear' | 'biquadratic' | 'bicubic';

const DEGREES = 180 / Math.PI;
/** Outside by this share of a step still counts as on the edge. */
const EDGE = 1e-6;

/**
 * A geoid from a grid, between its values straight in both directions, by parabolas through the three by three nearest
 * (as the open geodetic grid convention has it), or by the cubic curve of Keys (1981) through four by four. Where
 * neighbours are lacking the straight one stands in. @param method as the grid says, unless it is given.
 * @throws Problem outside the grid or at a hole.
 */
export function geoidOfGrid(
  grid: UndulationGrid,
  name: string,
  method: Interpolation = grid.method ?? 'bilinear',
): Geoid {
  const curve = { bilinear: undefined, biquadratic: quadratic, bicubic: cubic }[method];
  // read where every point is placed: no look into the object, no division there
  const { southDeg, westDeg, rows, columns, valuesM } = grid;
  const [perLat, perLon] = [1 / grid.stepLatDeg, 1 / grid.stepLonDeg];
  const [top, right, lastRow, lastColumn] = [rows - 1 + EDGE, columns - 1 + EDGE, rows - 2, columns - 2];
  return {
    name,
    statement: `${name}, ${method}, steps of ${(60 * grid.stepLatDeg).toFixed(2)}′ and ${(60 * grid.stepLonDeg).toFixed(2)}′${goodTo(grid)}`,
    undulation(latRad, lonRad) {
      const y = (latRad * DEGREES - southDeg) * perLat;
      const x = turned(lonRad * DEGREES - westDeg) * perLon;
      if (!(y >= -EDGE && y <= top && x >= -EDGE && x <= right)) throw outside(grid, name, latRad, lonRad);
      const value = curve?.(grid, x, y) ?? straight(valuesM, columns, lastRow, lastColumn, x, y);
      if (Number.isNaN(value)) throw outside(grid, name, latRad, lonRad);
      return value;
    },
  };
}

/** Accuracy and rounding of a grid, apart, as far as they are known. */
function goodTo({ roundingM, accuracyM }: UndulationGrid): string {
  const mm = (m: number) => `± ${Number((1000 * m).toPrecision(2))} mm`;
  return `${accuracyM ? `, accuracy ${mm(accuracyM)} as stated` : ''}${roundingM ? `, rounded to ${mm(roundingM)}` : ''}`;
}

/** Degrees east of the western edge, 0 to 360 but for rounding at the edge itself; grids may cross the date line. */
function turned(deg: number): number {
  if (deg >= 0 && deg < 360 - 1e-6) return deg;
  const d = ((deg % 360) + 360) % 360;
  return d > 360 - 1e-6 ? d - 360 : d;
}

function straight(
  values: Float32Array,
  columns: number,
  lastRow: number,
  lastColumn: number,
  x: number,
  y: number,
): number {
  const i = y <= 0 ? 0 : y >= lastRow ? lastRow : Math.floor(y);
  const j = x <= 0 ? 0 : x >= lastColumn ? lastColumn : Math.floor(x);
  const v = x - j;
  const at = i * columns + j;
  const south = values[at] + v * (values[at + 1] - values[at]);
  const north = values[at + columns] + v * (values[at + columns + 1] - values[at + columns]);
  return south + (y - i) * (north - south);
}

function quadratic(g: UndulationGrid, x: number, y: number): number | undefined {
  if (g.rows < 3 || g.columns < 3) return undefined;
  // the nearest value in the middle, as far as the edge allows
  const i = Math.max(0, Math.min(g.rows - 3, Math.round(y) - 1));
  const j = Math.max(0, Math.min(g.columns - 3, Math.round(x) - 1));
  const row = (r: number) => {
    const at = (i + r) * g.columns + j;
    return parabola(x - j, g.valuesM[at], g.valuesM[at + 1], g.valuesM[at + 2]);
  };
  const value = parabola(y - i, row(0), row(1), row(2));
  return Number.isNaN(value) ? undefined : value;
}

/** Through values at 0, 1 and 2. */
const parabola = (u: number, a: number, b: number, c: number) =>
  a + u * (b - a) + ((u * (u - 1)) / 2) * (c - 2 * b + a);

function cubic(g: UndulationGrid, x: number, y: number): number | undefined {
  const i = Math.floor(y);
  const j = Math.floor(x);
  if (i < 1 || j < 1 || i > g.rows - 3 || j > g.columns - 3) return undefined;
  const [wy, wx] = [weights(y - i), weights(x - j)];
  let sum = 0;
  for (let r = 0; r < 4; r++)
    for (let c = 0; c < 4; c++) sum += wy[r] * wx[c] * g.valuesM[(i - 1 + r) * g.columns + j - 1 + c];
  return Number.isNaN(sum) ? undefined : sum;
}

/** Weights of four neighbours by Keys' kernel with a = −½. */
function weights(u: number): [number, number, number, number] {
  const u2 = u * u;
  const u3 = u2 * u;
  return [(-u3 + 2 * u2 - u) / 2, (3 * u3 - 5 * u2 + 2) / 2, (-3 * u3 + 4 * u2 + u) / 2, (u3 - u2) / 2];
}

function outside(g: UndulationGrid, name: string, latRad: number, lonRad: number): Problem {
  const [lat, lon] = [latRad * DEGREES, lonRad * DEGREES];
  const north = g.southDeg + (g.rows - 1) * g.stepLatDeg;
  const east = g.westDeg + (g.columns - 1) * g.stepLonDeg;
  return new Problem(
    `The geoid grid ${name} has no value at ${lat.toFixed(4)}°, ${lon.toFixed(4)}°; it covers ${g.southDeg.toFixed(3)}° to ${north.toFixed(3)}° and ${g.westDeg.toFixed(3)}° to ${east.toFixed(3)}°.`,
    { code: 'geoid-outside', file: name, remedy: 'Choose a grid that covers the project.' },
  );
}
