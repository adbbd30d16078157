import { readFile, rm } from 'node:fs/promises';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import {
  LAS_CLASS_NAMES,
  type CloudEdit,
  type EditAct,
  type FinderName,
  type Runs,
  type SelectionSources,
  type Selection,
} from '@longheron/core/cloud';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import {
  actWords,
  findRows,
  groundOf,
  packRuns,
  selectRows,
  unpackRuns,
  writeEdited,
  writePart,
  type EditableCloud,
  type SelectionCount,
} from '@longheron/operations/edit';
import { storeCloud } from './cloudStore';
import { incoming, jsonHash, objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** What of a cloud's content an act needs. */
export interface EditedCloud {
  las: string;
  index: string;
  order: string;
  edits?: CloudEditEntry[];
  countsByClass?: Record<string, number>;
  rejected?: number;
}

const NAME_OF = (c: number) => (LAS_CLASS_NAMES[c] ?? `class ${c}`).toLowerCase();

/** A cloud of the store with what was done to it. */
export async function cloudOf(storeFolder: string, c: EditedCloud): Promise<EditableCloud> {
  const index = JSON.parse(await readFile(objectPath(storeFolder, c.index), 'utf8')) as CloudIndex;
  return { ...index, paths: pathsOf(storeFolder, index), edits: await editsOf(storeFolder, c) };
}

function pathsOf(storeFolder: string, { objects }: CloudIndex): EditableCloud['paths'] {
  const at = (sha: string) => objectPath(storeFolder, sha);
  return { position: at(objects.position), attributes: at(objects.attributes), classes: at(objects.classes) };
}

async function editsOf(storeFolder: string, c: EditedCloud): Promise<CloudEdit[]> {
  return Promise.all(
    (c.edits ?? []).map(async (e) => ({
      act: e.act as EditAct,
      runs: unpackRuns(await readFile(objectPath(storeFolder, e.object))),
    })),
  );
}

/** Rows and heights that a selection names, from the store. */
async function sourcesOf(storeFolder: string, selection: Selection): Promise<SelectionSources> {
  const rows = new Map<string, Runs>();
  const fetch = async (object: string, what: string, remedy: string) => {
    const bytes = await readFile(objectPath(storeFolder, object)).catch(() => undefined);
    if (bytes) return bytes;
    throw new Problem(`${what} is not at hand any more.`, { code: 'selection-rows', remedy });
  };
  for (const { shape } of selection.regions)
    if (shape.kind === 'rows')
      rows.set(shape.object, unpackRuns(await fetch(shape.object, 'What was found', 'Find it again.')));
  const { above } = selection.filter;
  const ground = above && (await fetch(above.object, 'The ground', 'Turn the filter of heights off and on again.'));
  return {
    rows: (object) => rows.get(object)!,
    ground: () => new Float32Array(ground!.buffer, ground!.byteOffset, Math.floor(ground!.byteLength / 4)),
  };
}

/** Finds points by themselves; what is kept are their rows, for a selection. */
export async function find(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    finder: FinderName;
    settings: Record<string, number>;
    row?: number;
  };
  const { runs, note } = await findRows(await cloudOf(r.storeFolder, p.cloud), p.finder, p.settings, p.row, watch);
  const shelf = new Shelf(r.storeFolder);
  const object = await shelf.bytes(packRuns(runs), 'found-rows');
  return {
    content: { object, count: runs.count, note },
    contentHash: object,
    objects: shelf.objects,
    notices: [],
    log: [`${runs.count} points found.${note ? ` ${note}` : ''}`],
  };
}

/** How many points a selection holds. */
export async function select(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as { cloud: EditedCloud; selection: Selection };
  const cloud = await cloudOf(r.storeFolder, p.cloud);
  const { counts } = await selectRows(cloud, p.selection, watch, await sourcesOf(r.storeFolder, p.selection));
  return { content: { ...counts }, contentHash: jsonHash(counts), objects: [], notices: [], log: [] };
}

/** The ground under a cloud as a grid of heights, for filters and colours by height above ground. */
export async function groundHeights(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const cloud = await cloudOf(r.storeFolder, (r.payload as unknown as { cloud: EditedCloud }).cloud);
  const { heightM, ...layout } = await groundOf(cloud, watch);
  const shelf = new Shelf(r.storeFolder);
  const object = await shelf.bytes(Buffer.from(heightM.buffer), 'ground-heights');
  return {
    content: { object, ...layout },
    contentHash: object,
    objects: shelf.objects,
    notices: [],
    log: [`Ground in ${layout.columns} by ${layout.rows} cells of ${layout.cellM} m.`],
  };
}

/** A cloud after one more act. @param counts what the act's rows were before it. */
export function withAct(cloud: EditedCloud, entry: CloudEditEntry, counts: SelectionCount): EditedCloud {
  const { act } = entry;
  const countsByClass = { ...cloud.countsByClass };
  const move = (from: string, to: number) => {
    const n = counts.byClass[from] ?? 0;
    if (String(to) === from || n === 0) return;
    countsByClass[from] = (countsByClass[from] ?? 0) - n;
    if (!countsByClass[from]) delete countsByClass[from];
    countsByClass[to] = (countsByClass[to] ?? 0) + n;
  };
  if (act.kind === 'class') for (const from of Object.keys(counts.byClass)) move(from, act.to);
  if (act.kind === 'restore') for (const from of ['7', '18']) move(from, 1);
  let rejected = cloud.rejected ?? 0;
  if (act.kind === 'reject') rejected += counts.count - counts.rejected;
  if (act.kind === 'restore') rejected -= counts.rejected;
  return { ...cloud, edits: [...(cloud.edits ?? []), entry], countsByClass, rejected };
}

