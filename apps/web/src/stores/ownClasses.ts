import { defineStore } from 'pinia';
import { computed, ref, watch } from 'vue';
import { LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { api } from '../api/client';
import { setOwnClasses, type OwnClass } from '../views3d/colouring';
import { useProject } from './project';

/** Classes of the project beyond those of the LAS standard, with names and colours of its own. */
export const useOwnClasses = defineStore('ownClasses', () => {
  const store = useProject();
  const list = ref<OwnClass[]>([]);
  const at = () => `/projects/${store.project!.id}/classes`;
  async function load(): Promise<void> {
    if (!store.project) return;
    list.value = await api.get<OwnClass[]>(at()).catch(() => list.value);
    setOwnClasses(list.value);
  }
  watch(() => store.project?.id, load, { immediate: true });
  /** @returns whether it was done. */
  async function change(work: () => Promise<unknown>): Promise<boolean> {
    const done = await store.attempt(work);
    if (done) await load();
    return done;
  }
  const keep = (c: OwnClass) => change(() => api.put(at(), c));
  const remove = (code: number) => change(() => api.del(`${at()}/${code}`));
  /** All codes that can be given to points: of the standard, and of the project. */
  const codes = computed(() =>
    [...new Set([...Object.keys(LAS_CLASS_NAMES).map(Number), ...list.value.map((c) => c.code)])].sort((a, b) => a - b),
  );
  return { list, codes, load, keep, remove };
});
