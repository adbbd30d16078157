import { evaluationPoint, gridText } from '@longheron/core/frames';
import { type GeographicWkt, type HeightsWkt, type PlanWkt, type SystemWkt } from './model';

const quoted = (text: string) => `"${text.replace(/"/g, '""')}"`;
const METRE = 'LENGTHUNIT["metre",1]';
const DEGREE = 'ANGLEUNIT["degree",0.0174532925199433]';
const RADIAN = 'ANGLEUNIT["radian",1]';
const UNITY = 'SCALEUNIT["unity",1]';

const method = (name: string, code: number) => `METHOD[${quoted(name)},ID["EPSG",${code}]]`;
const parameter = (name: string, value: number, unit: string, code: number) =>
  `PARAMETER[${quoted(name)},${value},${unit},ID["EPSG",${code}]]`;

/** WKT 2 (ISO 19162:2019) of a system. */
export function systemWkt2({ name, plan, heights }: SystemWkt): string {
  const parts = [...(plan ? [plan2(plan)] : []), ...(heights ? [heights2(heights)] : [])];
  return parts.length === 1 ? parts[0] : `COMPOUNDCRS[${quoted(name)},${parts.join(',')}]`;
}

function geographic2(g: GeographicWkt, keyword: string): string {
  const { ellipsoid: e } = g;
  const figure = `ELLIPSOID[${quoted(e.name)},${e.aM},${e.rf},${METRE}]`;
  const id = g.code ? `,ID["EPSG",${g.code}]` : '';
  return `${keyword}[${quoted(g.name)},DATUM[${quoted(g.datum)},${figure}],PRIMEM[${quoted(g.primeDeg ? 'other' : 'Greenwich')},${g.primeDeg},${DEGREE}]${id}]`;
}

const UNIT_OF = { angle: DEGREE, length: METRE, scale: UNITY };

function plan2(p: PlanWkt): string {
  const conversion = `CONVERSION[${quoted(p.method.epsg)},${method(p.method.epsg, p.method.code)},${p.method.parameters
    .map((q) => parameter(q.epsg, p.values[q.key], UNIT_OF[q.of], q.code))
    .join(',')}]`;
  const unit = `LENGTHUNIT[${quoted(p.unit.name)},${p.unit.metres}]`;
  const axes = `CS[Cartesian,2],AXIS["easting (E)",east,ORDER[1]],AXIS["northing (N)",north,ORDER[2]],${unit}`;
  const base = geographic2(p.geographic, 'BASEGEOGCRS');
  const id = p.code ? `,ID["EPSG",${p.code}]` : '';
  if (p.site) {
    const s = p.site.similarity;
    const [eastM, northM] = evaluationPoint(s);
    const deriving = [
      method('Similarity transformation', 9621),
      parameter('Ordinate 1 of evaluation point in target CRS', eastM, METRE, 8621),
      parameter('Ordinate 2 of evaluation point in target CRS', northM, METRE, 8622),
      parameter('Scale factor for source CRS axes', s.scale, UNITY, 1061),
      parameter('Rotation angle of source CRS axes', s.turnRad, RADIAN, 8614),
    ].join(',');
    return `DERIVEDPROJCRS[${quoted(p.site.name)},BASEPROJCRS[${quoted(p.name)},${base},${conversion}${id}],DERIVINGCONVERSION[${quoted(p.site.name)},${deriving}],${axes}]`;
  }
  if (p.geographic.toWgs84?.some((v) => v !== 0))
    return bound2(p, `PROJCRS[${quoted(p.name)},${base},${conversion},${axes}]`);
  return `PROJCRS[${quoted(p.name)},${base},${conversion},${axes}${id}]`;
}

const SHIFT_CODES = [8605, 8606, 8607, 8608, 8609, 8610, 8611];
const SHIFT_NAMES = ['X-axis translation', 'Y-axis translation', 'Z-axis translation'].concat(
  ['X-axis rotation', 'Y-axis rotation', 'Z-axis rotation'],
  ['Scale difference'],
);

/** With its way to WGS 84 where there is one. */
function bound2(p: PlanWkt, source: string): string {
  const v = p.geographic.toWgs84 ?? [];
  const parameters = SHIFT_CODES.map((code, k) => {
    const value = k === 6 ? 1 + (v[6] ?? 0) * 1e-6 : (v[k] ?? 0);
    return `PARAMETER[${quoted(SHIFT_NAMES[k])},${value},ID["EPSG",${code}]]`;
  });
  const target =
    'GEOGCRS["WGS 84",DATUM["World Geodetic System 1984",ELLIPSOID["WGS 84",6378137,298.257223563,LENGTHUNIT["metre",1]]],' +
    'CS[ellipsoidal,2],AXIS["latitude",north,ORDER[1]],AXIS["longitude",east,ORDER[2]],ANGLEUNIT["degree",0.0174532925199433],ID["EPSG",4326]]';
  const by = method('Position Vector transformation (geog2D domain)', 9606);
  return `BOUNDCRS[SOURCECRS[${source}],TARGETCRS[${target}],ABRIDGEDTRANSFORMATION[${quoted(`${p.geographic.name} to WGS 84`)},${by},${parameters.join(',')}]]`;
}

