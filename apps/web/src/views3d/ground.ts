import { watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../api/client';
import { useCloudLook, type GroundUnder } from '../stores/cloudLook';
import { type Colouring } from './colouring';
import { useProject } from '../stores/project';

/** Cells along a side that graphics hold. */
const MAX_CELLS = 8192;

/** What was asked for, by revision: two views of one cloud ask once. */
const asked = new Map<number, Promise<GroundUnder>>();

function groundOf(project: number, dataset: number, revision: number): Promise<GroundUnder> {
  const known = asked.get(revision);
  if (known) return known;
  const made = fetchGround(project, dataset);
  asked.set(revision, made);
  made.catch(() => asked.delete(revision));
  return made;
}

async function fetchGround(project: number, dataset: number): Promise<GroundUnder> {
  const found = await api.post<GroundUnder>(`/projects/${project}/datasets/${dataset}/ground`, {});
  const raw = await fetch(`/api/objects/${found.object}`);
  if (!raw.ok) throw new Error(`The ground cannot be read (${raw.status}).`);
  if (Math.max(found.columns, found.rows) > MAX_CELLS)
    throw new Error('The cloud is too long for heights above ground in this view: cut it into parts.');
  return { ...found, heightM: new Float32Array(await raw.arrayBuffer()) };
}

/** Fetches the ground under a cloud once heights above it are looked at; of its current revision. */
export function useGround(
  dataset: () => DatasetOf<'point-cloud'>,
  fail: (message: string) => void,
  colouring: () => Colouring,
): void {
  const store = useProject();
  const look = useCloudLook();
  watch(
    () => [colouring() === 'above' || !!look.filter.aboveM, dataset().id, dataset().revision.id] as const,
    async ([wanted, id, revision]) => {
      if (!wanted || look.grounds[id]?.revision === revision) return;
      try {
        const ground = await groundOf(store.project!.id, id, revision);
        look.grounds = { ...look.grounds, [id]: { revision, ground } };
        fail('');
      } catch (error) {
        fail((error as Error).message);
      }
    },
    { immediate: true },
  );
}
