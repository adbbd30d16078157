import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { CONTOUR_STYLES, type ContourStyle } from '@longheron/contract/requests';
import { api } from '../api/client';
import { useView } from './view';

/** The looks of contours that are kept on the server, and the one in use. */
export const useContourStyles = defineStore('contourStyles', () => {
  const view = useView();
  const list = ref<ContourStyle[]>([...CONTOUR_STYLES]);
  /** A look that is being tried out and not yet kept. */
  const trial = ref<ContourStyle | null>(null);
  const chosen = computed(() => list.value.find((s) => s.name === view.contourStyle) ?? list.value[0]);
  const current = computed(() => trial.value ?? chosen.value);
  const isOurs = (name: string) => CONTOUR_STYLES.some((s) => s.name === name);

  async function load(): Promise<void> {
    list.value = await api.get<ContourStyle[]>('/contour-styles');
  }
  async function keep(style: ContourStyle): Promise<void> {
    await api.put('/contour-styles', style);
    await load();
    view.contourStyle = style.name;
    trial.value = null;
  }
  async function remove(name: string): Promise<void> {
    await api.del(`/contour-styles/${encodeURIComponent(name)}`);
    await load();
  }
  void load().catch(() => undefined);
  return { list, trial, chosen, current, isOurs, keep, remove };
});
