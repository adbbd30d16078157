import { type GridName, type HeightCorrection, type PlanSimilarity } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { methodOf, parameterOf, plainName, type Parameter } from './methods';
import { type GeographicWkt, type HeightsWkt, type PlanWkt, type SystemWkt } from './model';
import { childOf, childrenOf, codeOf, nameOf, numberAt, parseWkt, type WktNode } from './tree';

const DEGREE_RAD = Math.PI / 180;
const PROJECTED = ['PROJCS', 'PROJCRS', 'PROJECTEDCRS', 'BASEPROJCRS'];
const GEOGRAPHIC = ['GEOGCS', 'GEOGCRS', 'GEODCRS', 'GEODETICCRS', 'GEOGRAPHICCRS', 'BASEGEOGCRS', 'BASEGEODCRS'];
const VERTICAL = ['VERT_CS', 'VERTCRS', 'VERTICALCRS'];
const UNITS = ['UNIT', 'LENGTHUNIT', 'ANGLEUNIT', 'SCALEUNIT', 'PARAMETRICUNIT'];

/**
 * Reads a coordinate system from WKT 1 (OGC 01-009) or WKT 2 (ISO 19162): a projected one, heights, or both; local
 * systems on a projection (derived, by a similarity) and heights with offset and slope too.
 * @param file its name, for messages. @throws Problem in words, with the place, for what is cut off or not computed here.
 */
export function readSystemWkt(text: string, file: string): SystemWkt {
  const fail = (message: string, remedy = 'Choose a system with a projection that is known here.'): never => {
    throw new Problem(message, { code: 'wkt', file, remedy });
  };
  const root = parseWkt(text, file);
  const parts = ['COMPD_CS', 'COMPOUNDCRS'].includes(root.keyword) ? allNodes(root) : [root];
  const out: SystemWkt = { name: nameOf(root) };
  for (const part of parts) {
    const bound = part.keyword === 'BOUNDCRS' ? part : undefined;
    const inner = bound ? allNodes(childOf(bound, 'SOURCECRS') ?? part)[0] : part;
    if (PROJECTED.includes(inner.keyword)) out.plan = planOf(inner, fail);
    else if (inner.keyword === 'DERIVEDPROJCRS') out.plan = derivedOf(inner, fail);
    else if (VERTICAL.includes(inner.keyword)) out.heights = heightsOf(inner, fail);
    else if (GEOGRAPHIC.includes(inner.keyword))
      fail(
        `“${nameOf(inner)}” is in latitude and longitude.`,
        'Choose a projected system, with eastings and northings.',
      );
    if (bound && out.plan) out.plan.geographic.toWgs84 ??= abridgedOf(bound);
  }
  if (!out.plan && !out.heights)
    fail(`“${out.name || root.keyword}” is neither a projected system nor one of heights.`);
  return out;
}

type Fail = (message: string, remedy?: string) => never;
const allNodes = (node: WktNode): WktNode[] => node.values.filter((v): v is WktNode => typeof v === 'object');

/** The unit among a node's children, or the one below `otherwise`. */
function unitOf(node: WktNode | undefined, otherwise: { name: string; factor: number }) {
  const unit = childOf(node, ...UNITS);
  const factor = numberAt(unit, 1);
  return unit && factor > 0 ? { name: nameOf(unit), factor } : otherwise;
}

function geographicOf(node: WktNode, fail: Fail): GeographicWkt {
  const datum = childOf(node, 'DATUM', 'GEODETICDATUM', 'TRF', 'ENSEMBLE');
  const spheroid = childOf(datum, 'SPHEROID', 'ELLIPSOID');
  const aM = numberAt(spheroid, 1) * unitOf(spheroid, { name: 'metre', factor: 1 }).factor;
  const rf = numberAt(spheroid, 2);
  if (!(aM > 6.3e6 && aM < 6.4e6 && rf > 250 && rf < 350))
    return fail(`“${nameOf(node)}” names no ellipsoid of the Earth.`, 'Give the system with its ellipsoid.');
  const angle = unitOf(node, { name: 'degree', factor: DEGREE_RAD });
  const prime = childOf(node, 'PRIMEM', 'PRIMEMERIDIAN');
  const primeDeg = prime ? (numberAt(prime, 1) * unitOf(prime, angle).factor) / DEGREE_RAD : 0;
  const shift = childOf(datum, 'TOWGS84')?.values.filter((v): v is number => typeof v === 'number');
  return {
    name: nameOf(node),
    datum: nameOf(datum),
    ellipsoid: { name: nameOf(spheroid), aM, rf },
    primeDeg: Number.isFinite(primeDeg) ? primeDeg : 0,
    code: codeOf(node),
    toWgs84: shift,
  };
}

