import { XMLParser } from 'fast-xml-parser';
import { METRES_PER } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import {
  doubtUnit,
  radiansOf,
  type AngularUnit,
  type FacePair,
  type JobFile,
  type Reading,
  type SetUp,
  type TerrestrialJob,
} from '@longheron/core/terrestrial';

type Node = Record<string, unknown>;

/** A job as its file states it, with the units it was read in. */
export interface OpenJob extends TerrestrialJob {
  angularUnit: AngularUnit;
  /** Whether the file says so, or it was told beside it. */
  unitStated: boolean;
  metresPer: number;
  linearUnit: string;
  /** One reading as written and as understood, to look at before anything is computed. */
  example?: { setUp: string; target: string; written: string; understood: string };
  /** Readings that are left aside, and why. */
  aside: Array<{ place: string; why: string }>;
}

const ANGULAR: { readonly [written: string]: AngularUnit } = {
  'decimal degrees': 'degrees',
  'decimal dd.mm.ss': 'dd.mmss',
  grads: 'grads',
  radians: 'radians',
};
/** Units of length by the names that files have, with what they are called here. */
const LINEAR: { readonly [written: string]: readonly [metres: number, said: string] } = {
  meter: [1, 'metres'],
  millimeter: [0.001, 'millimetres'],
  centimeter: [0.01, 'centimetres'],
  kilometer: [1000, 'kilometres'],
  foot: [METRES_PER.foot, 'feet'],
  USSurveyFoot: [METRES_PER.usSurveyFoot, 'US survey feet'],
};
const SAID: { readonly [U in AngularUnit]: string } = {
  degrees: 'decimal degrees',
  'dd.mmss': 'degrees, minutes and seconds (dd.mmss)',
  grads: 'gon',
  radians: 'radians',
};
export const unitSaid = (unit: AngularUnit): string => SAID[unit];

const LONGEST_M = 20_000;

/**
 * Reads a LandXML job. @param unit of angles, where the file does not state it.
 * @throws Problem that names set-up and reading.
 */
