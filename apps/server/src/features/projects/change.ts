import { createHash } from 'node:crypto';
import { type ChangedDto, type Contents, type ReferenceDto, systemTextOf } from '@longheron/contract/api';
import { isOperation } from '@longheron/contract/operations';
import { DEG, gridNameOf, gridText, type ReferenceSystem } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { parseSystem, systemParts } from '@longheron/formats/crs';
import { Dataset, Revision } from '../../database/models';
import { contentOf, factsOf, objectOf, revise } from '../../trail';

type Item = ChangedDto['items'][number];
interface Current {
  dataset: Dataset;
  revision: Revision;
}

async function currentOf(projectId: number): Promise<Current[]> {
  const datasets = await Dataset.findAll({ where: { projectId }, order: [['id', 'ASC']] });
  const revisions = await Revision.findAll({
    where: { id: datasets.map((d) => d.currentRevisionId).filter((id) => id !== null) },
  });
  const byDataset = new Map(revisions.map((r) => [Number(r.datasetId), r]));
  return datasets.flatMap((dataset) => {
    const revision = byDataset.get(Number(dataset.id));
    return revision ? [{ dataset, revision }] : [];
  });
}

/** A place of the project, geodetic in radians and metres, and what it was taken from. */
function typicalPlace(all: Current[], was: ReferenceSystem): { place: Float64Array; of: string } | undefined {
  const place = new Float64Array(3);
  for (const { dataset, revision } of all) {
    const extent = dataset.kind === 'trajectory' ? factsOf(revision)?.extent : undefined;
    const middle = extent && [0, 1, 2].map((k) => (extent.min[k] + extent.max[k]) / 2);
    if (!middle?.every(Number.isFinite)) continue;
    place.set([middle[1] * DEG, middle[0] * DEG, middle[2]]);
    return { place, of: dataset.name };
  }
  for (const { dataset, revision } of all) {
    if (dataset.kind !== 'marks') continue;
    const [mark] = contentOf('marks', revision).marks;
    if (!mark) continue;
    was.unproject(mark.eastingM, mark.northingM, mark.heightM, place);
    return { place, of: `mark ${mark.name}` };
  }
  for (const { dataset, revision } of all) {
    const extent = ['point-cloud', 'raster', 'outlines'].includes(dataset.kind) ? factsOf(revision)?.extent : undefined;
    if (!extent || extent.crs === 'geographic' || !extent.min.every(Number.isFinite)) continue;
    const [e, n, h] = [0, 1, 2].map((k) => (extent.min[k] + extent.max[k]) / 2);
    was.unproject(e, n, h || 0, place);
    return { place, of: dataset.name };
  }
  return undefined;
}

/** Lists that local systems of the project were found from, and the system that each is in. */
async function localLists(projectId: number): Promise<Map<number, string>> {
  const out = new Map<number, string>();
  for (const { dataset, revision } of await currentOf(projectId)) {
    const object = dataset.kind === 'system' ? objectOf(revision) : undefined;
    if (!object) continue;
    for (const { role, datasetId } of revision.inputs)
      if (role === 'local') out.set(Number(datasetId), gridText(gridNameOf(dataset.name, object)));
  }
  return out;
}

/** The system that a list of marks is in: what it names, or is known by, else the project's. */
function systemOfMarks(crs: string | null | undefined, project: string): string {
  const named = crs && systemParts(crs) ? crs : project;
  try {
    return parseSystem(named).label;
  } catch {
    return project;
  }
}

/** What is made by an operation from the project's system is made anew in another; what somebody has typed is not. */
const isMade = (revision: Revision) => isOperation(revision.madeBy);

function itemOf(
  { dataset, revision }: Current,
  was: string,
  is: string,
  local: ReadonlyMap<number, string>,
): Item | undefined {
  const item = (what: Item['what'], count: number, words: string): Item => ({
    name: dataset.name,
    kind: dataset.kind,
    what,
    count,
    words,
  });
  if (isMade(revision)) {
    const follows = revision.inputs.some((i) => i.role === 'reference');
    return follows ? item('made anew', 0, 'goes out of date; made anew by its operation') : undefined;
  }
  if (dataset.kind === 'marks') {
    const { marks, crs } = contentOf('marks', revision);
    if (!marks?.length) return undefined;
    const known = local.get(Number(dataset.id));
    if (known) return item('stays', marks.length, `is in the local system ${known}`);
    const own = systemOfMarks(crs, was);
    return own === is
      ? item('stays', marks.length, 'is in that system already')
      : item('carried', marks.length, `carried from ${own}`);
  }
  if (dataset.kind === 'outlines')
    return item('carried', factsOf(revision)?.count ?? 0, 'carried whenever it is drawn or used');
  if (dataset.kind === 'point-cloud' && factsOf(revision))
    return item('by hand', 0, 'stays as it is; bring it in with “Into the project’s system” in Clean');
  if (dataset.kind === 'raster') return item('by hand', 0, 'is not drawn; ask for it in that system');
  return undefined;
}

