import { type DatasetOf } from '@longheron/contract/api';
import { objectJson } from '../../api/client';
import { useLoaded } from '../../ui/loaded';

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
  return useLoaded(() => dataset()?.revision.content.diagnostics, objectJson<Diagnostic[]>, []);
}