export function readJob(text: string, file: string, unit?: AngularUnit): OpenJob {
  const root = parsed(text, file);
  const survey = one(root.Survey);
  const units = one(one(root.Units)?.Metric) ?? one(one(root.Units)?.Imperial);
  const bad = (message: string, place: string, code = 'job-value', remedy = 'Correct the file, or ask for it again.') =>
    new Problem(message, { code, file, place, remedy });
  if (!survey || !many(survey.InstrumentSetup).length)
    throw bad('The file holds no survey: there is no set-up of an instrument in it.', 'Survey', 'job-empty');
  const { metresPer, linearUnit } = lengthUnit(units, bad);
  const stated = angleUnit(units, bad);
  const angularUnit = stated ?? unit;
  if (!angularUnit)
    throw new Problem('The file does not say in which unit its angles are.', {
      code: 'job-angular-unit',
      file,
      place: 'Units',
      remedy: 'Say it beside the file: look at one reading and at what the instrument shows.',
      command: 'Give it with --angular-unit degrees, dd.mmss, grads or radians.',
    });
  const number = (node: Node, name: string, place: string): number | undefined => {
    const written = attribute(node, name);
    if (written === undefined || written.trim() === '') return undefined;
    const value = Number(written);
    if (!Number.isFinite(value)) throw bad(`${name} is "${written}", which is no number.`, place);
    return value;
  };
  const points = many(one(root.CgPoints)?.CgPoint).map((p, k) => {
    const name = attribute(p, 'name') ?? attribute(p, 'oID') ?? '';
    const place = `CgPoint ${name || k + 1}`;
    if (!name) throw bad('A point has no name.', place);
    const values = coordinates(p, place, bad);
    const code = attribute(p, 'code');
    return {
      name,
      northingM: values[0] * metresPer,
      eastingM: values[1] * metresPer,
      ...(values.length > 2 ? { heightM: values[2] * metresPer } : {}),
      ...(code ? { code } : {}),
    };
  });
  const setUps: SetUp[] = [];
  const groups: Node[] = [...many(survey.ObservationGroup)];
  for (const s of many(survey.InstrumentSetup)) {
    const id = attribute(s, 'id') ?? '';
    const place = `InstrumentSetup ${id || setUps.length + 1}`;
    if (!id) throw bad('A set-up has no id.', place);
    if (setUps.some((o) => o.id === id))
      throw bad(
        `Two set-ups are called ${id}.`,
        place,
        'job-set-up-twice',
        'Give each set-up an id of its own; its readings name it.',
      );
    const station = attribute(one(s.InstrumentPoint) ?? {}, 'pntRef') ?? attribute(s, 'stationName');
    if (!station) throw bad('A set-up does not say over which point it stands.', place);
    const height = number(s, 'instrumentHeight', place) ?? 0;
    const back = one(s.Backsight);
    const backsight =
      attribute(one(back?.BacksightPoint) ?? {}, 'pntRef') ?? attribute(one(back?.BacksightPoint) ?? {}, 'name');
    if (backsight === station)
      throw bad(
        `The backsight of ${id} is its own station, ${station}.`,
        place,
        'job-backsight',
        'Correct the name of the backsight.',
      );
    setUps.push({ id, station, instrumentHeightM: height * metresPer, ...(backsight ? { backsight } : {}) });
    const at = one(s.InstrumentPoint);
    const own = at && textOf(at).trim() ? coordinates(at, place, bad) : undefined;
    if (own && !points.some((p) => p.name === station))
      points.push({
        name: station,
        northingM: own[0] * metresPer,
        eastingM: own[1] * metresPer,
        ...(own.length > 2 ? { heightM: own[2] * metresPer } : {}),
      });
    groups.push(...many(s.ObservationGroup).map((g): Node => ({ '@setupID': id, ...g })), {
      '@setupID': id,
      RawObservation: s.RawObservation,
    });
  }
  const raw = groups.flatMap((g) =>
    many(g.RawObservation).map((r) => ({ r, setUp: attribute(r, 'setupID') ?? attribute(g, 'setupID') ?? '' })),
  );
  const readings: Reading[] = [];
  const aside: OpenJob['aside'] = [];
  const written: number[] = [];
  let example: OpenJob['example'];
  const pairs = new Map<string, { one: Node[]; two: Node[] }>();
  raw.forEach(({ r, setUp }, k) => {
    const target = one(r.TargetPoint) ?? {};
    const name = attribute(target, 'pntRef') ?? attribute(target, 'name') ?? '';
    const place = `set-up ${setUp}, reading ${k + 1}${name ? ` to ${name}` : ''}`;
    if (!setUps.some((s) => s.id === setUp))
      throw bad(`The reading names set-up "${setUp}", which the file does not have.`, place);
    if (!name) {
      aside.push({ place, why: 'no target is named' });
      return;
    }
    const own = setUps.find((s) => s.id === setUp)!;
    if (name === own.station)
      throw bad(
        `A reading from ${setUp} leads to its own station, ${name}.`,
        place,
        'job-backsight',
        'Correct the name of the target.',
      );
    const slope = number(r, 'slopeDistance', place);
    const horizontal = number(r, 'horizAngle', place);
    const zenith = number(r, 'zenithAngle', place);
    if (slope !== undefined && !(slope * metresPer > 0 && slope * metresPer < LONGEST_M))
      throw bad(`slopeDistance is ${slope}: no distance that an instrument measures.`, place);
    for (const v of [horizontal, zenith]) if (v !== undefined) written.push(v);
    const face = attribute(r, 'directFace') === 'false' ? 2 : 1;
    const height = number(r, 'targetHeight', place) ?? 0;
    const code = attribute(target, 'code') ?? attribute(target, 'desc');
    const key = `${setUp}\u0000${name}\u0000${height}`;
    const both = pairs.get(key) ?? { one: [], two: [] };
    both[face === 1 ? 'one' : 'two'].push(r);
    pairs.set(key, both);
    readings.push({
      setUp,
      target: name,
      targetHeightM: height * metresPer,
      face,
      ...(horizontal === undefined ? {} : { horizontalRad: radiansOf(horizontal, angularUnit) }),
      ...(zenith === undefined ? {} : { zenithRad: radiansOf(zenith, angularUnit) }),
      ...(slope === undefined ? {} : { slopeM: slope * metresPer }),
      ...(code ? { code } : {}),
    });
    if (!example && horizontal !== undefined && zenith !== undefined && slope !== undefined)
      example = {
        setUp,
        target: name,
        written: `${attribute(r, 'horizAngle')} · ${attribute(r, 'zenithAngle')} · ${attribute(r, 'slopeDistance')}`,
        understood: `${dms(radiansOf(horizontal, angularUnit))} · ${dms(radiansOf(zenith, angularUnit))} · ${(slope * metresPer).toFixed(3)} m`,
      };
  });
  if (!readings.length) throw bad('The file holds no readings.', 'ObservationGroup', 'job-empty');
  refuseUnit(angularUnit, written, facePairs(pairs.values()), file);
  const named = attribute(one(survey.SurveyHeader) ?? {}, 'name');
  return {
    ...(named ? { name: named } : {}),
    setUps,
    readings,
    points,
    files: filesOf(root, survey),
    angularUnit,
    unitStated: stated !== undefined,
    metresPer,
    linearUnit,
    example,
    aside,
  };
}

