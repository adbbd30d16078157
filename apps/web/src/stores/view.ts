import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { useRoute } from 'vue-router';
import { kept } from './kept';

const RECORDING_STAGES = ['gather', 'position', 'place'];

/** What the person is looking at; it belongs to the project, but for what is open of the screen itself. */
export const useView = defineStore('view', () => {
  /** GPS seconds; applies to map, plots and cloud alike. */
  const brush = kept<[number, number] | null>('brush', null);
  /** As the person last had the time lanes; until then open where recordings are looked at, folded where clouds are. */
  const lanes = useLocalStorage<'true' | 'false' | ''>('longheron.lanes', '');
  const route = useRoute() as ReturnType<typeof useRoute> | undefined;
  const lanesOpen = computed({
    get: () => (lanes.value ? lanes.value === 'true' : RECORDING_STAGES.includes(route?.path.split('/')[3] ?? '')),
    set: (open) => (lanes.value = open ? 'true' : 'false'),
  });
  /** Name of the mark under the pointer, in table, map or plot. */
  const hoveredMark = ref<string | null>(null);
  const selectedMark = kept<string | null>('selectedMark', null);
  /** The dataset that undo and redo act on. */
  const active = ref<number | null>(null);
  const cursor = shallowRef<[number, number] | null>(null);
  /** A system of the project that the reference line is opened with. */
  const proposedSystem = ref<number | null>(null);
  const drawer = ref<'' | 'notices' | 'work' | 'reference' | 'help'>('');
  /** A section line in plan: project metres, and its full width. */
  const section = kept<{ from: [number, number]; to: [number, number]; widthM: number } | null>('section', null);
  /** The line that sections are led along, and where on it; null while they are drawn freely. */
  const rail = kept<{ key: string; stationM: number; halfM: number; turnDeg: number } | null>('rail', null);
  /** What maps and views leave out, by name; each says so. */
  const hiddenLayers = kept<string[]>('hiddenLayers', []);
  /** The picture that lies under maps, by its dataset; 0 for none. */
  const underlay = kept('underlay', 0);
  /** Name of the look of contours, in plan and 3D. */
  const contourStyle = kept('contourStyle', '');
  return {
    brush,
    lanesOpen,
    hoveredMark,
    selectedMark,
    active,
    cursor,
    drawer,
    proposedSystem,
    section,
    rail,
    underlay,
    hiddenLayers,
    contourStyle,
  };
});
