import { useLocalStorage } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { type SelectionCountDto } from '@longheron/contract/api';
import { type Selection, type SelectionRegion, type SelectionShape } from '@longheron/core/cloud';
import { useCloudLook, type GroundUnder } from './cloudLook';
import { useView } from './view';

export type SelectionTool = 'none' | 'rectangle' | 'lasso' | 'polygon' | 'brush';
export type SelectionMode = 'replace' | SelectionRegion['mode'];

/** Places to the millimetre, or a millionth of the picture: finer is not drawn, and only makes long messages. */
function tidy(shape: SelectionShape): SelectionShape {
  const to = (list: number[], digits: number) => list.map((v) => Number(v.toFixed(digits)));
  if (shape.kind === 'rows') return shape;
  if (shape.kind === 'brush') return { ...shape, path: to(shape.path, 3) };
  return { ...shape, polygon: to(shape.polygon, shape.kind === 'view' ? 6 : 3) };
}

const withoutHeights = ({ heightM: _heights, ...ground }: GroundUnder) => ground;

/** What is selected of the cloud that is worked on, the same in 3D and section. */
export const useSelection = defineStore('selection', () => {
  const look = useCloudLook();
  const view = useView();
  /** The cloud it is of; 0 while none is worked on. */
  const dataset = ref(0);
  const tool = ref<SelectionTool>('none');
  const mode = useLocalStorage<SelectionMode>('longheron.selectionMode', 'replace');
  /** Half the width of the brush on the screen, pixels. */
  const brushPx = useLocalStorage('longheron.brushPx', 10);
  /** What a stroke of the brush does when it is lifted: it selects, or acts at once. */
  const paint = useLocalStorage<'' | 'reject' | `class ${number}`>('longheron.paint', '');
  const regions = shallowRef<SelectionRegion[]>([]);
  /** Everything that is shown, whatever its place. */
  const everything = ref(false);
  const inverted = ref(false);
  /** Of the points that are drawn. */
  const drawn = shallowRef<{ count: number; byClass: Record<string, number> } | null>(null);
  /** Of the whole cloud; null while it is being counted. */
  const exact = shallowRef<SelectionCountDto | null>(null);

  /** What is not shown cannot be selected: time, section and the filter of attributes as they are set. */
  const shownFilter = computed(() => {
    const { aboveM, ...attributes } = look.filter;
    const ground = look.groundOf(dataset.value);
    return {
      ...(view.brush ? { time: view.brush } : {}),
      ...(look.clip && view.section ? { clip: view.section } : {}),
      ...attributes,
      ...(aboveM && ground ? { above: { ...withoutHeights(ground), rangeM: aboveM } } : {}),
    };
  });

  const current = computed<Selection | null>(() =>
    regions.value.length === 0 && !everything.value
      ? null
      : {
          regions: regions.value,
          inverted: inverted.value,
          filter: {
            hiddenClasses: look.hiddenClasses,
            rejected: look.rejected,
            ...shownFilter.value,
          },
        },
  );

  function clear(): void {
    regions.value = [];
    everything.value = false;
    inverted.value = false;
  }
  function add(drawn: SelectionShape, how: SelectionMode = mode.value): void {
    const shape = tidy(drawn);
    everything.value = false;
    if (how === 'replace' || (regions.value.length === 0 && how !== 'add')) {
      inverted.value = false;
      regions.value = [{ mode: 'add', shape }];
    } else regions.value = [...regions.value, { mode: how, shape }];
  }
  /** Takes the last shape back. */
  const back = () => (regions.value = regions.value.slice(0, -1));
  function begin(id: number): void {
    if (id === dataset.value) return;
    dataset.value = id;
    tool.value = 'none';
    clear();
  }
  function selectAll(): void {
    clear();
    everything.value = true;
  }
  return {
    dataset,
    tool,
    mode,
    brushPx,
    paint,
    shownFilter,
    regions,
    everything,
    inverted,
    drawn,
    exact,
    current,
    clear,
    add,
    back,
    begin,
    selectAll,
  };
});