/** What a job names and its unit of length, whatever its angles are in. @throws Problem as {@link readJob}. */
export function namedInJob(text: string, file: string): { files: JobFile[]; metresPer: number } {
  const root = parsed(text, file);
  const units = one(one(root.Units)?.Metric) ?? one(one(root.Units)?.Imperial);
  const bad: Bad = (message, place, code = 'job-value', remedy = 'Correct the file, or ask for it again.') =>
    new Problem(message, { code, file, place, remedy });
  return { files: filesOf(root, one(root.Survey) ?? {}), metresPer: lengthUnit(units, bad).metresPer };
}

/** Degrees, minutes and seconds, for people. */
export function dms(rad: number): string {
  const tenths = Math.round(((rad * 180) / Math.PI) * 36000);
  const [d, m, s] = [Math.floor(tenths / 36000), Math.floor(tenths / 600) % 60, (tenths % 600) / 10];
  return `${d}° ${String(m).padStart(2, '0')}′ ${s.toFixed(1).padStart(4, '0')}″`;
}

function parsed(text: string, file: string): Node {
  const bad = (message: string) =>
    new Problem(message, { code: 'job-xml', file, place: 'XML', remedy: 'Ask for the file again.' });
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) throw bad('The file declares entities, which no job needs.');
  let root: Node;
  try {
    root = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      removeNSPrefix: true,
      parseTagValue: false,
      parseAttributeValue: false,
      processEntities: true,
    }).parse(text, true) as Node;
  } catch (error) {
    throw bad(`The file cannot be read: ${(error as Error).message}.`);
  }
  const land = one(root.LandXML);
  if (!land) throw bad('The file is no LandXML.');
  return land;
}

const many = (value: unknown): Node[] =>
  (Array.isArray(value) ? value : value === undefined ? [] : [value]).map((v): Node =>
    typeof v === 'object' && v !== null ? (v as Node) : { '#text': v },
  );
const one = (value: unknown): Node | undefined => many(value)[0];
const attribute = (node: Node, name: string): string | undefined => {
  const v = node[`@${name}`];
  return typeof v === 'string' ? v : undefined;
};
const textOf = (node: Node): string => {
  const v = node['#text'];
  return typeof v === 'string' ? v : '';
};

type Bad = (message: string, place: string, code?: string, remedy?: string) => Problem;

