import { type DatasetOf } from '@longheron/contract/api';
import { useProject } from './project';

const LONGEST_TRAIL = 8;

/** Strips of a cloud, as it or what it was made from knows them. */
export function useStrips(dataset: () => DatasetOf<'point-cloud'> | undefined): () => number[] {
  const store = useProject();
  return () => {
    let d = dataset();
    for (let i = 0; d && i < LONGEST_TRAIL; i++) {
      const { figures } = d.revision.content;
      if (figures && 'strips' in figures) return figures.strips.map((s) => s.id);
      const id = d.revision.inputs.find((x) => x.role === 'cloud')?.datasetId;
      d = store.ofKind('point-cloud').find((x) => x.id === id);
    }
    return [];
  };
}
