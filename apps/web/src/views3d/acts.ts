import { computed, watch, type ShallowRef } from 'vue';
import { type CloudEditEntry, type DatasetOf } from '@longheron/contract/api';
import { useSelection, type SelectionMode } from '../stores/selection';
import { loadEdits, selectorOf } from './cloudEdits';
import { type CloudScene } from './CloudScene';

/**
 * Shows in a cloud view what was done to the points by hand, and what is selected; takes shapes drawn over it.
 * @param size of the picture, pixels. @param fail hears what cannot be read.
 */
export function useCloudActs(
  dataset: () => DatasetOf<'point-cloud'>,
  scene: ShallowRef<CloudScene | null>,
  size: () => { width: number; height: number },
  fail: (message: string) => void,
) {
  const selection = useSelection();
  const edits = computed(() => (dataset().revision.content.edits as CloudEditEntry[] | undefined) ?? []);
  const editKey = computed(() => edits.value.map((e) => e.object + JSON.stringify(e.act)).join());
  const selectable = computed(() => selection.dataset === dataset().id);
  const chosen = computed(() => (selectable.value ? selection.current : null));

  async function showEdits(): Promise<void> {
    const s = scene.value;
    if (!s) return;
    try {
      const list = await loadEdits(edits.value);
      if (s === scene.value) s.marker.setEdits(list);
    } catch (e) {
      fail((e as Error).message);
    }
  }
  async function showSelection(): Promise<void> {
    const s = scene.value;
    if (!s) return;
    const wanted = chosen.value;
    if (!wanted) selection.drawn = null;
    try {
      const selector = wanted && (await selectorOf(wanted, s.index.origin));
      if (wanted === chosen.value) await s.marker.select(selector);
    } catch (e) {
      fail((e as Error).message);
    }
  }
  watch(editKey, showEdits);
  watch(chosen, showSelection);

  /** A scene that was just opened: edits first, since classes decide what is selected. */
  async function begin(made: CloudScene): Promise<void> {
    made.marker.onSelected = (count, byClass) => (selection.drawn = { count, byClass });
    await showEdits();
    void showSelection();
  }
  function selectPath(path: number[], how: SelectionMode | undefined): void {
    const s = scene.value;
    if (!s) return;
    const { width, height } = size();
    const polygon = path.map((v, i) => (i % 2 ? 1 - (2 * v) / height : (2 * v) / width - 1));
    selection.add({ kind: 'view', matrix: s.toPicture(), polygon }, how);
  }
  /** The brush is for sections alone. */
  const tool = computed(() => (selectable.value && selection.tool !== 'brush' ? selection.tool : 'none'));
  return { tool, begin, selectPath };
}