const baseName = ({ base }: HeightsWkt): string =>
  base === 'ellipsoid'
    ? 'Ellipsoidal height'
    : typeof base === 'number'
      ? `EPSG:${base}`
      : `height above the geoid ${gridText(base)}`;

function heights2(h: HeightsWkt): string {
  const axis = h.depths ? 'AXIS["depth (D)",down]' : 'AXIS["gravity-related height (H)",up]';
  const axes = `CS[vertical,1],${axis},LENGTHUNIT[${quoted(h.unit.name)},${h.unit.metres}]`;
  const id = typeof h.base === 'number' ? `,ID["EPSG",${h.base}]` : '';
  const c = h.correction;
  if (!c) return `VERTCRS[${quoted(h.name)},VDATUM[${quoted(baseName(h))}],${axes}${id}]`;
  const deriving = [
    method('Vertical Offset and Slope', 1046),
    parameter('Ordinate 1 of evaluation point', c.lat0Rad, RADIAN, 8617),
    parameter('Ordinate 2 of evaluation point', c.lon0Rad, RADIAN, 8618),
    parameter('Vertical Offset', c.offsetM, METRE, 8603),
    parameter('Inclination in latitude', c.slopeNorth, RADIAN, 8730),
    parameter('Inclination in longitude', c.slopeEast, RADIAN, 8731),
  ].join(',');
  const base = `BASEVERTCRS[${quoted(baseName(h))},VDATUM[${quoted(baseName(h))}]${id}]`;
  return `VERTCRS[${quoted(h.name)},${base},DERIVINGCONVERSION[${quoted(h.name)},${deriving}],${axes}]`;
}

/** WKT 1 (OGC 01-009) of a projection. A local system has no form of its own there. */
export function planWkt1(p: PlanWkt): string {
  const unit = `UNIT[${quoted(p.unit.name)},${p.unit.metres}]`;
  const axes = 'AXIS["Easting",EAST],AXIS["Northing",NORTH]';
  if (p.site) return `LOCAL_CS[${quoted(p.site.name)},LOCAL_DATUM[${quoted(p.name)},32767],${unit},${axes}]`;
  const g = p.geographic;
  const shift = g.toWgs84 ? `,TOWGS84[${g.toWgs84.join(',')}]` : '';
  const figure = `SPHEROID[${quoted(g.ellipsoid.name)},${g.ellipsoid.aM},${g.ellipsoid.rf}]`;
  const id = (code?: number) => (code ? `,AUTHORITY["EPSG","${code}"]` : '');
  const base = `GEOGCS[${quoted(g.name)},DATUM[${quoted(g.datum)},${figure}${shift}],PRIMEM[${quoted(g.primeDeg ? 'other' : 'Greenwich')},${g.primeDeg}],UNIT["degree",0.0174532925199433]${id(g.code)}]`;
  const values = p.method.parameters.map((q) => {
    const value = q.of === 'length' ? p.values[q.key] / p.unit.metres : p.values[q.key];
    return `PARAMETER[${quoted(q.wkt1)},${value}]`;
  });
  return `PROJCS[${quoted(p.name)},${base},PROJECTION[${quoted(p.method.wkt1)}],${values.join(',')},${unit},${axes}${id(p.code)}]`;
}

/** WKT 1 of a system; a correction of heights stands in the name of the datum alone. */
export function systemWkt1({ name, plan, heights }: SystemWkt): string {
  const parts = plan ? [planWkt1(plan)] : [];
  if (heights) {
    const unit = `UNIT[${quoted(heights.unit.name)},${heights.unit.metres}]`;
    const axis = heights.depths ? 'AXIS["Depth",DOWN]' : 'AXIS["Up",UP]';
    parts.push(
      `VERT_CS[${quoted(heights.name)},VERT_DATUM[${quoted(baseName(heights))},${heights.base === 'ellipsoid' ? 2002 : 2005}],${unit},${axis}]`,
    );
  }
  return parts.length === 1 ? parts[0] : `COMPD_CS[${quoted(name)},${parts.join(',')}]`;
}
