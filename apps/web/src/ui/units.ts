import { computed } from 'vue';
import { METRES_PER, UNIT_SYMBOL } from '@longheron/core/frames';
import { useProject } from '../stores/project';

const scaled = (factor: number, symbol: string, digits: number) => ({
  factor,
  symbol,
  digits,
  /** Metres in this unit; what is not known stays so. */
  of: <T extends number | null | undefined>(metres: T) =>
    (typeof metres === 'number' ? metres * factor : null) as T extends number ? number : number | null,
});

/** Lengths in the project's unit: `length` for coordinates and heights, `small` for residuals and deviations. */
export function useUnits() {
  const store = useProject();
  const unit = computed(() => store.project?.reference?.unit ?? 'metre');
  const length = computed(() => scaled(1 / METRES_PER[unit.value], UNIT_SYMBOL[unit.value], 3));
  const small = computed(() =>
    unit.value === 'metre' ? scaled(100, 'cm', 1) : scaled(1 / METRES_PER[unit.value], UNIT_SYMBOL[unit.value], 3),
  );
  return { length, small };
}
