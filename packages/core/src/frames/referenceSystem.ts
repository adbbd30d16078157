import proj4 from 'proj4';
import { Problem } from '../shared/problem';
import { DEG, GRS80, WGS84, type Ellipsoid } from './ellipsoid';
import { EGM96, ELLIPSOIDAL, type Geoid } from './geoid';
import { forwardTransverseMercator, inverseTransverseMercator, type TransverseMercator } from './transverseMercator';

/** What the EPSG list says of a coordinate system; `core` has no list of its own. */
export interface SystemDefinition {
  horizontalCode: number;
  horizontalName: string;
  /** PROJ string of the projected system. */
  proj4: string;
  /** Length of the system's own unit; coordinates inside the core are metres on the projection plane. */
  metresPerUnit: number;
  /** 0 when heights are ellipsoidal, or above the geoid of a grid. */
  verticalCode: number;
  verticalName: string;
  verticalMetresPerUnit: number;
  /** The grid that heights refer to, when they refer to one. */
  grid?: GridName;
}

/** A grid of geoid undulations by its content: the name of its file, and the first twelve digits of its SHA-256. */
export interface GridName {
  name: string;
  sha12: string;
}

/** The name of a grid by its file and its SHA-256; signs that have a meaning in texts of systems give way. */
export const gridNameOf = (file: string, sha256: string): GridName => ({
  name: file
    .replace(/^.*[\\/]/, '')
    .replace(/[^\w.-]+/g, '_')
    .slice(0, 60),
  sha12: sha256.slice(0, 12),
});

/** `NAME@SHA12`, as it stands in texts of systems and in files. */
export const gridText = ({ name, sha12 }: GridName) => `${name}@${sha12}`;

/** Whether heights are above a geoid of any kind. */
export const isAboveGeoid = (d: SystemDefinition) => d.verticalCode !== 0 || d.grid !== undefined;

/**
 * A projected system with its height reference: between geodetic coordinates and metres easting, northing, height.
 * Transverse Mercator by our own sixth-order series; everything else through proj4, without datum shift.
 */
export interface ReferenceSystem {
  definition: SystemDefinition;
  ellipsoid: Ellipsoid;
  geoid: Geoid;
  /** `EPSG:25832+5773`, `EPSG:25832+GRID@SHA12`, or `EPSG:25832` with ellipsoidal heights. */
  label: string;
  /** Geodetic radians and ellipsoidal metres to easting, northing, height in metres, written to `out`. */
  project(latRad: number, lonRad: number, hEllM: number, out: Float64Array): void;
  /** Easting, northing, height in metres to latitude, longitude (radians) and ellipsoidal height, written to `out`. */
  unproject(eastingM: number, northingM: number, heightM: number, out: Float64Array): void;
  /** Grid convergence (azimuth of grid north from true north), radians, and point scale at a place. */
  convergenceAndScale(latRad: number, lonRad: number): { convergenceRad: number; scale: number };
}

function parameters(text: string): Map<string, string> {
  const out = new Map<string, string>();
  for (const token of text.trim().split(/\s+/)) {
    const [key, value] = token.replace(/^\+/, '').split('=');
    out.set(key, value ?? '');
  }
  return out;
}

function ellipsoidOf(p: Map<string, string>): Ellipsoid {
  const name = p.get('ellps') ?? (p.get('datum') === 'WGS84' ? 'WGS84' : 'GRS80');
  if (p.get('datum') === 'NAD83') return GRS80;
  if (name === 'GRS80') return GRS80;
  if (name === 'WGS84') return WGS84;
  throw new Problem(`The ellipsoid "${name}" needs a datum transformation, which is not available.`, {
    code: 'crs-datum',
    remedy: 'Choose a system on GRS 80 or WGS 84.',
  });
}

function transverseMercatorOf(p: Map<string, string>, ellipsoid: Ellipsoid): TransverseMercator | undefined {
  const number = (key: string, otherwise: number) => (p.has(key) ? Number(p.get(key)) : otherwise);
  if (p.get('proj') === 'utm') {
    return {
      ellipsoid,
      lat0Rad: 0,
      lon0Rad: (6 * number('zone', 0) - 183) * DEG,
      k0: 0.9996,
      falseEastingM: 500000,
      falseNorthingM: p.has('south') ? 10000000 : 0,
    };
  }
  if (p.get('proj') === 'tmerc') {
    return {
      ellipsoid,
      lat0Rad: number('lat_0', 0) * DEG,
      lon0Rad: number('lon_0', 0) * DEG,
      k0: number('k', number('k_0', 1)),
      falseEastingM: number('x_0', 0),
      falseNorthingM: number('y_0', 0),
    };
  }
  return undefined;
}

