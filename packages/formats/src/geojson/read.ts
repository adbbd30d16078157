import { findSystem } from '../crs';
import { type GridName } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { decodeText } from '../csv';

/** An area or a line of a file, in the file's own coordinates. */
export interface Outline {
  name: string;
  kind: 'area' | 'line';
  /** Flat lists, x, y, x, y …: the outer ring and its holes of an area, one list of a line. */
  parts: number[][];
  /** Of the index of a delivery: the tile's file, and how many points it holds. */
  file?: string;
  points?: number;
  /** Of a sample: the class that all its points have. */
  cls?: number;
}

export interface Outlines {
  outlines: Outline[];
  /** Code of the system that the file names; 0 for longitude and latitude, null when it names none and they are not such. */
  horizontal: number | GridName | null;
}

/** More corners than this are no boundary that a person has drawn. */
const MAX_CORNERS = 200_000;
const DEEPEST = 8;

/**
 * Reads areas and lines of a GeoJSON file: RFC 7946 (longitude and latitude), or with the older "crs" member easting
 * and northing of a system of the EPSG list. Points are left out; heights are not looked at.
 * @throws Problem naming the file and the place in it.
 */
export function readOutlines(bytes: Uint8Array, file: string): Outlines {
  let root: unknown;
  try {
    root = JSON.parse(decodeText(bytes, file));
  } catch (error) {
    const at = /position (\d+)/.exec((error as Error).message)?.[1];
    throw new Problem(`The file is no whole JSON: ${(error as Error).message}.`, {
      code: 'geojson-json',
      file,
      place: at ? `character ${at}` : undefined,
      remedy: 'Copy it again from its origin.',
    });
  }
  const outlines: Outline[] = [];
  const state = { corners: 0, least: [Infinity, Infinity], most: [-Infinity, -Infinity] };

  const wrong = (text: string, place: string) =>
    new Problem(text, { code: 'geojson-value', file, place, remedy: 'Correct the file, or write it anew.' });

  function flat(list: unknown, place: string, closed: boolean): number[] {
    if (!Array.isArray(list)) throw wrong('Coordinates are missing.', place);
    const out: number[] = [];
    list.forEach((p: unknown, i) => {
      const [x, y] = Array.isArray(p) ? (p as unknown[]) : [];
      if (typeof x !== 'number' || typeof y !== 'number' || !Number.isFinite(x) || !Number.isFinite(y))
        throw wrong('A corner has no two numbers.', `${place}, corner ${i + 1}`);
      if (++state.corners > MAX_CORNERS)
        throw wrong(`It has more than ${MAX_CORNERS} corners.`, `${place}, corner ${i + 1}`);
      [x, y].forEach((v, k) => {
        state.least[k] = Math.min(state.least[k], v);
        state.most[k] = Math.max(state.most[k], v);
      });
      out.push(x, y);
    });
    const n = out.length;
    // a ring of the format ends where it began
    if (closed && n >= 2 && out[0] === out[n - 2] && out[1] === out[n - 1]) out.length = n - 2;
    const fewest = closed ? 3 : 2;
    if (out.length < 2 * fewest) throw wrong(`It has fewer than ${fewest} corners.`, place);
    return out;
  }
  const area = (rings: unknown, name: string, place: string) => {
    if (!Array.isArray(rings) || rings.length === 0) throw wrong('An area has no ring.', place);
    outlines.push({ name, kind: 'area', parts: rings.map((r, i) => flat(r, `${place}, ring ${i + 1}`, true)) });
  };
  const line = (points: unknown, name: string, place: string) =>
    outlines.push({ name, kind: 'line', parts: [flat(points, place, false)] });

  function geometry(g: unknown, name: string, place: string, depth: number): void {
    if (depth > DEEPEST) throw wrong('Collections lie too deep in each other.', place);
    const { type, coordinates, geometries } = (g ?? {}) as Record<string, unknown>;
    const each = (list: unknown, f: (v: unknown, name: string, place: string) => void) => {
      if (!Array.isArray(list)) throw wrong('Coordinates are missing.', place);
      list.forEach((v, i) => f(v, list.length > 1 ? `${name} (${i + 1})` : name, `${place}, part ${i + 1}`));
    };
    if (type === 'Polygon') area(coordinates, name, place);
    else if (type === 'MultiPolygon') each(coordinates, area);
    else if (type === 'LineString') line(coordinates, name, place);
    else if (type === 'MultiLineString') each(coordinates, line);
    else if (type === 'GeometryCollection') each(geometries, (v, n, p) => geometry(v, n, p, depth + 1));
  }
  const { type, features, geometry: own, properties, crs } = (root ?? {}) as Record<string, unknown>;
  const nameOf = (p: unknown, i: number) => {
    const { name, Name, id } = (p ?? {}) as Record<string, unknown>;
    const found = [name, Name, id].find((v) => typeof v === 'string' || typeof v === 'number');
    return found === undefined ? `outline ${i + 1}` : String(found).slice(0, 80);
  };
  if (type === 'FeatureCollection' && Array.isArray(features))
    features.forEach((f: unknown, i) => {
      const feature = (f ?? {}) as Record<string, unknown>;
      const before = outlines.length;
      geometry(feature.geometry, nameOf(feature.properties, i), `feature ${i + 1}`, 0);
      for (const o of outlines.slice(before)) Object.assign(o, saidOf(feature.properties));
    });
  else if (type === 'Feature') geometry(own, nameOf(properties, 0), 'feature 1', 0);
  else geometry(root, 'outline 1', 'geometry', 0);
  if (outlines.length === 0)
    throw new Problem('The file holds no areas and no lines.', {
      code: 'geojson-empty',
      file,
      place: 'features',
      remedy: 'Choose one with a boundary (Polygon) or a line (LineString).',
    });
  const angles = state.least[0] >= -180 && state.most[0] <= 180 && state.least[1] >= -90 && state.most[1] <= 90;
  const named = systemNamed(crs, file);
  return { outlines, horizontal: named ?? (angles ? 0 : null) };
}