/** Values of projections on Earth: degrees, metres, factors. */
const SENSIBLE = { angle: [-720, 720], length: [-1e9, 1e9], scale: [0.1, 10] } as const;

function planOf(node: WktNode, fail: Fail): PlanWkt {
  const name = nameOf(node);
  const base = childOf(node, ...GEOGRAPHIC) ?? fail(`“${name}” names no datum.`, 'Give the whole system.');
  const geographic = geographicOf(base, fail);
  const conversion = childOf(node, 'CONVERSION') ?? node;
  const projection = childOf(conversion, 'METHOD', 'PROJECTION');
  const method =
    methodOf(nameOf(projection), codeOf(projection)) ??
    fail(`“${name}” is by the projection “${nameOf(projection)}”, which is not computed here.`);
  const length = { name: 'metre', factor: 1 };
  const unit = unitOf(node, unitOf(childOf(node, 'AXIS'), length));
  const angle = unitOf(base, { name: 'degree', factor: DEGREE_RAD });
  if (!(unit.factor > 1e-3 && unit.factor < 1e4))
    fail(`“${name}” counts in a unit of ${unit.factor} m.`, 'Check the unit in the text.');
  const values: { [key: string]: number } = {};
  for (const p of childrenOf(conversion, 'PARAMETER')) {
    const known = parameterOf(method, nameOf(p), codeOf(p));
    // some texts name a scale of 1 where a projection has none
    if (!known && plainName(nameOf(p)) === 'scalefactor' && numberAt(p, 1) === 1) continue;
    if (!known)
      return fail(`“${name}”: “${nameOf(p)}” is no value of ${method.epsg}.`, 'Give the system as WKT 1 or WKT 2.');
    values[known.key] = inOurUnits(known, numberAt(p, 1), childOf(p, ...UNITS), angle.factor, unit.factor);
  }
  values.gamma ??= values.azimuth;
  for (const p of method.parameters) {
    values[p.key] ??= p.usual ?? Number.NaN;
    if (!Number.isFinite(values[p.key])) fail(`“${name}” lacks “${p.epsg}”.`, 'Give the whole system.');
    const [low, high] = SENSIBLE[p.of];
    if (values[p.key] < low || values[p.key] > high)
      fail(`“${name}”: ${p.epsg} is ${values[p.key]}, which makes no sense.`, 'Check the value in the text.');
  }
  refuseTurnedAxes(node, fail);
  return { name, geographic, method, values, unit: { name: unit.name, metres: unit.factor }, code: codeOf(node) };
}

/** Degrees, metres, factors. WKT 1 has angles in the unit of latitude and lengths in that of the plan. */
function inOurUnits(
  { of }: Parameter,
  value: number,
  unit: WktNode | undefined,
  angleRad: number,
  lengthM: number,
): number {
  const factor = numberAt(unit, 1);
  if (of === 'scale') return value * (unit ? factor : 1);
  if (of === 'length') return value * (unit ? factor : lengthM);
  const rad = unit ? factor : angleRad;
  // degrees as they are written keep their digits
  return Math.abs(rad / DEGREE_RAD - 1) < 1e-9 ? value : (value * rad) / DEGREE_RAD;
}

function refuseTurnedAxes(node: WktNode, fail: Fail): void {
  const turned = childrenOf(node, 'AXIS').find((a) => /^(south|west)$/i.test(String(a.values[1])));
  if (turned)
    fail(
      `“${nameOf(node)}” counts towards ${String(turned.values[1]).toLowerCase()}.`,
      'Choose a system that counts towards east and north.',
    );
}

const value = (conversion: WktNode | undefined, code: number, name: string, fail: Fail, usual?: number): number => {
  const found = childrenOf(conversion ?? { keyword: '', values: [], at: 0 }, 'PARAMETER').find(
    (p) => codeOf(p) === code || plainName(nameOf(p)) === plainName(name),
  );
  const factor = numberAt(childOf(found, ...UNITS), 1);
  const v = numberAt(found, 1) * (Number.isFinite(factor) ? factor : 1);
  return Number.isFinite(v) ? v : (usual ?? fail(`The system lacks “${name}”.`, 'Give the whole system.'));
};

