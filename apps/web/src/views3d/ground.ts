import { watch } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { useCloudLook, type GroundUnder } from '../stores/cloudLook';
import { type Colouring } from './colouring';
import { useProject } from '../stores/project';

/** Cells along a side that graphics hold. */
const MOST_CELLS = 8192;

/** Fetches the ground under a cloud once heights above it are looked at; of its current revision. */
export function useGround(
  dataset: () => DatasetDto,
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
        const found = await api.post<GroundUnder>(`/projects/${store.project!.id}/datasets/${id}/ground`, {});
        const raw = await fetch(`/api/objects/${found.object}`);
        if (!raw.ok) throw new Error(`The ground cannot be read (${raw.status}).`);
        if (Math.max(found.columns, found.rows) > MOST_CELLS)
          throw new Error('The cloud is too long for heights above ground in this view: cut it into parts.');
        const ground = { ...found, heightM: new Float32Array(await raw.arrayBuffer()) };
        look.grounds = { ...look.grounds, [id]: { revision, ground } };
        fail('');
      } catch (error) {
        fail((error as Error).message);
      }
    },
    { immediate: true },
  );
}
