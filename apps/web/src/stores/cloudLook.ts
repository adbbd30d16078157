import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { type EchoKind } from '@longheron/core/cloud';
import { type Colouring } from '../views3d/colouring';
import { type Picked } from '../views3d/picking';
import { kept } from './kept';

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

/** How clouds are looked at: the same in plan, 3D and section. It belongs to the project, but for size, light and lens. */
export const useCloudLook = defineStore('cloudLook', () => {
  const colouring = kept<Colouring>('colouring', 'height');
  /** Legend limits a person has set, by cloud index and colouring. */
  const limits = kept<Record<string, [number, number]>>('limits', {});
  /** Rejected noise is hidden until it is asked for; the view says so. */
  const hiddenClasses = kept<number[]>('hiddenClasses', [7, 18]);
  /** Points rejected by hand. */
  const rejected = kept<'hidden' | 'shown' | 'only'>('rejected', 'hidden');
  /** What is selected: marked among the rest, alone, or as if it were gone. */
  const selected = ref<'marked' | 'only' | 'hidden'>('marked');
  /** Whether only the section is shown in the cloud view. */
  const clip = kept('clip', false);
  /** What else decides whether a point is shown: its echo, strip, intensity, stated precision, height above ground. */
  const filter = kept<PointFilterSettings>('filter', {});
  /** How many times taller heights are drawn than they are, in 3D. */
  const exaggeration3d = kept('exaggeration3d', 1);
  const pointPx = useLocalStorage('longheron.pointPx', 0);
  const parallel = useLocalStorage('longheron.parallel', false);
  const shading = useLocalStorage('longheron.shading', true);
  const exaggeration = kept('sectionExaggeration', 0);
  const showTerrain = kept('showTerrain', false);
  const showContours = kept('showContours', false);
  const showTin = kept('showTin', false);
  const showPoints = kept('showPoints', true);
  const cameras = kept<Record<string, { position: number[]; target: number[]; zoom: number }>>('cameras', {});
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
