import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { type EchoKind } from '@longheron/core/cloud';
import { type Colouring } from '../views3d/colouring';
import { type Picked } from '../views3d/picking';

/** Stands for a side that is open, metres. */
export const OPEN_M = 10_000;

/** Limits of a person's filter; what is absent lets everything through. */
export interface PointFilterSettings {
  echoes?: EchoKind[];
  strips?: number[];
  intensity?: [number, number];
  /** Largest stated deviation of height, 1 SD, metres. */
  sdMostM?: number;
  /** Height in the system of the project, metres: with the section alone it makes a box. */
  heightM?: [number, number];
  /** Height above ground, metres. */
  aboveM?: [number, number];
}

/** Heights of the ground under a cloud about its zero, row by row from the south. */
export interface GroundUnder {
  object: string;
  cellM: number;
  minX: number;
  minY: number;
  columns: number;
  rows: number;
  heightM: Float32Array;
}

/** How clouds are looked at: the same in plan, 3D and section, and kept over a reload. */
export const useCloudLook = defineStore('cloudLook', () => {
  const colouring = useLocalStorage<Colouring>('longheron.colouring', 'height');
  /** Legend limits a person has set, by cloud index and colouring. */
  const limits = useLocalStorage<Record<string, [number, number]>>('longheron.limits', {});
  /** Rejected noise is hidden until it is asked for; the view says so. */
  const hiddenClasses = useLocalStorage<number[]>('longheron.hiddenClasses', [7, 18]);
  /** Points rejected by hand. */
  const rejected = useLocalStorage<'hidden' | 'shown' | 'only'>('longheron.rejected', 'hidden');
  /** What is selected: marked among the rest, alone, or as if it were gone. */
  const selected = ref<'marked' | 'only' | 'hidden'>('marked');
  /** Whether only the section is shown in the cloud view. */
  const clip = useLocalStorage('longheron.clip', false);
  /** What else decides whether a point is shown: its echo, strip, intensity, stated precision, height above ground. */
  const filter = useLocalStorage<PointFilterSettings>('longheron.pointFilter', {});
  /** How many times taller heights are drawn than they are, in 3D. */
  const exaggeration3d = useLocalStorage('longheron.exaggeration3d', 1);
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
  /** The ground under clouds that were asked for, by dataset. */
  const grounds = shallowRef<Record<number, { revision: number; ground: GroundUnder }>>({});
  const groundOf = (dataset: number): GroundUnder | undefined => grounds.value[dataset]?.ground;
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
    selected,
    clip,
    filter,
    exaggeration3d,
    grounds,
    groundOf,
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
