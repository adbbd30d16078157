import { defineStore } from 'pinia';
import { ref } from 'vue';
import { type CloudEditEntry, type EditAnswer } from '@longheron/contract/api';
import { type Selection } from '@longheron/core/cloud';
import { api } from '../api/client';
import { useProject } from './project';

/** Acts on points, one after the other: each begins from what the one before has made. */
export const useActs = defineStore('acts', () => {
  const store = useProject();
  /** What is being done, in a word; '' when nothing is. */
  const busy = ref('');
  /** Acts that wait for those before them. */
  const waiting = ref(0);
  let last: Promise<unknown> = Promise.resolve();

  /** @returns whether it was done. */
  function act(dataset: number, selection: Selection, what: CloudEditEntry['act'], label: string): Promise<boolean> {
    waiting.value++;
    const project = store.project!.id;
    const mine = last.then(async () => {
      busy.value = label;
      const revision = store.datasets.find((d) => d.id === dataset)?.revision.id;
      const body = { selection, act: what, revision };
      return store.attempt(() => api.post<EditAnswer>(`/projects/${project}/datasets/${dataset}/edit`, body));
    });
    last = mine.finally(() => {
      busy.value = '';
      waiting.value--;
    });
    return mine;
  }
  return { busy, waiting, act };
});
