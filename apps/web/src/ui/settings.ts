import { ref, watch, type Ref } from 'vue';
import { usualOf, type Given } from '@longheron/contract/declare';
import { OPERATIONS, type DeclarationOf, type Operation } from '@longheron/contract/operations';
import { type DatasetDto, type RevisionDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';

type Made = RevisionDto & { current: boolean; settings: Given | null };

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
  /** The revision whose settings stand in the form, until a person changes them. */
  let taken = 0;
  if (made)
    watch(
      () => [made()?.id, made()?.revision.id],
      async ([id]) => {
        if (!id) return;
        const at = `/projects/${store.project!.id}/datasets/${id}/revisions`;
        const all = await api.get<Made[]>(at).catch((): Made[] => []);
        if (made()?.id !== id) return;
        // what was done by hand since is a revision too: the latest that this operation made says how
        const own = all.filter((r) => r.madeBy === name);
        const of = own.find((r) => r.current) ?? own.reduce((m, r) => (r.number > m.number ? r : m), own[0]);
        if (!of || of.id === taken) return;
        taken = of.id;
        const kept = Object.entries(of.settings ?? {}).filter(([k]) => k in declaration.settings);
        settings.value = { ...usualOf(declaration.settings), ...Object.fromEntries(kept) };
      },
      { immediate: true },
    );
  return { declaration, settings, usual };
}