/** What an index of tiles says of one, and the class of a sample; nothing of other files. */
function saidOf(properties: unknown): Pick<Outline, 'file' | 'points' | 'cls'> {
  const p = (properties ?? {}) as Record<string, unknown>;
  const file = [p.file, p.filename, p.location].find((v) => typeof v === 'string');
  const whole = (v: unknown) => (typeof v === 'number' && Number.isInteger(v) && v >= 0 ? v : undefined);
  const own = whole(p.points_own);
  const cls = whole(p.class ?? p.classification);
  const points =
    own === undefined
      ? [p.points, p.point_count, p.count].map(whole).find((v) => v !== undefined)
      : own + (whole(p.points_of_neighbours) ?? 0);
  return {
    ...(typeof file === 'string' ? { file: file.slice(0, 200) } : {}),
    ...(points === undefined ? {} : { points }),
    ...(cls === undefined || cls > 255 ? {} : { cls }),
  };
}

/** Code of the older "crs" member; 0 for longitude and latitude. */
function systemNamed(crs: unknown, file: string): number | GridName | null {
  if (crs === undefined || crs === null) return null;
  const name = String(((crs as Record<string, unknown>).properties as Record<string, unknown> | undefined)?.name ?? '');
  if (/CRS84$|EPSG:+4326$|EPSG:+4258$/i.test(name)) return 0;
  const own = /^([\w.-]+)@([0-9a-f]{12})$/.exec(name);
  if (own) return { name: own[1], sha12: own[2] };
  const code = Number(/EPSG:+(?:[\d.]*:)?(\d+)$/i.exec(name)?.[1]);
  const found = Number.isInteger(code) ? findSystem(code) : undefined;
  if (found?.kind !== 'projected')
    throw new Problem(`The coordinate system "${name.slice(0, 80)}" is not known.`, {
      code: 'geojson-crs',
      file,
      place: 'crs',
      remedy: 'Write the file in longitude and latitude, or name a projected system of the EPSG list.',
    });
  return code;
}