function coordinates(node: Node, place: string, bad: Bad): number[] {
  const values = textOf(node).trim().split(/\s+/).map(Number);
  if (values.length < 2 || values.length > 3 || !values.every(Number.isFinite))
    throw bad(
      `"${textOf(node).trim().slice(0, 60)}" are no coordinates: northing, easting and perhaps a height.`,
      place,
    );
  return values;
}

function lengthUnit(units: Node | undefined, bad: Bad): { metresPer: number; linearUnit: string } {
  const written = units && attribute(units, 'linearUnit');
  if (!written)
    throw bad(
      'The file does not say in which unit its lengths are.',
      'Units',
      'job-linear-unit',
      'Ask for the file with its Units.',
    );
  const known = Object.hasOwn(LINEAR, written) ? LINEAR[written] : undefined;
  if (!known)
    throw bad(
      `The unit of lengths "${written}" is not known.`,
      'Units',
      'job-linear-unit',
      `Known are ${Object.keys(LINEAR).join(', ')}.`,
    );
  return { metresPer: known[0], linearUnit: known[1] };
}

function angleUnit(units: Node | undefined, bad: Bad): AngularUnit | undefined {
  const written = units && (attribute(units, 'directionUnit') ?? attribute(units, 'angularUnit'));
  if (!written) return undefined;
  const unit = ANGULAR[written.trim()];
  if (!unit)
    throw bad(
      `The unit of angles "${written}" is not known.`,
      'Units',
      'job-angular-unit',
      `Known are ${Object.keys(ANGULAR).join(', ')}.`,
    );
  return unit;
}

function facePairs(all: Iterable<{ one: Node[]; two: Node[] }>): FacePair[] {
  const out: FacePair[] = [];
  for (const { one: first, two } of all)
    first.slice(0, two.length).forEach((a, k) => {
      const of = (name: string): readonly [number, number] | undefined => {
        const [x, y] = [attribute(a, name), attribute(two[k], name)];
        return x === undefined || y === undefined ? undefined : [Number(x), Number(y)];
      };
      out.push({ horizontal: of('horizAngle'), zenith: of('zenithAngle') });
    });
  return out;
}

function refuseUnit(unit: AngularUnit, values: readonly number[], pairs: readonly FacePair[], file: string): void {
  const doubt = doubtUnit(unit, values, pairs);
  if (!doubt) return;
  const why = {
    minutes: `${doubt.value} would have 60 minutes or seconds, or more`,
    'no minutes beyond 59': 'of no reading do the digits behind the point go beyond 59 minutes and 59 seconds',
    faces: `readings in both faces miss a full turn by ${((doubt.value * 180) / Math.PI).toFixed(3)}°`,
    'beyond a turn': `${doubt.value} is beyond a full turn`,
  }[doubt.because];
  throw new Problem(`Angles are said to be in ${SAID[unit]}, but ${why}. They look like ${SAID[doubt.looksLike]}.`, {
    code: 'job-angular-unit',
    file,
    place: 'Units',
    remedy: 'Correct the unit in the file.',
  });
}

/** Scans and pictures that the job names, wherever it does. */
function filesOf(root: Node, survey: Node): JobFile[] {
  const out: JobFile[] = [];
  const walk = (node: Node, setUp: string | undefined, depth: number) => {
    if (depth > 12) return;
    for (const f of many(node.Feature)) {
      const what = attribute(f, 'code');
      const named = many(f.Property).find((p) => attribute(p, 'label') === 'setupID');
      const own = (named && attribute(named, 'value')) ?? setUp;
      if (what === 'scan' || what === 'image')
        for (const d of many(f.DocFileRef)) {
          const location = attribute(d, 'location');
          if (location) out.push({ what, ...(own ? { setUp: own } : {}), location });
        }
      walk(f, own, depth + 1);
    }
  };
  walk(root, undefined, 0);
  walk(survey, undefined, 0);
  for (const s of many(survey.InstrumentSetup)) walk(s, attribute(s, 'id'), 0);
  for (const g of many(survey.ObservationGroup)) walk(g, attribute(g, 'setupID'), 0);
  return out;
}
