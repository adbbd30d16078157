import { inject, provide, ref, shallowRef, type InjectionKey, type Ref, type ShallowRef } from 'vue';
import { type ComparisonDto } from '@longheron/contract/api';
import { type MapShape } from '../../map/shapes';
import { type Preview } from '../mapData';
import { type Sky } from './sky';

/** A dot on the map: metres of the project, GPS seconds. */
export interface BenchDot {
  eastingM: number;
  northingM: number;
  time: number;
  counts: boolean;
}

/** What map and plots of the stage share with the panel in its sheet. */
export interface PositionBench {
  /** Of the trajectory that is looked at. */
  preview: Ref<Preview | null>;
  sky: Ref<Sky | null>;
  /** GPS seconds that plots show. */
  span: Ref<[number, number]>;
  /** The satellite that plots and tables point at. */
  satellite: Ref<string | null>;
  comparison: ShallowRef<ComparisonDto | null>;
  /** What the panel draws on the map. */
  shapes: ShallowRef<MapShape[]>;
  dots: ShallowRef<BenchDot[]>;
}
const KEY: InjectionKey<PositionBench> = Symbol('bench of Position');

/** Called by the frame of the stage. */
export function provideBench(looked: Pick<PositionBench, 'preview' | 'sky' | 'span'>): PositionBench {
  const bench = {
    ...looked,
    satellite: ref<string | null>(null),
    comparison: shallowRef<ComparisonDto | null>(null),
    shapes: shallowRef<MapShape[]>([]),
    dots: shallowRef<BenchDot[]>([]),
  };
  provide(KEY, bench);
  return bench;
}

/** Called by its panels. */
export function useBench(): PositionBench {
  const bench = inject(KEY);
  if (!bench) throw new Error('This panel stands in the stage Position only.');
  return bench;
}
