import { XMLParser } from 'fast-xml-parser';
import { Problem } from '@longheron/core/shared';

/** One value of a record and how it is packed. */
export interface Field {
  name: string;
  kind: 'float32' | 'float64' | 'integer';
  /** Of whole numbers: bits packed, the least value, and value = whole × scale + offset. */
  bits: number;
  least: number;
  scale: number;
  offset: number;
  /** Largest and smallest value, for intensity and colour without limits of their own. */
  minimum: number;
  maximum: number;
}

export interface Scan {
  name: string;
  /** Physical place of the packed points. */
  at: number;
  count: number;
  fields: Field[];
  /** Rotation (row by row) and shift from the scan's frame to the file's. */
  rotation: number[];
  translation: [number, number, number];
  intensityLimits?: [number, number];
  colourLimits?: [number, number];
  /** GPS seconds since 1980 of the scan's time zero. */
  startGps?: number;
}

export interface E57Description {
  scans: Scan[];
  images: number;
  system?: string;
}

type Node = Record<string, unknown>;

const MAX_BITS = 64;

/** Reads the description of an E57 file (ASTM E2807), its XML section. */
export function describeE57(xml: string, file: string): E57Description {
  const bad = (text: string) =>
    new Problem(text, { code: 'e57-description', file, place: 'XML section', remedy: 'Ask for the file again.' });
  if (/<!(DOCTYPE|ENTITY)/i.test(xml)) throw bad('The description declares entities, which no E57 file needs.');
  let root: Node;
  try {
    root = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      parseTagValue: false,
      processEntities: true,
      // the parser refuses the standard's name for the record
      transformTagName: (name) => (name === 'prototype' ? 'record' : name),
    }).parse(xml) as Node;
  } catch (error) {
    throw bad(`The description cannot be read: ${(error as Error).message}.`);
  }
  const e57 = root.e57Root as Node | undefined;
  if (!e57) throw bad('The description has no "e57Root".');
  const scans = children(e57.data3D).map((scan, i) => describeScan(scan, i, bad));
  return {
    scans,
    images: children(e57.images2D).length,
    system: text(e57.coordinateMetadata) || undefined,
  };
}

function describeScan(scan: Node, i: number, bad: (text: string) => Problem): Scan {
  const points = scan.points as Node | undefined;
  const record = points?.record as Node | undefined;
  if (!points || !record) throw bad(`Scan ${i + 1} has no points.`);
  const count = Number(points['@recordCount']);
  const at = Number(points['@fileOffset']);
  if (!Number.isSafeInteger(count) || count < 0 || !Number.isSafeInteger(at))
    throw bad(`Scan ${i + 1} has no usable number or place of points.`);
  const pose = (scan.pose ?? {}) as Node;
  const q = pose.rotation as Node | undefined;
  const t = pose.translation as Node | undefined;
  const limits = (node: unknown, low: string, high: string): [number, number] | undefined => {
    const n = node as Node | undefined;
    const pair = n && ([value(n[low]), value(n[high])] as [number, number]);
    return pair && pair.every(Number.isFinite) && pair[1] > pair[0] ? pair : undefined;
  };
  const start = value(((scan.acquisitionStart ?? {}) as Node).dateTimeValue);
  return {
    name: text(scan.name) || `scan ${i + 1}`,
    at,
    count,
    fields: Object.entries(record)
      .filter(([k]) => !k.startsWith('@') && !k.startsWith('#'))
      .map(([name, node]) => describeField(name, node as Node, bad)),
    rotation: q ? rotationOf([value(q.w), value(q.x), value(q.y), value(q.z)], bad) : [1, 0, 0, 0, 1, 0, 0, 0, 1],
    translation: t ? [zero(value(t.x)), zero(value(t.y)), zero(value(t.z))] : [0, 0, 0],
    intensityLimits: limits(scan.intensityLimits, 'intensityMinimum', 'intensityMaximum'),
    colourLimits: limits(scan.colorLimits, 'colorRedMinimum', 'colorRedMaximum'),
    startGps: Number.isFinite(start) ? start : undefined,
  };
}

function describeField(name: string, node: Node, bad: (text: string) => Problem): Field {
  const attribute = (key: string, usual: number) => (node[`@${key}`] === undefined ? usual : Number(node[`@${key}`]));
  const type = String(node['@type']);
  if (type === 'Float') {
    const double = node['@precision'] !== 'single';
    return {
      name,
      kind: double ? 'float64' : 'float32',
      bits: double ? 64 : 32,
      least: 0,
      scale: 1,
      offset: 0,
      minimum: attribute('minimum', 0),
      maximum: attribute('maximum', 1),
    };
  }
  if (type !== 'Integer' && type !== 'ScaledInteger')
    throw bad(`The field "${name}" of kind "${type}" cannot be read.`);
  let low: bigint;
  let high: bigint;
  try {
    low = BigInt(String(node['@minimum'] ?? '-9223372036854775808'));
    high = BigInt(String(node['@maximum'] ?? '9223372036854775807'));
  } catch {
    throw bad(`The limits of the field "${name}" are no whole numbers.`);
  }
  if (high < low) throw bad(`The limits of the field "${name}" are exchanged.`);
  const scaled = type === 'ScaledInteger';
  const scale = scaled ? attribute('scale', 1) : 1;
  const offset = scaled ? attribute('offset', 0) : 0;
  const bits = high === low ? 0 : (high - low).toString(2).length;
  if (bits > MAX_BITS) throw bad(`The field "${name}" has more than ${MAX_BITS} bits.`);
  return {
    name,
    kind: 'integer',
    bits,
    least: Number(low),
    scale,
    offset,
    minimum: Number(low) * scale + offset,
    maximum: Number(high) * scale + offset,
  };
}

function rotationOf(q: number[], bad: (text: string) => Problem): number[] {
  const n = Math.hypot(...q);
  if (!(n > 0.5 && n < 2)) throw bad('The rotation of a scan is no unit quaternion.');
  const [w, x, y, z] = q.map((v) => v / n);
  return [
    1 - 2 * (y * y + z * z),
    2 * (x * y - w * z),
    2 * (x * z + w * y),
    2 * (x * y + w * z),
    1 - 2 * (x * x + z * z),
    2 * (y * z - w * x),
    2 * (x * z - w * y),
    2 * (y * z + w * x),
    1 - 2 * (x * x + y * y),
  ];
}

const zero = (v: number) => (Number.isFinite(v) ? v : 0);

/** Text of an element; a missing text of a number means zero, as the standard has it. */
function value(node: unknown): number {
  if (node === undefined || node === null) return NaN;
  const t = text(node);
  return t === '' ? 0 : Number(t);
}

function text(node: unknown): string {
  if (node === undefined || node === null) return '';
  return String(typeof node === 'object' ? ((node as Node)['#text'] ?? '') : node).trim();
}

/** Children of a vector, whose elements all have the same name. */
function children(node: unknown): Node[] {
  if (typeof node !== 'object' || node === null) return [];
  const child = (node as Node).vectorChild;
  return Array.isArray(child) ? (child as Node[]) : child ? [child as Node] : [];
}