/** A local system: EPSG method 9621, a similarity on the plan of a projection; lengths in metres, angles in radians. */
function derivedOf(node: WktNode, fail: Fail): PlanWkt {
  const name = nameOf(node);
  const base = childOf(node, 'BASEPROJCRS') ?? fail(`“${name}” names no projection.`, 'Give the whole system.');
  const plan = planOf(base, fail);
  const conversion = childOf(node, 'DERIVINGCONVERSION');
  const by = childOf(conversion, 'METHOD');
  if (codeOf(by) !== 9621 && plainName(nameOf(by)) !== 'similaritytransformation')
    fail(`“${name}” lies on its projection by “${nameOf(by)}”, which is not computed here.`);
  const similarity: PlanSimilarity = {
    fromM: [0, 0],
    toM: [
      value(conversion, 8621, 'Ordinate 1 of evaluation point in target CRS', fail),
      value(conversion, 8622, 'Ordinate 2 of evaluation point in target CRS', fail),
    ],
    scale: value(conversion, 1061, 'Scale factor for source CRS axes', fail),
    turnRad: value(conversion, 8614, 'Rotation angle of source CRS axes', fail),
  };
  if (!(similarity.scale > 0.5 && similarity.scale < 2))
    fail(`“${name}” stretches its projection by ${similarity.scale}.`, 'Check the scale factor.');
  const unit = unitOf(node, unitOf(childOf(node, 'AXIS'), { name: 'metre', factor: 1 }));
  return { ...plan, unit: { name: unit.name, metres: unit.factor }, site: { name, similarity } };
}

const GRID_TEXT = /\b([\w.-]+)@([0-9a-f]{12})\b/;

function baseOf(node: WktNode): HeightsWkt['base'] | undefined {
  const named = `${nameOf(node)} ${nameOf(childOf(node, 'VDATUM', 'VERT_DATUM', 'VERTICALDATUM', 'VRF'))}`;
  const grid = GRID_TEXT.exec(named);
  if (grid) return { name: grid[1], sha12: grid[2] } satisfies GridName;
  if (/ellipsoid/i.test(named)) return 'ellipsoid';
  return codeOf(node);
}

const BASE_REMEDY = 'Give a system of the EPSG list, or the heights with their offset from one.';
const unknownBase = (name: string) => `“${name}” does not say from what its heights are counted.`;

function heightsOf(node: WktNode, fail: Fail): HeightsWkt {
  const name = nameOf(node);
  const axis = childOf(node, 'AXIS');
  const direction = String(axis?.values.find((v) => typeof v === 'string' && /^(up|down)$/i.test(v)) ?? 'up');
  const unit = unitOf(node, unitOf(axis, { name: 'metre', factor: 1 }));
  const out = {
    name,
    unit: { name: unit.name, metres: unit.factor },
    depths: /^down$/i.test(direction),
  };
  const under = childOf(node, 'BASEVERTCRS');
  if (!under) {
    return { ...out, base: baseOf(node) ?? fail(unknownBase(name), BASE_REMEDY) };
  }
  const conversion = childOf(node, 'DERIVINGCONVERSION');
  const by = childOf(conversion, 'METHOD');
  const [code, method] = [codeOf(by), plainName(nameOf(by))];
  const correction: HeightCorrection = {
    lat0Rad: value(conversion, 8617, 'Ordinate 1 of evaluation point', fail, 0),
    lon0Rad: value(conversion, 8618, 'Ordinate 2 of evaluation point', fail, 0),
    offsetM: value(conversion, 8603, 'Vertical Offset', fail),
    slopeNorth: value(conversion, 8730, 'Inclination in latitude', fail, 0),
    slopeEast: value(conversion, 8731, 'Inclination in longitude', fail, 0),
  };
  if (![1046, 9616].includes(code ?? 0) && !['verticaloffset', 'verticaloffsetandslope'].includes(method))
    fail(`“${name}” follows from its base by “${nameOf(by)}”, which is not computed here.`);
  return { ...out, base: baseOf(under) ?? fail(unknownBase(name), BASE_REMEDY), correction };
}

/** Seven parameters of a bound system; undefined when it is bound by something else. */
function abridgedOf(bound: WktNode): number[] | undefined {
  const by = childOf(bound, 'ABRIDGEDTRANSFORMATION');
  const method = childOf(by, 'METHOD');
  const coordinateFrame = [9607, 1032, 1038].includes(codeOf(method) ?? 0) || /coordinate frame/i.test(nameOf(method));
  const parameters = childrenOf(by ?? bound, 'PARAMETER');
  const at = (code: number) => {
    const p = parameters.find((q) => codeOf(q) === code);
    return p ? numberAt(p, 1) : 0;
  };
  if (!parameters.some((p) => codeOf(p) === 8605)) return undefined;
  const sign = coordinateFrame ? -1 : 1;
  const scale = at(8611);
  // abridged: arc seconds and a factor near one, or parts per million
  const ppm = Math.abs(scale - 1) < 0.01 ? (scale - 1) * 1e6 : scale;
  return [at(8605), at(8606), at(8607), sign * at(8608), sign * at(8609), sign * at(8610), ppm];
}
