import { readFile } from 'node:fs/promises';
import { type Declaration } from '@longheron/contract/declare';
import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { parseMounting } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { openAs } from '@longheron/formats/registry';
import { loadCloud } from '../shared/cloud';
import { type Store } from '../shared/store';
import { bringEditsIn, cloudOf, type EditedCloud } from '../shared/stored';
import { type InputsOf, type OpenedCloud, type OpenedSurface } from './types';

/** A dataset as the application hands it to a worker. */
export interface Handed {
  kind: DatasetKind;
  name: string;
  content: Contents[DatasetKind];
  /** Of a part of a report: what made it, and the cloud that it speaks of. */
  operation?: string;
  cloud?: string;
}

type Opener<K extends DatasetKind> = (name: string, content: Contents[K], store: Store) => unknown;

/** Kinds that are more than a file, or than what their revision holds. */
const OPENERS: { [K in DatasetKind]?: Opener<K> } = {
  'point-cloud': cloudFromStore,
  marks: (name, content, store) => {
    const { object, marks, crs } = content;
    return { name, path: store.path(object), marks: marks ?? [], crs, content };
  },
  mounting: (name, { object, mounting }, store) => ({
    name,
    path: store.path(object),
    mounting: parseMounting(mounting, name),
  }),
  positions: (name, content, store) => ({ name, path: store.path(content.object), content }),
  // what others compute with are its orientations
  block: (name, content, store) => ({ name, path: store.path(content.oriented), content }),
  orthophoto: (name, content, store) => ({ name, path: store.path(content.object), content }),
  surface: surfaceFromStore,
  depths: surfaceFromStore,
  photos: async (name, { object }, store) => {
    const path = store.path(object);
    return { name, path, photos: await openAs('photos', path, name) };
  },
};

function open<K extends DatasetKind>(kind: K, name: string, content: Contents[K], store: Store): unknown {
  const opener: Opener<K> | undefined = OPENERS[kind];
  if (opener) return opener(name, content, store);
  if ('object' in content && 'facts' in content && typeof content.object === 'string')
    return { name, path: store.path(content.object), content };
  return { name, content };
}

function surfaceFromStore<C extends Contents['surface'] | Contents['depths']>(
  name: string,
  content: C,
  store: Store,
): OpenedSurface<C> {
  const { grid, layout, crs } = content;
  const highestGrid = 'highestGrid' in content ? content.highestGrid : undefined;
  return {
    name,
    content,
    heights: async (of) => {
      const object = of === 'highest' ? (highestGrid ?? grid) : grid;
      const bytes = await readFile(store.path(object));
      const heightM = new Float32Array(layout.columns * layout.rows);
      new Uint8Array(heightM.buffer).set(bytes.subarray(0, heightM.byteLength));
      return { grid: { ...layout, heightM }, crs, findings: [] };
    },
  };
}

function cloudFromStore(name: string, c: Contents['point-cloud'], store: Store): OpenedCloud {
  const { las, index, order, edits, countsByClass, rejected } = c;
  if (!las || !index || !order)
    throw new Problem(`"${name}" is still being prepared.`, {
      code: 'cloud-not-ready',
      remedy: 'Wait until its job has ended, or run that job again.',
    });
  const edited: EditedCloud = { las, index, order, edits, countsByClass, rejected };
  let whole: Promise<string> | undefined;
  // what was done to a cloud by hand goes into its file before others read it, once
  const path = async (watch?: Parameters<OpenedCloud['las']>[0]) =>
    store.path(await (whole ??= bringEditsIn(store, edited, watch)));
  return {
    name,
    crs: c.crs ?? c.facts?.extent?.crs ?? '',
    las: path,
    load: async (watch) => loadCloud(await path(), undefined, watch),
    stored: () => cloudOf(store, edited),
    order: () => Promise.resolve(store.path(order)),
    shared: { index, order },
    ...(c.converted?.stands ? { stands: c.converted.stands } : {}),
    ...(c.sounded?.heights === 'relative' ? { relativeTo: c.sounded.heights_above } : {}),
  };
}

/** Opens what a run was given, role by role. @throws Problem for what cannot be opened. */
export async function openHanded(
  declaration: Declaration,
  handed: { readonly [role: string]: readonly Handed[] },
  store: Store,
): Promise<InputsOf<Declaration>> {
  const out: { [role: string]: unknown } = {};
  for (const [role, { several }] of Object.entries(declaration.roles)) {
    const opened: unknown[] = [];
    for (const { kind, name, content, operation, cloud } of handed[role] ?? [])
      opened.push(
        operation === undefined ? await open(kind, name, content, store) : { name, content, operation, cloud },
      );
    out[role] = several ? opened : opened[0];
  }
  // each was opened by the kind that its role declares
  return out as InputsOf<Declaration>;
}