/** `EPSG:25832`, `EPSG:25832+5773` or `EPSG:25832+GRID@SHA12`. */
export function labelOf({ horizontalCode, verticalCode, grid }: SystemDefinition): string {
  return `EPSG:${horizontalCode}${grid ? `+${gridText(grid)}` : verticalCode ? `+${verticalCode}` : ''}`;
}

function geoidOf(definition: SystemDefinition): Geoid {
  if (definition.verticalCode === 0) return ELLIPSOIDAL;
  if (definition.verticalCode === 5773) return EGM96;
  throw new Problem(
    `Heights in EPSG:${definition.verticalCode} (${definition.verticalName}) need a geoid grid that is not here.`,
    {
      code: 'crs-vertical',
      remedy: 'Choose EGM96 heights (EPSG:5773) or ellipsoidal heights.',
    },
  );
}

/**
 * Builds the system from its definition. @param given the geoid, for heights above a grid.
 * @throws Problem when projection, datum or height reference are not supported.
 */
export function makeReferenceSystem(definition: SystemDefinition, given?: Geoid): ReferenceSystem {
  const p = parameters(definition.proj4);
  if (p.get('proj') === 'longlat' || p.get('proj') === 'geocent')
    throw new Problem(`EPSG:${definition.horizontalCode} (${definition.horizontalName}) is not a projected system.`, {
      code: 'crs-not-projected',
      remedy: 'Choose a projected system, with eastings and northings.',
    });
  const ellipsoid = ellipsoidOf(p);
  const geoid = given ?? geoidOf(definition);
  const tm = transverseMercatorOf(p, ellipsoid);
  const label = labelOf(definition);
  const flat = new Float64Array(4);
  let horizontalForward: (lat: number, lon: number, out: Float64Array) => void;
  let horizontalInverse: (e: number, n: number, out: Float64Array) => void;
  if (tm) {
    horizontalForward = (lat, lon, out) => {
      forwardTransverseMercator(tm, lat, lon, flat);
      out[0] = flat[0];
      out[1] = flat[1];
    };
    horizontalInverse = (e, n, out) => {
      inverseTransverseMercator(tm, e, n, out);
    };
  } else {
    const inMetres = definition.proj4
      .replace(/\+(units|to_meter|towgs84|vunits|nadgrids|datum|type)=\S+/g, '')
      .replace(/$/, ` +ellps=${ellipsoid === GRS80 ? 'GRS80' : 'WGS84'} +units=m`);
    const plain = proj4(`+proj=longlat +ellps=${ellipsoid === GRS80 ? 'GRS80' : 'WGS84'} +no_defs`, inMetres);
    horizontalForward = (lat, lon, out) => {
      const [e, n] = plain.forward([lon / DEG, lat / DEG]);
      out[0] = e;
      out[1] = n;
    };
    horizontalInverse = (e, n, out) => {
      const [lon, lat] = plain.inverse([e, n]);
      out[0] = lat * DEG;
      out[1] = lon * DEG;
    };
  }
  return {
    definition,
    ellipsoid,
    geoid,
    label,
    project(latRad, lonRad, hEllM, out) {
      horizontalForward(latRad, lonRad, out);
      out[2] = hEllM - geoid.undulation(latRad, lonRad);
    },
    unproject(eastingM, northingM, heightM, out) {
      horizontalInverse(eastingM, northingM, out);
      out[2] = heightM + geoid.undulation(out[0], out[1]);
    },
    convergenceAndScale(latRad, lonRad) {
      if (tm) {
        forwardTransverseMercator(tm, latRad, lonRad, flat);
        return { convergenceRad: flat[2], scale: flat[3] };
      }
      return numericConvergence(horizontalForward, ellipsoid, latRad, lonRad);
    },
  };
}

function numericConvergence(
  forward: (lat: number, lon: number, out: Float64Array) => void,
  ellipsoid: Ellipsoid,
  latRad: number,
  lonRad: number,
): { convergenceRad: number; scale: number } {
  const step = 1e-6;
  const a = new Float64Array(3);
  const b = new Float64Array(3);
  forward(latRad - step, lonRad, a);
  forward(latRad + step, lonRad, b);
  const e2 = ellipsoid.f * (2 - ellipsoid.f);
  const meridianRadius = (ellipsoid.a * (1 - e2)) / (1 - e2 * Math.sin(latRad) ** 2) ** 1.5;
  const de = b[0] - a[0];
  const dn = b[1] - a[1];
  return { convergenceRad: -Math.atan2(de, dn), scale: Math.hypot(de, dn) / (2 * step * meridianRadius) };
}
