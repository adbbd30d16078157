import { shallowRef, watch } from 'vue';
import { type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../../api/client';

/** A quantity of the computation against GPS time: lowest and highest in each bin; null breaks the line. */
export interface Diagnostic {
  name: string;
  unit: string;
  time: number[];
  min: Array<number | null>;
  max: Array<number | null>;
}

/** What the computation of a trajectory kept for plotting; empty for one that was taken in. */
export function useDiagnostics(dataset: () => DatasetOf<'trajectory'> | undefined) {
  const out = shallowRef<Diagnostic[]>([]);
  watch(
    () => dataset()?.revision.content.diagnostics,
    async (sha) => {
      out.value = sha ? await objectJson<Diagnostic[]>(sha).catch(() => []) : [];
    },
    { immediate: true },
  );
  return out;
}
