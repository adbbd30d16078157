import { computed } from 'vue';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { useProject } from '../stores/project';

/** Lengths in the project's unit: `length` for coordinates and heights, `small` for residuals and deviations. */
export function useUnits() {
  const store = useProject();
  const unit = computed(() => store.project?.reference?.unit ?? 'metre');
  const length = computed(() => ({
    factor: 1 / METRES_PER[unit.value],
    symbol: UNIT_SYMBOL[unit.value],
    digits: 3,
  }));
  const small = computed(() =>
    unit.value === 'metre'
      ? { factor: 100, symbol: 'cm', digits: 1 }
      : { factor: 1 / METRES_PER[unit.value], symbol: UNIT_SYMBOL[unit.value], digits: 3 },
  );
  return { length, small };
}
