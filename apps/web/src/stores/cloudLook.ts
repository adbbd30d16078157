import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, shallowRef } from 'vue';
import { type Colouring } from '../views3d/colouring';
import { type Picked } from '../views3d/picking';

/** How clouds are looked at: the same in plan, 3D and section, and kept over a reload. */
export const useCloudLook = defineStore('cloudLook', () => {
  const colouring = useLocalStorage<Colouring>('longheron.colouring', 'height');
  /** Legend limits a person has set, by cloud index and colouring. */
  const limits = useLocalStorage<Record<string, [number, number]>>('longheron.limits', {});
  /** Rejected noise is hidden until it is asked for; the view says so. */
  const hiddenClasses = useLocalStorage<number[]>('longheron.hiddenClasses', [7, 18]);
  /** Points rejected by hand. */
  const rejected = useLocalStorage<'hidden' | 'shown' | 'only'>('longheron.rejected', 'hidden');
  /** Whether only the section is shown in the cloud view. */
  const clip = useLocalStorage('longheron.clip', false);
  const pointPx = useLocalStorage('longheron.pointPx', 0);
  const parallel = useLocalStorage('longheron.parallel', false);
  const shading = useLocalStorage('longheron.shading', true);
  const exaggeration = useLocalStorage('longheron.sectionExaggeration', 0);
  const showTerrain = useLocalStorage('longheron.showTerrain', false);
  const showContours = useLocalStorage('longheron.showContours', false);
  const showTin = useLocalStorage('longheron.showTin', false);
  const showPoints = useLocalStorage('longheron.showPoints', true);
  const cameras = useLocalStorage<Record<string, { position: number[]; target: number[]; zoom: number }>>(
    'longheron.cameras',
    {},
  );
  /** The point under consideration, the same in every view. */
  const picked = shallowRef<Picked | null>(null);
  const hidden = computed(() => new Set(hiddenClasses.value));
  function toggleClass(cls: number): void {
    hiddenClasses.value = hidden.value.has(cls)
      ? hiddenClasses.value.filter((c) => c !== cls)
      : [...hiddenClasses.value, cls];
  }
  return {
    colouring,
    limits,
    hiddenClasses,
    hidden,
    toggleClass,
    rejected,
    clip,
    pointPx,
    parallel,
    shading,
    exaggeration,
    showTerrain,
    showContours,
    showTin,
    showPoints,
    cameras,
    picked,
  };
});
