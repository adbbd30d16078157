import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** Keeps null as it is, which the usual one would not. */
const jsonSerializer = <T>() => ({ read: (v: string): T => JSON.parse(v), write: (v: T) => JSON.stringify(v) });

/** What the person is looking at; kept over a reload. */
export const useView = defineStore('view', () => {
  /** GPS seconds; applies to map, plots and cloud alike. */
  const brush = useLocalStorage<[number, number] | null>('longheron.brush', null, {
    serializer: { read: (v) => JSON.parse(v) as [number, number] | null, write: (v) => JSON.stringify(v) },
  });
  const lanesOpen = useLocalStorage('longheron.lanes', true);
  /** Name of the mark under the pointer, in table, map or plot. */
  const hoveredMark = ref<string | null>(null);
  const selectedMark = useLocalStorage<string | null>('longheron.selectedMark', null);
  /** The dataset that undo and redo act on. */
  const active = ref<number | null>(null);
  const cursor = shallowRef<[number, number] | null>(null);
  const drawer = ref<'' | 'notices' | 'work' | 'reference' | 'help'>('');
  /** A section line in plan: project metres, and its full width. */
  const section = useLocalStorage<{ from: [number, number]; to: [number, number]; widthM: number } | null>(
    'longheron.section',
    null,
    {
      serializer: jsonSerializer(),
    },
  );
  /** The line that sections are led along, and where on it; null while they are drawn freely. */
  const rail = useLocalStorage<{ key: string; stationM: number; halfM: number; turnDeg: number } | null>(
    'longheron.rail',
    null,
    { serializer: jsonSerializer() },
  );
  /** What maps and views leave out, by name; each says so. */
  const hiddenLayers = useLocalStorage<string[]>('longheron.hiddenLayers', []);
  /** The picture that lies under maps, by its dataset; 0 for none. */
  const underlay = useLocalStorage('longheron.underlay', 0);
  /** Name of the look of contours, in plan and 3D. */
  const contourStyle = useLocalStorage('longheron.contourStyle', '');
  return {
    brush,
    lanesOpen,
    hoveredMark,
    selectedMark,
    active,
    cursor,
    drawer,
    section,
    rail,
    underlay,
    hiddenLayers,
    contourStyle,
  };
});