/** What acts change of a cloud's content. */
export const figuresOf = ({ edits, countsByClass, rejected }: EditedCloud) => ({ edits, countsByClass, rejected });

/** Stands for the content of an edited cloud. */
export const editedHash = ({ las, edits }: EditedCloud) => jsonHash([las, (edits ?? []).map((e) => [e.object, e.act])]);

/** Does an act on a selection: what is kept are the rows and the act. */
export async function edit(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    selection: Selection;
    act: EditAct;
    how?: CloudEditEntry['how'];
  };
  const { act } = p;
  await refuseForFormat(r.storeFolder, p.cloud.las, act);
  const { runs, counts } = await selectRows(
    await cloudOf(r.storeFolder, p.cloud),
    p.selection,
    part(watch, 0, 0.95),
    await sourcesOf(r.storeFolder, p.selection),
  );
  if (counts.count === 0)
    throw new Problem('The selection holds no points.', {
      code: 'selection-empty',
      remedy: 'Show the classes that are meant, or draw it anew.',
    });
  const shelf = new Shelf(r.storeFolder);
  const object = await shelf.bytes(packRuns(runs), 'cloud-edit');
  const entry: CloudEditEntry = { object, act, points: counts.count, at: new Date().toISOString(), how: p.how };
  const after = withAct(p.cloud, entry, counts);
  return {
    content: { ...figuresOf(after), entry, counts },
    contentHash: editedHash(after),
    objects: shelf.objects,
    notices: [],
    log: [`${counts.count} points ${actWords(act, NAME_OF)}.`],
  };
}

const MOST_LEGACY_CLASS = 31;

/** Older point formats have five bits for the class: said before work is done that cannot be written. */
export async function refuseForFormat(storeFolder: string, las: string, act: EditAct): Promise<void> {
  if (act.kind !== 'class' || act.to <= MOST_LEGACY_CLASS) return;
  const file = await LasFile.openPath(objectPath(storeFolder, las));
  const format = file.header.pointFormat;
  await file.close();
  if (format < 6)
    throw new Problem(`Points of format ${format} have classes up to ${MOST_LEGACY_CLASS}.`, {
      code: 'las-class',
      remedy: 'Choose a class up to 31.',
    });
}

/** The cloud's file with all acts in it, as an object of the store; the file itself when there were none. */
export async function bringEditsIn(storeFolder: string, cloud: EditedCloud, watch?: Watch): Promise<string> {
  if (!cloud.edits?.some((e) => !e.ofFile)) return cloud.las;
  const index = JSON.parse(await readFile(objectPath(storeFolder, cloud.index), 'utf8')) as CloudIndex;
  const edited = { paths: pathsOf(storeFolder, index), edits: await editsOf(storeFolder, cloud) };
  const shelf = new Shelf(storeFolder);
  const path = incoming(storeFolder);
  try {
    await writeEdited(objectPath(storeFolder, cloud.las), objectPath(storeFolder, cloud.order), edited, path, watch);
    return await shelf.take(path, 'las');
  } finally {
    await rm(path, { force: true });
  }
}

/** A selection as a cloud of its own, thinned where that is asked for. */
export async function extract(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    crs: string;
    las: string;
    selection: Selection;
    thinM?: number;
    keep: 'first' | 'precise';
  };
  const cloud = await cloudOf(r.storeFolder, p.cloud);
  const { runs } = await selectRows(
    cloud,
    p.selection,
    part(watch, 0, 0.2),
    await sourcesOf(r.storeFolder, p.selection),
  );
  if (runs.count === 0)
    throw new Problem('The selection holds no points.', {
      code: 'selection-empty',
      remedy: 'Show the classes that are meant, or draw it anew.',
    });
  const shelf = new Shelf(r.storeFolder);
  const at = (sha: string) => objectPath(r.storeFolder, sha);
  const thinning = p.thinM ? { edgeM: p.thinM, keep: p.keep } : undefined;
  let written = 0;
  const las = await shelf.file(async (path) => {
    written = await writePart(at(p.las), at(p.cloud.order), cloud, runs, thinning, path, part(watch, 0.2, 0.5));
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.5, 1));
  const figures = { points: written, selected: runs.count, thin_m: p.thinM ?? null, keep: p.thinM ? p.keep : null };
  return {
    content: { las: las.sha256, bytes: las.bytes, ...stored, figures, crs: p.crs },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices: [],
    log: [`${written} points of ${runs.count} selected.`],
  };
}

/** The same as a job, for who wants the file. */
export async function editedFile(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const las = await bringEditsIn(r.storeFolder, (r.payload as unknown as { cloud: EditedCloud }).cloud, watch);
  return { content: { las }, contentHash: las, objects: [], notices: [], log: [] };
}
