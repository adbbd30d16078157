import { Problem } from '../shared/problem';
import { type LatLonGrid } from './geoidGrid';
import { DEG, ecefToGeodetic, geodeticToEcef, GRS80, type Ellipsoid } from './ellipsoid';

/** The way between an old geodetic datum and the frame that positions are computed in (ETRS89, WGS 84: GRS 80). */
export interface DatumShift {
  way: 'none' | 'parameters' | 'grid';
  /** What it is and how good, for the reference line. */
  statement: string;
  /** Ellipsoid of the old datum. */
  ellipsoid: Ellipsoid;
  /** Geodetic radians and ellipsoidal metres on the old datum to those of the frame, and back; written to `out`. */
  toFrame(latRad: number, lonRad: number, hM: number, out: Float64Array): void;
  toDatum(latRad: number, lonRad: number, hM: number, out: Float64Array): void;
}

export const noShift = (ellipsoid: Ellipsoid): DatumShift => {
  const same = (lat: number, lon: number, h: number, out: Float64Array) => {
    out[0] = lat;
    out[1] = lon;
    out[2] = h;
  };
  return { way: 'none', statement: '', ellipsoid, toFrame: same, toDatum: same };
};

const MAX_ROUNDS = 12;
/** A rounding of the last digits: 6 µm. */
const CLOSE_RAD = 1e-12;

/**
 * The way back by repetition, so that there and back is the same place: shifts change by parts in ten thousand over the
 * distance that they are.
 */
function inverse(forward: DatumShift['toFrame']): DatumShift['toDatum'] {
  const there = new Float64Array(3);
  return (lat, lon, h, out) => {
    let [a, b, c] = [lat, lon, h];
    for (let round = 0; round < MAX_ROUNDS; round++) {
      forward(a, b, c, there);
      const [da, db] = [lat - there[0], lon - there[1]];
      a += da;
      b += db;
      c += h - there[2];
      if (Math.abs(da) < CLOSE_RAD && Math.abs(db) < CLOSE_RAD) break;
    }
    out[0] = a;
    out[1] = b;
    out[2] = c;
  };
}

/**
 * A shift by seven parameters in the position vector convention: metres, arc seconds, parts per million, as
 * `towgs84` has them. @param accuracyM as the list states it, null when it does not.
 */
export function shiftByParameters(ellipsoid: Ellipsoid, p: readonly number[], accuracyM: number | null): DatumShift {
  const [tx, ty, tz] = [p[0] ?? 0, p[1] ?? 0, p[2] ?? 0];
  const [a, b, c] = [3, 4, 5].map((k) => ((p[k] ?? 0) / 3600) * DEG);
  const m = 1 + (p[6] ?? 0) * 1e-6;
  const at = new Float64Array(3);
  const toFrame: DatumShift['toFrame'] = (lat, lon, h, out) => {
    geodeticToEcef(ellipsoid, lat, lon, h, at);
    const [x, y, z] = at;
    ecefToGeodetic(
      GRS80,
      tx + m * (x - c * y + b * z),
      ty + m * (c * x + y - a * z),
      tz + m * (-b * x + a * y + z),
      out,
    );
  };
  const good = accuracyM === null ? 'of unknown accuracy' : `good to about ${accuracyM} m`;
  return {
    way: 'parameters',
    statement: `approximate: datum shift by ${p.length} parameters, ${good}`,
    ellipsoid,
    toFrame,
    toDatum: inverse(toFrame),
  };
}

/** A part of a grid of shifts: values from south to north, each row from west to east, arc seconds, positive to north and east. */
export interface ShiftPart extends LatLonGrid {
  name: string;
  latSec: Float32Array;
  lonSec: Float32Array;
}

/** A grid of shifts in latitude and longitude; finer parts go before coarser ones. */
export interface ShiftGrid {
  from: string;
  to: string;
  parts: ShiftPart[];
}

const EDGE = 1e-9;

/** A shift by a grid, straight between its values; heights stay. @throws Problem, when used, outside the grid. */
export function shiftByGrid(ellipsoid: Ellipsoid, grid: ShiftGrid, name: string): DatumShift {
  const parts = [...grid.parts].sort((p, q) => p.stepLatDeg * p.stepLonDeg - q.stepLatDeg * q.stepLonDeg);
  const toFrame: DatumShift['toFrame'] = (lat, lon, h, out) => {
    const [y, x] = [lat / DEG, lon / DEG];
    for (const p of parts) {
      const [v, u] = [(y - p.southDeg) / p.stepLatDeg, (x - p.westDeg) / p.stepLonDeg];
      if (!(v >= -EDGE && u >= -EDGE && v <= p.rows - 1 + EDGE && u <= p.columns - 1 + EDGE)) continue;
      const i = Math.max(0, Math.min(p.rows - 2, Math.floor(v)));
      const j = Math.max(0, Math.min(p.columns - 2, Math.floor(u)));
      const at = i * p.columns + j;
      out[0] = lat + (between(p.latSec, at, p.columns, u - j, v - i) / 3600) * DEG;
      out[1] = lon + (between(p.lonSec, at, p.columns, u - j, v - i) / 3600) * DEG;
      out[2] = h;
      return;
    }
    throw outside(grid, name, y, x);
  };
  return {
    way: 'grid',
    statement: `datum shift by the grid ${name}, ${grid.from} to ${grid.to}, bilinear`,
    ellipsoid,
    toFrame,
    toDatum: inverse(toFrame),
  };
}

function between(values: Float32Array, at: number, columns: number, u: number, v: number): number {
  const south = values[at] + u * (values[at + 1] - values[at]);
  const north = values[at + columns] + u * (values[at + columns + 1] - values[at + columns]);
  return south + v * (north - south);
}

function outside(grid: ShiftGrid, name: string, latDeg: number, lonDeg: number): Problem {
  const reach = (low: (p: ShiftPart) => number, high: (p: ShiftPart) => number) =>
    `${Math.min(...grid.parts.map(low)).toFixed(3)}° to ${Math.max(...grid.parts.map(high)).toFixed(3)}°`;
  const lats = reach(
    (p) => p.southDeg,
    (p) => p.southDeg + (p.rows - 1) * p.stepLatDeg,
  );
  const lons = reach(
    (p) => p.westDeg,
    (p) => p.westDeg + (p.columns - 1) * p.stepLonDeg,
  );
  return new Problem(
    `The datum grid ${name} says nothing of ${latDeg.toFixed(4)}°, ${lonDeg.toFixed(4)}°; it covers ${lats} and ${lons}.`,
    { code: 'datum-outside', file: name, remedy: 'Choose a grid that covers the project.' },
  );
}
