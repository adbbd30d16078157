import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from './project';

const LONGEST_TRAIL = 8;

/** Strips of a cloud, as it or what it was made from knows them. */
export function useStrips(dataset: () => DatasetDto | undefined): () => number[] {
  const store = useProject();
  return () => {
    let d = dataset();
    for (let i = 0; d && i < LONGEST_TRAIL; i++) {
      const { figures } = d.revision.content as { figures?: { strips?: Array<{ id: number }> } };
      if (figures?.strips) return figures.strips.map((s) => s.id);
      const id = d.revision.inputs.find((x) => x.role === 'cloud')?.datasetId;
      d = store.datasets.find((x) => x.id === id);
    }
    return [];
  };
}
