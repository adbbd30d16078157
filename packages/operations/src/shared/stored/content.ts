import { readFile, rm } from 'node:fs/promises';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import { type CloudEdit, type Runs, type Selection, type SelectionSources } from '@longheron/core/cloud';
import { Problem, type Watch } from '@longheron/core/shared';
import { LasFile } from '@longheron/formats/las';
import { type Store } from '../store';
import { type EditableCloud } from './cloud';
import { writeEdited } from './file';
import { unpackRuns } from './pack';
import { type SelectionCount } from './select';

/** What of a stored cloud's content computations need. */
export interface EditedCloud {
  las: string;
  index: string;
  order: string;
  edits?: CloudEditEntry[];
  countsByClass?: Record<string, number>;
  rejected?: number;
}

type Place = Pick<Store, 'path'>;

/** A stored cloud with the corners of what it holds, metres. */
export type OpenedStore = EditableCloud & Pick<CloudIndex, 'bounds'>;

const indexOf = async (store: Place, c: EditedCloud) =>
  JSON.parse(await readFile(store.path(c.index), 'utf8')) as CloudIndex;

/** A cloud of the store with what was done to it. */
export async function cloudOf(store: Place, c: EditedCloud): Promise<OpenedStore> {
  const index = await indexOf(store, c);
  return { ...index, paths: pathsOf(store, index), edits: await editsOf(store, c) };
}

function pathsOf(store: Place, { objects }: CloudIndex): EditableCloud['paths'] {
  const { position, attributes, classes } = objects;
  return { position: store.path(position), attributes: store.path(attributes), classes: store.path(classes) };
}

async function editsOf(store: Place, c: EditedCloud): Promise<CloudEdit[]> {
  return Promise.all(
    (c.edits ?? []).map(async (e) => ({ act: e.act, runs: unpackRuns(await readFile(store.path(e.object))) })),
  );
}

/** Rows and heights that a selection names, from the store. */
export async function sourcesOf(store: Place, selection: Selection): Promise<SelectionSources> {
  const rows = new Map<string, Runs>();
  const fetch = async (object: string, what: string, remedy: string) => {
    const bytes = await readFile(store.path(object)).catch(() => undefined);
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

const MAX_LEGACY_CLASS = 31;

/** Older point formats have five bits for the class: said before work is done that cannot be written. */
export async function refuseForFormat(path: string, act: CloudEditEntry['act']): Promise<void> {
  if (act.kind !== 'class' || act.to <= MAX_LEGACY_CLASS) return;
  const file = await LasFile.openPath(path);
  const format = file.header.pointFormat;
  await file.close();
  if (format < 6)
    throw new Problem(`Points of format ${format} have classes up to ${MAX_LEGACY_CLASS}.`, {
      code: 'las-class',
      remedy: 'Choose a class up to 31.',
    });
}

/** The cloud's file with all acts in it, as an object of the store; the file itself when there were none. */
export async function bringEditsIn(store: Store, cloud: EditedCloud, watch?: Watch): Promise<string> {
  if (!cloud.edits?.some((e) => !e.ofFile)) return cloud.las;
  const index = await indexOf(store, cloud);
  const edited = { paths: pathsOf(store, index), edits: await editsOf(store, cloud) };
  const path = store.scratch();
  try {
    await writeEdited(store.path(cloud.las), store.path(cloud.order), edited, path, watch);
    return (await store.take(path, 'las')).sha256;
  } finally {
    await rm(path, { force: true });
  }
}
