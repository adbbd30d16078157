import { computed, shallowRef, watch } from 'vue';
import { useIntervalFn } from '@vueuse/core';
import { LOOK_CELL_M, lookedAt, type CloudCell, type Look, type Looked } from '@longheron/core/cloud';
import { type DatasetOf } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';

const AGAIN_MS = 15_000;
export const LOOKED_COLOURS = { close: '#3f7350', section: '#92b0d1', never: '#c9826e', changed: '#15262c' };

/** The looked-at map of a cloud as a picture in plan, made anew now and then while it is shown. */
export function useLookedMap(dataset: () => DatasetOf<'point-cloud'> | undefined, on: () => boolean) {
  const store = useProject();
  const looked = shallowRef<Looked | null>(null);
  const failure = shallowRef('');
  async function load(): Promise<void> {
    const d = dataset();
    if (!on() || !d?.revision.content.index) {
      looked.value = null;
      return;
    }
    try {
      const got = await api.get<{ cells: CloudCell[]; looks: Look[] }>(
        `/projects/${store.project!.id}/datasets/${d.id}/looks`,
      );
      looked.value = lookedAt(got.cells, got.looks);
      failure.value = '';
    } catch (error) {
      failure.value = (error as Error).message;
    }
  }
  watch(() => [on(), dataset()?.id, dataset()?.revision.id], load, { immediate: true });
  useIntervalFn(() => on() && void load(), AGAIN_MS);
  const picture = computed(() => (looked.value?.cells.length ? drawCells(looked.value) : null));
  return { looked, picture, failure };
}

/** Three pixels a cell: what was changed is a mark in its middle. */
function drawCells({ cells }: Looked): { url: string; extent: [number, number, number, number] } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const c of cells) {
    [x0, y0] = [Math.min(x0, c.x), Math.min(y0, c.y)];
    [x1, y1] = [Math.max(x1, c.x + 1), Math.max(y1, c.y + 1)];
  }
  const canvas = document.createElement('canvas');
  canvas.width = 3 * (x1 - x0);
  canvas.height = 3 * (y1 - y0);
  const g = canvas.getContext('2d')!;
  for (const c of cells) {
    g.fillStyle = c.closeS ? LOOKED_COLOURS.close : c.sectionS ? LOOKED_COLOURS.section : LOOKED_COLOURS.never;
    const [px, py] = [3 * (c.x - x0), 3 * (y1 - 1 - c.y)];
    g.fillRect(px, py, 3, 3);
    if (!c.changed) continue;
    g.fillStyle = LOOKED_COLOURS.changed;
    g.fillRect(px + 1, py + 1, 1, 1);
  }
  return {
    url: canvas.toDataURL('image/png'),
    extent: [x0 * LOOK_CELL_M, y0 * LOOK_CELL_M, x1 * LOOK_CELL_M, y1 * LOOK_CELL_M],
  };
}
