<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetDto } from '@longheron/contract/api';
import { CHAPTERS, type Declaration, type Given } from '@longheron/contract/declare';
import { operationOf, OPERATIONS, type Operation } from '@longheron/contract/operations';
import { useProject } from '../stores/project';
import AgainButtons from './AgainButtons.vue';
import DatasetChoice from './DatasetChoice.vue';
import { useSettings } from './settings';
import SettingsForm from './SettingsForm.vue';

/** The form of an operation, drawn from its declaration: a choice for each input, a row for each setting. */
const props = defineProps<{
  operation: Operation;
  made?: DatasetDto;
  /** The data that lie open: the first choice where they may serve. */
  open?: DatasetDto;
  /** Settings to begin with, over the usual ones, for a first result; later ones are put into the form. */
  preset?: Given;
  /** Datasets to begin with, by role, for a first result. */
  usualInputs?: { readonly [role: string]: readonly number[] };
}>();
const store = useProject();
const declaration: Declaration = OPERATIONS[props.operation];
const { settings, usual } = useSettings(props.operation, () => props.made);
if (!props.made) settings.value = { ...settings.value, ...props.preset };
watch(
  () => props.preset,
  (given) => (settings.value = { ...settings.value, ...given }),
);
const roles = Object.entries(declaration.roles);
const chosen = ref<Record<string, number | number[]>>({});

/** What may serve in a role: of its kind, clouds as far as they are prepared. */
const among = (role: string): DatasetDto[] => {
  const { kind } = declaration.roles[role];
  if (kind === CHAPTERS) return store.datasets.filter((d) => madeWith(d)?.chapter !== undefined);
  return store.ofKind(kind).filter((d) => d.kind !== 'point-cloud' || d.revision.content.index);
};
const madeWith = (d: DatasetDto) => operationOf(d.revision.madeBy);
watch(
  () => [store.datasets.length, props.made?.id, props.open?.id, JSON.stringify(props.usualInputs)],
  () => {
    for (const [role, r] of roles) {
      const given = props.made?.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId) ?? [
        ...(props.usualInputs?.[role] ?? []),
      ];
      const fit = among(role);
      const usualOne = r.none ? undefined : (fit.find((d) => d.id === props.open?.id) ?? fit.at(-1))?.id;
      chosen.value[role] = r.several ? given : (given[0] ?? usualOne ?? 0);
    }
  },
  { immediate: true },
);
const filled = computed(() =>
  Object.fromEntries(
    Object.entries(chosen.value).map(([role, v]) => [role, Array.isArray(v) ? v.length > 0 : v !== 0]),
  ),
);
const able = computed(() => roles.every(([role, r]) => r.none || filled.value[role]));
function start(over: boolean): void {
  const inputs = Object.fromEntries(Object.entries(chosen.value).filter(([role]) => filled.value[role]));
  void store.run(props.operation, inputs, settings.value, over ? props.made?.id : undefined);
}
</script>

<template>
  <el-form novalidate label-position="top" @submit.prevent="start(!!made)">
    <DatasetChoice
      v-for="[role, r] in roles"
      :key="role"
      v-model="chosen[role]"
      :label="r.label"
      :datasets="among(role)"
      :none="r.none"
      :several="r.several"
    />
    <SettingsForm v-model="settings" :schema="declaration.settings" :chosen="filled" />
    <AgainButtons
      :first="declaration.title"
      again="Again, with these settings"
      :there="!!made"
      :able="able"
      @beside="start(false)"
    />
    <el-button link @click="usual">Usual settings</el-button>
  </el-form>
</template>