/** What another reference line does: how far a typical place moves in coordinates, and what becomes of each thing. */
export async function changeTo(projectId: number, from: ReferenceDto, to: ReferenceDto): Promise<ChangedDto> {
  const [was, is] = [systemTextOf(from), systemTextOf(to)];
  if (parseSystem(was).label === parseSystem(is).label) return { moved: null, items: [] };
  const all = await currentOf(projectId);
  const local = await localLists(projectId);
  const items = all.flatMap((c) => itemOf(c, parseSystem(was).label, parseSystem(is).label, local) ?? []);
  const typical = typicalPlace(all, parseSystem(was));
  if (!typical) return { moved: null, items };
  const { place, of } = typical;
  const [a, b] = [was, is].map((text) => {
    const out = new Float64Array(3);
    parseSystem(text).project(place[0], place[1], place[2], out);
    return out;
  });
  return {
    moved: {
      latDeg: place[0] / DEG,
      lonDeg: place[1] / DEG,
      of,
      eastingM: [a[0], b[0]],
      northingM: [a[1], b[1]],
      heightM: [a[2], b[2]],
    },
    items,
  };
}

const hash = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');

/**
 * Marks in another system. One that lies where the other has no value stays as it is and is left out, with the reason.
 */
export function carryMarks(
  marks: Contents['marks']['marks'],
  from: ReferenceSystem,
  to: ReferenceSystem,
): Contents['marks']['marks'] {
  const [geo, at] = [new Float64Array(3), new Float64Array(3)];
  return marks.map((m) => {
    try {
      from.unproject(m.eastingM, m.northingM, m.heightM, geo);
      to.project(geo[0], geo[1], geo[2], at);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      at.fill(Number.NaN);
    }
    if (!at.every(Number.isFinite))
      return { ...m, leftOutReason: `Cannot be carried into ${to.label}; its coordinates are still in ${from.label}` };
    const [eastingM, northingM, heightM] = Array.from(at, (v) => Math.round(1e5 * v) / 1e5);
    return { ...m, eastingM, northingM, heightM };
  });
}

/** The revision of a list in a system before it was carried out of it, when nobody has changed it since. */
async function asItWas(revision: Revision, label: string): Promise<Revision | undefined> {
  let content = contentOf('marks', revision);
  while (content.carriedFrom !== undefined) {
    const before = await Revision.findByPk(content.carriedFrom.revision);
    if (!before) return undefined;
    if (content.carriedFrom.label === label) return before;
    content = contentOf('marks', before);
  }
  return undefined;
}

/**
 * Carries a list of marks into a system: a new revision, so that it can be taken back. A list that is in it already, or is
 * made by an operation, stays. Back in a system that it came from it is as it was there, to the last digit.
 * @returns whether it was carried.
 */
export async function carryList(datasetId: number, project: string, to: string): Promise<boolean> {
  const revision = await Dataset.findByPk(datasetId).then((d) => d && Revision.findByPk(d.currentRevisionId ?? 0));
  if (!revision || isMade(revision)) return false;
  const dataset = await Dataset.findByPk(datasetId);
  if ((await localLists(Number(dataset!.projectId))).has(datasetId)) return false;
  const { crs, marks } = contentOf('marks', revision);
  const [from, target] = [parseSystem(systemOfMarks(crs, project)), parseSystem(to)];
  if (!marks?.length || from.label === target.label) return false;
  await revise(datasetId, async (_dataset, now) => {
    const before = contentOf('marks', now!);
    const how = `carried from ${from.label} to ${target.label}`;
    const was = await asItWas(now!, target.label);
    if (was) {
      const contentHash = was.contentHash.toString('hex');
      return { contentHash, madeBy: 'edit', content: { ...contentOf('marks', was), how } };
    }
    const marksThen = carryMarks(before.marks, from, target);
    const origin = before.carriedFrom?.hash ?? now!.contentHash.toString('hex');
    const carriedFrom = { revision: Number(now!.id), label: from.label, hash: origin };
    const content = { ...before, marks: marksThen, crs: target.label, how, carriedFrom };
    return { contentHash: hash(marksThen), madeBy: 'edit', content };
  });
  return true;
}

/** Notes in which system outlines stand whose file names none: from then on they are carried wherever they are used. */
async function keepSystemOf(datasetId: number, was: string): Promise<boolean> {
  const revision = await Dataset.findByPk(datasetId).then((d) => d && Revision.findByPk(d.currentRevisionId ?? 0));
  if (!revision || isMade(revision)) return false;
  const { crs, facts } = contentOf('outlines', revision);
  if (crs || facts.extent?.crs) return false;
  await revise(datasetId, async (_dataset, now) => ({
    contentHash: now!.contentHash.toString('hex'),
    madeBy: now!.madeBy,
    inputs: now!.inputs,
    content: { ...contentOf('outlines', now!), crs: was },
  }));
  return true;
}

/** Carries all that was typed or imported in the old system into the new one. @returns names of the lists carried. */
export async function carryOver(projectId: number, from: ReferenceDto, to: ReferenceDto): Promise<string[]> {
  const [was, is] = [systemTextOf(from), systemTextOf(to)];
  if (parseSystem(was).label === parseSystem(is).label) return [];
  const out: string[] = [];
  for (const { dataset } of await currentOf(projectId))
    if (dataset.kind === 'marks' && (await carryList(Number(dataset.id), was, is))) out.push(dataset.name);
    else if (dataset.kind === 'outlines' && (await keepSystemOf(Number(dataset.id), was))) out.push(dataset.name);
  return out;
}
