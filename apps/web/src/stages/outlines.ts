import { computed, shallowRef, watch } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { type MapShape } from '../map/shapes';
import { useProject } from '../stores/project';

/** An area or a line in the plan of the project, metres. */
export interface Outline {
  name: string;
  kind: 'area' | 'line';
  /** Flat lists of places. */
  parts: number[][];
}

export const pairs = (flat: number[]): Array<[number, number]> =>
  Array.from({ length: flat.length / 2 }, (_, i) => [flat[2 * i], flat[2 * i + 1]]);

/** Areas and lines of files, as the reference line of the project is. */
export function useOutlines(datasets: () => Array<DatasetDto | undefined>) {
  const store = useProject();
  const outlines = shallowRef<Outline[]>([]);
  const failure = shallowRef('');
  watch(
    () => JSON.stringify([datasets().map((d) => [d?.id, d?.revision.number]), store.project?.reference]),
    async () => {
      outlines.value = [];
      failure.value = '';
      const ids = datasets().flatMap((d) => (d ? [d.id] : []));
      try {
        const read = (id: number) => api.get<Outline[]>(`/projects/${store.project!.id}/datasets/${id}/outlines`);
        outlines.value = (await Promise.all(ids.map(read))).flat();
      } catch (error) {
        failure.value = (error as Error).message;
      }
    },
    { immediate: true },
  );
  const areas = computed(() => outlines.value.filter((o) => o.kind === 'area'));
  const lines = computed(() => outlines.value.filter((o) => o.kind === 'line'));
  return { outlines, areas, lines, failure };
}

/** Edges of an area as lines on the map. */
export const edgesOf = (o: Outline, colour = '#15262c'): MapShape[] =>
  o.parts.map((part) => {
    const points = pairs(part);
    if (o.kind === 'area') points.push(points[0]);
    return { kind: 'line', points, colour, widthPx: 1.5, dashed: true };
  });
