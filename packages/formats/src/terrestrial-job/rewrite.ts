import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import { Problem } from '@longheron/core/shared';

/** What a job may hold, by the elements of LandXML. */
export const JOB_KINDS = ['points', 'lines', 'areas', 'surfaces', 'observations', 'scans', 'pictures'] as const;
export type JobKind = (typeof JOB_KINDS)[number];

/** An adjusted point that takes the place of the rough one, metres. */
export interface AdjustedPoint {
  name: string;
  northingM: number;
  eastingM: number;
  heightM: number;
  sdM?: readonly [northing: number, easting: number, height: number];
}

export interface Rewritten {
  xml: string;
  /** Of each kind, how many the job held and how many were written. */
  tally: Record<JobKind, { held: number; written: number }>;
  /** Points whose coordinates are the adjusted ones; those that the job did not have are added. */
  adjusted: number;
}

/** An element as the parser keeps its place among others: its children under its name, attributes beside. */
interface Element {
  [name: string]: unknown;
  ':@'?: { [attribute: string]: string };
}

const KIND_OF: { readonly [element: string]: JobKind } = {
  CgPoint: 'points',
  PlanFeature: 'lines',
  Alignment: 'lines',
  Parcel: 'areas',
  Surface: 'surfaces',
  InstrumentSetup: 'observations',
  ObservationGroup: 'observations',
  RawObservation: 'observations',
  ReducedObservation: 'observations',
  ReducedArcObservation: 'observations',
};
/** What is counted of observations. */
const COUNTED = /^(RawObservation|Reduced(Arc)?Observation)$/;
const OPTIONS = {
  preserveOrder: true,
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  parseAttributeValue: false,
  processEntities: true,
  commentPropName: '#comment',
} as const;

/**
 * Writes a job anew with the kinds that are wanted: what stays is left as it was, in its units.
 * @param wanted kinds to write. @param adjusted points that take the place of rough ones. @param metresPer unit of the file.
 * @throws Problem for what cannot be read.
 */
export function rewriteJob(
  text: string,
  file: string,
  wanted: ReadonlySet<JobKind>,
  adjusted: readonly AdjustedPoint[],
  metresPer: number,
): Rewritten {
  let tree: Element[];
  try {
    tree = new XMLParser(OPTIONS).parse(text, true) as Element[];
  } catch (error) {
    throw new Problem(`The file cannot be read: ${(error as Error).message}.`, {
      code: 'job-xml',
      file,
      place: 'XML',
      remedy: 'Ask for the file again.',
    });
  }
  const tally = Object.fromEntries(JOB_KINDS.map((k) => [k, { held: 0, written: 0 }])) as Rewritten['tally'];
  const points = new Map(adjusted.map((p) => [p.name, p]));
  let replaced = 0;
  const walk = (elements: Element[], dropped: boolean): Element[] =>
    elements.filter((e) => {
      const name = nameOf(e);
      if (!name) return true;
      const local = name.replace(/^.*:/, '');
      const kind = local === 'Feature' ? featureKind(e) : KIND_OF[local];
      const drop = dropped || (kind !== undefined && !wanted.has(kind));
      if (kind && (kind !== 'observations' || COUNTED.test(local))) {
        tally[kind].held++;
        if (!drop) tally[kind].written++;
      }
      const found = local === 'CgPoint' && !drop ? points.get(e[':@']?.['@name'] ?? '') : undefined;
      if (found) {
        points.delete(found.name);
        replaced++;
        e[name] = pointChildren(found, metresPer);
      } else e[name] = walk(childrenOf(e, name), drop);
      return !drop;
    });
  const kept = walk(tree, false);
  if (wanted.has('points') && points.size) {
    const added = [...points.values()];
    addPoints(kept, added, metresPer);
    tally.points.written += added.length;
    replaced += added.length;
  }
  const xml = new XMLBuilder({ ...OPTIONS, format: true, indentBy: '  ', suppressEmptyNode: true }).build(kept);
  return { xml: String(xml).trimStart(), tally, adjusted: replaced };
}

const nameOf = (e: Element): string | undefined =>
  Object.keys(e).find((k) => k !== ':@' && !k.startsWith('#') && !k.startsWith('?'));
const childrenOf = (e: Element, name: string): Element[] => (Array.isArray(e[name]) ? (e[name] as Element[]) : []);

function featureKind(e: Element): JobKind | undefined {
  const code = e[':@']?.['@code'];
  return code === 'scan' ? 'scans' : code === 'image' ? 'pictures' : undefined;
}

/** Northing, easting, height as text, and how sure they are. */
function pointChildren(p: AdjustedPoint, metresPer: number): Element[] {
  const text = [p.northingM, p.eastingM, p.heightM].map((v) => (v / metresPer).toFixed(5)).join(' ');
  if (!p.sdM) return [{ '#text': text }];
  const property = (label: string, value: number): Element => ({
    Property: [],
    ':@': { '@label': label, '@value': value.toFixed(5) },
  });
  const labels = ['sd_n_m', 'sd_e_m', 'sd_h_m'];
  return [{ '#text': text }, { Feature: p.sdM.map((v, k) => property(labels[k], v)), ':@': { '@code': 'precision' } }];
}

function addPoints(tree: Element[], points: readonly AdjustedPoint[], metresPer: number): void {
  const find = (elements: Element[], wanted: string): Element | undefined =>
    elements.find((e) => nameOf(e)?.replace(/^.*:/, '') === wanted);
  const land = find(tree, 'LandXML');
  if (!land) return;
  const children = childrenOf(land, nameOf(land)!);
  let list = find(children, 'CgPoints');
  if (!list) {
    list = { CgPoints: [] };
    const units = children.findIndex((e) => nameOf(e)?.replace(/^.*:/, '') === 'Units');
    children.splice(units + 1, 0, list);
  }
  childrenOf(list, nameOf(list)!).push(
    ...points.map((p): Element => ({ CgPoint: pointChildren(p, metresPer), ':@': { '@name': p.name } })),
  );
}
