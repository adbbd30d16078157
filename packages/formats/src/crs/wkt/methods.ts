/** A parameter of a projection: kind of its value, and what it is called in EPSG's list, in WKT 1, and in PROJ strings. */
export interface Parameter {
  key: string;
  of: 'angle' | 'length' | 'scale';
  epsg: string;
  code: number;
  wkt1: string;
  /** Other names that are met. */
  also?: readonly string[];
  proj: string;
  usual?: number;
}

/** A projection by its name in EPSG's list. */
export interface Method {
  epsg: string;
  code: number;
  wkt1: string;
  also?: readonly string[];
  proj: string;
  parameters: readonly Parameter[];
}

/** One line of the table: key, kind, name and code in EPSG's list, name in WKT 1, PROJ's key, other names, usual value. */
const parameter = (
  key: string,
  of: Parameter['of'],
  epsg: string,
  code: number,
  wkt1: string,
  proj: string,
  also: readonly string[] = [],
  usual?: number,
): Parameter => ({ key, of, epsg, code, wkt1, proj, also, usual });

const CENTRE_LAT = ['latitude_of_center', 'latitude of projection centre'];
const CENTRE_LON = [
  'longitude_of_center',
  'longitude_of_origin',
  'longitude of origin',
  'longitude of projection centre',
];
const lat0 = parameter(
  'lat0',
  'angle',
  'Latitude of natural origin',
  8801,
  'latitude_of_origin',
  'lat_0',
  CENTRE_LAT,
  0,
);
const lon0 = parameter(
  'lon0',
  'angle',
  'Longitude of natural origin',
  8802,
  'central_meridian',
  'lon_0',
  CENTRE_LON,
  0,
);
const k0 = parameter('k0', 'scale', 'Scale factor at natural origin', 8805, 'scale_factor', 'k_0', [], 1);
const x0 = parameter('x0', 'length', 'False easting', 8806, 'false_easting', 'x_0', [], 0);
const y0 = parameter('y0', 'length', 'False northing', 8807, 'false_northing', 'y_0', [], 0);
const natural = [lat0, lon0, k0, x0, y0];
const falseOrigin = [
  { ...lat0, epsg: 'Latitude of false origin', code: 8821 },
  { ...lon0, epsg: 'Longitude of false origin', code: 8822 },
  parameter('lat1', 'angle', 'Latitude of 1st standard parallel', 8823, 'standard_parallel_1', 'lat_1'),
  parameter('lat2', 'angle', 'Latitude of 2nd standard parallel', 8824, 'standard_parallel_2', 'lat_2'),
  parameter('x0', 'length', 'Easting at false origin', 8826, 'false_easting', 'x_0', ['false easting'], 0),
  parameter('y0', 'length', 'Northing at false origin', 8827, 'false_northing', 'y_0', ['false northing'], 0),
];
const oblique = [
  { ...lat0, epsg: 'Latitude of projection centre', code: 8811, wkt1: 'latitude_of_center', also: [] },
  { ...lon0, epsg: 'Longitude of projection centre', code: 8812, wkt1: 'longitude_of_center', also: [] },
  parameter('azimuth', 'angle', 'Azimuth of initial line', 8813, 'azimuth', 'alpha', [
    'azimuth at projection centre',
    'azimuth of initial line',
  ]),
  parameter('gamma', 'angle', 'Angle from Rectified to Skew Grid', 8814, 'rectified_grid_angle', 'gamma'),
  parameter('k0', 'scale', 'Scale factor on initial line', 8815, 'scale_factor', 'k_0', [
    'scale factor at projection centre',
  ]),
  parameter('x0', 'length', 'Easting at projection centre', 8816, 'false_easting', 'x_0', [], 0),
  parameter('y0', 'length', 'Northing at projection centre', 8817, 'false_northing', 'y_0', [], 0),
];
const obliqueNatural = oblique.map((p) => (p.key === 'x0' ? x0 : p.key === 'y0' ? y0 : p));

const method = (
  epsg: string,
  code: number,
  wkt1: string,
  proj: string,
  parameters: readonly Parameter[],
  also: readonly string[] = [],
): Method => ({ epsg, code, wkt1, proj, parameters, also });

/** Projections that are read and written; each is one that PROJ strings and the package that computes them have. */
export const METHODS: readonly Method[] = [
  method('Transverse Mercator', 9807, 'Transverse_Mercator', 'tmerc', natural, ['gauss kruger']),
  method('Lambert Conic Conformal (1SP)', 9801, 'Lambert_Conformal_Conic_1SP', 'lcc', natural),
  method('Lambert Conic Conformal (2SP)', 9802, 'Lambert_Conformal_Conic_2SP', 'lcc', falseOrigin, [
    'lambert conformal conic',
  ]),
  method('Oblique Stereographic', 9809, 'Oblique_Stereographic', 'sterea', natural, ['double stereographic']),
  method('Mercator (variant A)', 9804, 'Mercator_1SP', 'merc', natural),
  method('Albers Equal Area', 9822, 'Albers_Conic_Equal_Area', 'aea', falseOrigin, ['albers']),
  method('Lambert Azimuthal Equal Area', 9820, 'Lambert_Azimuthal_Equal_Area', 'laea', [lat0, lon0, x0, y0]),
  method('Cassini-Soldner', 9806, 'Cassini_Soldner', 'cass', [lat0, lon0, x0, y0], ['cassini']),
  method('Hotine Oblique Mercator (variant A)', 9812, 'Hotine_Oblique_Mercator', 'omerc', obliqueNatural, [
    'hotine oblique mercator azimuth natural origin',
  ]),
  method('Hotine Oblique Mercator (variant B)', 9815, 'Hotine_Oblique_Mercator_Azimuth_Center', 'omerc', oblique),
];

/** The PROJ string of a projection, without ellipsoid and unit. @param values by the parameters' keys. */
export function projOf(method: Method, values: { readonly [key: string]: number }): string {
  // the initial line along the parallel: the double projection, which keeps digits that the oblique one loses there
  const along = method.code === 9815 && values.azimuth === 90 && values.gamma === 90;
  const skipped = along ? ['azimuth', 'gamma'] : [];
  const parts = method.parameters
    .filter((p) => !skipped.includes(p.key))
    .map((p) => `+${method.proj === 'omerc' && p.key === 'lon0' && !along ? 'lonc' : p.proj}=${values[p.key]}`);
  const touching = method.proj === 'lcc' && !('lat1' in values) ? [`+lat_1=${values.lat0}`] : [];
  const natural = method.code === 9812 ? ['+no_uoff'] : [];
  return [`+proj=${along ? 'somerc' : method.proj}`, ...parts, ...touching, ...natural].join(' ');
}

/** A name without case, signs and spaces, as names are compared. */
export const plainName = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/** The projection of a name in WKT 1 or 2, or of an EPSG code; undefined for one that is not computed here. */
export function methodOf(name: string, code?: number): Method | undefined {
  const plain = plainName(name);
  return METHODS.find(
    (m) => m.code === code || [m.epsg, m.wkt1, ...(m.also ?? [])].some((known) => plainName(known) === plain),
  );
}

/** The parameter of a method by its name or EPSG code. */
export function parameterOf(method: Method, name: string, code?: number): Parameter | undefined {
  const plain = plainName(name);
  return method.parameters.find(
    (p) => p.code === code || [p.epsg, p.wkt1, ...(p.also ?? [])].some((known) => plainName(known) === plain),
  );
}
