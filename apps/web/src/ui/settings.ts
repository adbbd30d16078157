import { ref, watch, type Ref } from 'vue';
import { usualOf, type Given } from '@longheron/contract/declare';
import { OPERATIONS, type DeclarationOf, type Operation } from '@longheron/contract/operations';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';

/**
 * Settings of an operation for its form: the usual ones, or those that the shown result was made with.
 *
 * @param made the result that is looked at, of which they are taken over.
 */
export function useSettings<N extends Operation>(
  name: N,
  made?: () => DatasetDto | undefined,
): { declaration: DeclarationOf<N>; settings: Ref<Given>; usual: () => void } {
  const store = useProject();
  const declaration = OPERATIONS[name];
  const settings = ref<Given>(usualOf(declaration.settings));
  const usual = () => (settings.value = usualOf(declaration.settings));
  if (made)
    watch(
      () => made()?.revision.runId,
      (id) => {
        const run = store.runs.find((r) => r.id === id && r.operation === name);
        const kept = Object.entries(run?.settings ?? {}).filter(([k]) => k in declaration.settings);
        settings.value = { ...usualOf(declaration.settings), ...Object.fromEntries(kept) };
      },
      { immediate: true },
    );
  return { declaration, settings, usual };
}
