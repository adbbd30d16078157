import { computed, type ComputedRef } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { type DatasetDto } from '@longheron/contract/api';
import { isStage, type Stage } from '@longheron/contract/stages';
import { lastDataset } from '../stores/lastPlace';

/** Address of a panel, with the dataset that is looked at there. */
export const panelPath = (project: string, stage: Stage, panel: string, dataset: string | number = '') =>
  `/project/${project}/${stage}/${panel}${dataset ? `/${dataset}` : ''}`;

/** Project, stage and panel that the address names. */
export function useAddress() {
  const route = useRoute();
  const parts = computed(() => route.path.split('/').slice(2));
  return {
    project: computed(() => parts.value[0] ?? ''),
    stage: computed<Stage>(() => (isStage(parts.value[1] ?? '') ? (parts.value[1] as Stage) : 'gather')),
    panel: computed(() => parts.value[2] ?? ''),
    dataset: computed(() => parts.value[3] ?? ''),
    /** Address of another panel; what was looked at there last is looked at again. */
    to: (stage: Stage, panel: string, dataset?: string | number) => {
      const project = parts.value[0] ?? '';
      return panelPath(project, stage, panel, dataset ?? lastDataset(project, stage, panel));
    },
  };
}

/** The dataset that the address names, or the usual one; another is chosen by going to its address. */
export function useChosen<D extends DatasetDto>(
  among: () => D[],
  usual: () => D | undefined,
): { chosen: ComputedRef<D | undefined>; choose: (d: { id: number }) => void } {
  const router = useRouter();
  const { project, stage, panel, dataset } = useAddress();
  const chosen = computed(() => {
    const id = Number(dataset.value);
    return among().find((d) => d.id === id) ?? usual();
  });
  const choose = (d: { id: number }) => void router.push(panelPath(project.value, stage.value, panel.value, d.id));
  return { chosen, choose };
}
