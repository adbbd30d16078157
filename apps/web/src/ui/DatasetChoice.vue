<script setup lang="ts">
import { type DatasetDto } from '@longheron/contract/api';

/** A row of a form: one dataset, or several, of those that may serve. */
defineProps<{
  label: string;
  /** What it is called when read aloud; the label without it. */
  name?: string;
  datasets: DatasetDto[];
  /** Words for choosing none; without them one must be chosen. Of several they stand where none is chosen. */
  none?: string;
  several?: boolean;
  /** Of several, only how many are chosen is written. */
  collapse?: boolean;
  placeholder?: string;
  /** How an entry is written; its name without it. */
  entry?: (d: DatasetDto) => string;
}>();
/** Where one must be chosen, 0 is no dataset. */
const NOTHING = [0, '', null, undefined];
const chosen = defineModel<number | number[]>({ required: true });
</script>

<template>
  <el-form-item :label="label"
    ><el-select
      v-model="chosen"
      :multiple="several"
      :collapse-tags="collapse"
      :max-collapse-tags="2"
      :aria-label="name ?? label"
      :empty-values="none && !several ? undefined : NOTHING"
      :placeholder="placeholder ?? (several ? none : undefined) ?? 'Choose'"
      ><el-option v-if="none && !several" :value="0" :label="none" /><el-option
        v-for="d in datasets"
        :key="d.id"
        :value="d.id"
        :label="entry ? entry(d) : d.name" /></el-select
    ><slot
  /></el-form-item>
</template>
