import proj4 from 'proj4';
import { Problem } from '../shared/problem';
import { DEG, GRS80, WGS84, type Ellipsoid } from './ellipsoid';
import { noShift, shiftByParameters, type DatumShift } from './datum';
import { EGM96, ELLIPSOIDAL, type Geoid } from './geoid';
import { localPlan, type PlanSimilarity } from './local/similarity';
import { forwardTransverseMercator, inverseTransverseMercator, type TransverseMercator } from './transverseMercator';

/** What the EPSG list says of a coordinate system; `core` has no list of its own. */
export interface SystemDefinition {
  /** 0 when a file defines plan. */
  horizontalCode: number;
  horizontalName: string;
  /** The file with well-known text that defines plan, and heights too unless they are named apart. */
  file?: GridName;
  /** A local system's plan on that of the projection. */
  site?: PlanSimilarity;
  /** PROJ string of the projected system. */
  proj4: string;
  /** Length of the system's own unit; coordinates inside the core are metres on the projection plane. */
  metresPerUnit: number;
  /** 0 when heights are ellipsoidal, or above the geoid of a grid. */
  verticalCode: number;
  verticalName: string;
  verticalMetresPerUnit: number;
  /** The geoid grid that heights refer to, or the file with well-known text that defines them. */
  grid?: GridName;
  /** Whether `grid` is a file of well-known text. */
  heightsByText?: true;
  /** Whether heights are those of `file`. */
  heightsOfFile?: true;
  /** Depths are asked for: positive down in what is delivered; inside, heights are positive up. */
  depths?: true;
  /** The grid by which plan is shifted from the system's datum, when one was brought. */
  shift?: GridName;
  /** Accuracy of the parameters in the list, metres; null when it does not state any. */
  shiftAccuracyM?: number | null;
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

/** Whether heights are above a surface of any kind, and not above the ellipsoid. */
export const isAboveGeoid = (d: SystemDefinition) =>
  d.verticalCode !== 0 || d.grid !== undefined || d.heightsOfFile === true;

/** A system by code and name, or by its file, for people. */
export const planName = ({ horizontalCode, horizontalName, file }: SystemDefinition) =>
  file ? `${horizontalName} (${file.name})` : `${horizontalName} (EPSG:${horizontalCode})`;

/**
 * A projected system with its height reference: between geodetic coordinates and metres easting, northing, height.
 * Transverse Mercator by our own sixth-order series, everything else through proj4; plan on another datum is shifted.
 */
export interface ReferenceSystem {
  definition: SystemDefinition;
  /** Of the frame: GRS 80 or WGS 84. */
  ellipsoid: Ellipsoid;
  /** Way between the frame and the datum of the system's plan. */
  datum: DatumShift;
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

/** Ellipsoids by their names in PROJ strings: semi-major axis, and reciprocal of the flattening. */
const ELLIPSOIDS: Record<string, readonly [name: string, a: number, rf: number]> = {
  bessel: ['Bessel 1841', 6377397.155, 299.1528128],
  bess_nam: ['Bessel Namibia', 6377483.865, 299.1528128],
  intl: ['International 1924', 6378388, 297],
  airy: ['Airy 1830', 6377563.396, 299.3249646],
  mod_airy: ['Airy modified', 6377340.189, 299.32493736548236],
  clrk66: ['Clarke 1866', 6378206.4, 294.9786982138982],
  clrk80: ['Clarke 1880', 6378249.145, 293.4663],
  clrk80ign: ['Clarke 1880 IGN', 6378249.2, 293.4660212936269],
  krass: ['Krassowsky 1940', 6378245, 298.3],
  aust_SA: ['Australian National', 6378160, 298.25],
  GRS67: ['GRS 67', 6378160, 298.247167427],
  helmert: ['Helmert 1906', 6378200, 298.3],
};

function ellipsoidOf(p: Map<string, string>): Ellipsoid {
  if (p.get('datum') === 'NAD83') return GRS80;
  if (p.has('a')) {
    const a = Number(p.get('a'));
    const f = p.has('rf') ? 1 / Number(p.get('rf')) : p.has('b') ? 1 - Number(p.get('b')) / a : 0;
    for (const modern of [GRS80, WGS84]) if (a === modern.a && Math.abs(f / modern.f - 1) < 1e-11) return modern;
    return { name: `a = ${a} m`, a, f };
  }
  const name = p.get('ellps') ?? (p.get('datum') === 'WGS84' ? 'WGS84' : 'GRS80');
  if (name === 'GRS80') return GRS80;
  if (name === 'WGS84') return WGS84;
  const known = ELLIPSOIDS[name];
  if (!known)
    throw new Problem(`The ellipsoid "${name}" is not known here.`, {
      code: 'crs-datum',
      remedy: 'Choose another system.',
    });
  return { name: known[0], a: known[1], f: 1 / known[2] };
}

const isModern = (e: Ellipsoid) => e === GRS80 || e === WGS84;

/** How plan of a system hangs together with the frame: not at all apart, by the list's parameters, or by a grid it needs. */
function datumOf(d: SystemDefinition, p: Map<string, string>, ellipsoid: Ellipsoid): DatumShift {
  const parameters = p.get('towgs84')?.split(',').map(Number);
  if (parameters?.some((v) => v !== 0)) return shiftByParameters(ellipsoid, parameters, d.shiftAccuracyM ?? null);
  if (isModern(ellipsoid) && (parameters || !p.has('nadgrids'))) return noShift(ellipsoid);
  const grid = p.get('nadgrids');
  throw new Problem(
    `${planName(d)} lies on another datum, and ${d.file ? 'it' : 'the list'} has no parameters for it: a grid of shifts is needed.`,
    {
      code: 'crs-datum',
      remedy: `Import ${grid && grid !== '@null' ? grid : 'its grid'} (NTv2 or GeoTIFF) in Gather, and choose it with the system.`,
      command: `Give ${grid && grid !== '@null' ? grid : 'its grid'} (NTv2 or GeoTIFF) with --shift.`,
    },
  );
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

/**
 * `EPSG:25832`, `EPSG:25832+5773` or `EPSG:25832+GRID@SHA12`; with a datum grid `EPSG:31467~GRID@SHA12`, then heights.
 * A file's own system is `FILE@SHA12`, with `+0` when its heights are left for ellipsoidal ones.
 */
export function labelOf(d: SystemDefinition, fileHasHeights = false): string {
  const plan = d.file ? gridText(d.file) : `EPSG:${d.horizontalCode}`;
  const none = fileHasHeights && !d.heightsOfFile ? '+0' : '';
  return `${plan}${d.shift ? `~${gridText(d.shift)}` : ''}${d.grid ? `+${gridText(d.grid)}` : d.verticalCode ? `+${d.verticalCode}` : none}`;
}

/** The geoid of a height system of the EPSG list, 0 for ellipsoidal heights. @throws Problem for one that is not here. */
export function geoidOfCode(code: number, name: string): Geoid {
  if (code === 0) return ELLIPSOIDAL;
  if (code === 5773) return EGM96;
  throw new Problem(`Heights in EPSG:${code} (${name}) need a geoid grid that is not here.`, {
    code: 'crs-vertical',
    remedy: 'Choose EGM96 heights (EPSG:5773) or ellipsoidal heights.',
  });
}

/** The ellipsoid that a system's own latitudes are on. @throws Problem for one that is not known. */
export const ellipsoidOfSystem = (definition: SystemDefinition): Ellipsoid => ellipsoidOf(parameters(definition.proj4));

/**
 * Builds the system from its definition. @param given the geoid, for heights above a grid. @param shift of the datum, for
 * plan by a grid; without it by the parameters of the list. @param fileHasHeights whether the file of the plan has heights
 * too, so that ellipsoidal ones are said in the label.
 * @throws Problem when projection, datum or height reference are not supported.
 */
export function makeReferenceSystem(
  definition: SystemDefinition,
  given?: Geoid,
  shift?: DatumShift,
  fileHasHeights = false,
): ReferenceSystem {
  const p = parameters(definition.proj4);
  if (p.get('proj') === 'longlat' || p.get('proj') === 'geocent')
    throw new Problem(`${planName(definition)} is not a projected system.`, {
      code: 'crs-not-projected',
      remedy: 'Choose a projected system, with eastings and northings.',
    });
  const own = ellipsoidOf(p);
  const datum = shift ?? datumOf(definition, p, own);
  // positions are computed in the frame; an old datum's ellipsoid is only that of its own plan
  const ellipsoid = datum.way === 'none' ? own : GRS80;
  const geoid = given ?? geoidOfCode(definition.verticalCode, definition.verticalName);
  const tm = p.has('pm') ? undefined : transverseMercatorOf(p, own);
  const label = labelOf(definition, fileHasHeights);
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
    const figure = `+a=${own.a} +rf=${1 / own.f}`;
    const inMetres = definition.proj4
      .replace(/\+(units|to_meter|towgs84|vunits|nadgrids|datum|type|ellps|a|b|rf)=\S+/g, '')
      .replace(/$/, ` ${figure} +units=m`);
    const plain = proj4(`+proj=longlat ${figure} +no_defs`, inMetres);
    horizontalForward = (lat, lon, out) => {
      const [e, n] = plain.forward([lon / DEG, lat / DEG]);
      out[0] = e;
      out[1] = n;
    };
    horizontalInverse = (e, n, out) => {
      // some inverses end a tenth of a millimetre early: the forward way says by how much
      const [e1, n1] = plain.forward(plain.inverse([e, n]));
      const [lon, lat] = plain.inverse([2 * e - e1, 2 * n - n1]);
      out[0] = lat * DEG;
      out[1] = lon * DEG;
    };
  }
  const { site } = definition;
  if (site) {
    const [forward, inverse] = [horizontalForward, horizontalInverse];
    const plan = new Float64Array(3);
    const carry = localPlan(site);
    horizontalForward = (lat, lon, out) => {
      forward(lat, lon, plan);
      carry.to(plan[0], plan[1], out);
    };
    horizontalInverse = (e, n, out) => {
      carry.from(e, n, plan);
      inverse(plan[0], plan[1], out);
    };
  }
  const local = new Float64Array(3);
  /** Plan of a place in the frame. */
  const toPlan = (lat: number, lon: number, h: number, out: Float64Array) => {
    datum.toDatum(lat, lon, h, local);
    horizontalForward(local[0], local[1], out);
  };
  const shifted = datum.way !== 'none';
  return {
    definition,
    ellipsoid,
    datum,
    geoid,
    label,
    project(latRad, lonRad, hEllM, out) {
      if (shifted) toPlan(latRad, lonRad, hEllM, out);
      else horizontalForward(latRad, lonRad, out);
      out[2] = hEllM - geoid.undulation(latRad, lonRad);
    },
    unproject(eastingM, northingM, heightM, out) {
      horizontalInverse(eastingM, northingM, out);
      if (shifted) {
        const [lat, lon] = out;
        // heights on the old datum differ by the same some metres near by: first without, then with it
        let h = 0;
        for (let round = 0; round < 3; round++) {
          datum.toFrame(lat, lon, h, out);
          h += heightM + geoid.undulation(out[0], out[1]) - out[2];
        }
      }
      out[2] = heightM + geoid.undulation(out[0], out[1]);
    },
    convergenceAndScale(latRad, lonRad) {
      if (shifted) return numericConvergence((lat, lon, out) => toPlan(lat, lon, 0, out), ellipsoid, latRad, lonRad);
      if (tm) {
        forwardTransverseMercator(tm, latRad, lonRad, flat);
        // turned clockwise, the grid's north lies that much to the left of where it was
        return { convergenceRad: flat[2] - (site?.turnRad ?? 0), scale: flat[3] * (site?.scale ?? 1) };
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
