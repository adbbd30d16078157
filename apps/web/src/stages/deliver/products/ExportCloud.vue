<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { systemTextOf, type SystemNames } from '@longheron/contract/api';
import { isPointFormat, pointFormat } from '@longheron/contract/formats';
import { useProject } from '../../../stores/project';
import { useStrips } from '../../../stores/strips';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import Num from '../../../ui/Num.vue';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import SystemChoice from '../../../ui/SystemChoice.vue';
import { className } from '../../../views3d/colouring';

const store = useProject();
const cloud = ref(0);
const { declaration, settings } = useSettings('export-cloud');
const classes = ref<number[]>([]);
const strips = ref<number[]>([]);
const other = ref(false);
const system = ref<SystemNames>({ horizontal: 0, vertical: 5773 });
const isChosen = computed(() => !!system.value.horizontal || !!system.value.plan);
const way = computed(() => {
  const format = String(settings.value.format);
  return pointFormat(isPointFormat(format) ? format : 'las');
});
watch(way, ({ pieces }) => {
  if (!pieces) settings.value = { ...settings.value, split: 'one' };
});
const clouds = computed(() => store.ofKind('point-cloud').filter((d) => d.stage !== 'deliver'));
watch(
  () => clouds.value.length,
  () => {
    if (!clouds.value.some((d) => d.id === cloud.value))
      cloud.value = (store.latest('point-cloud', 'clean') ?? clouds.value.at(-1))?.id ?? 0;
  },
  { immediate: true },
);
const chosen = computed(() => clouds.value.find((d) => d.id === cloud.value));
const counts = computed(() => chosen.value?.revision.content.countsByClass ?? {});
const stripsOf = useStrips(() => chosen.value);
const stripList = computed(stripsOf);
watch(cloud, () => {
  classes.value = [];
  strips.value = [];
});
const expected = computed(() =>
  Object.entries(counts.value).reduce(
    (sum, [c, n]) => sum + (classes.value.length === 0 || classes.value.includes(Number(c)) ? n : 0),
    0,
  ),
);
const systemLabel = computed(() => systemTextOf(system.value));
const start = () =>
  store.run(
    'export-cloud',
    { cloud: cloud.value },
    {
      ...settings.value,
      classes: classes.value,
      strips: strips.value,
      system: other.value && isChosen.value ? systemLabel.value : undefined,
    },
  );
</script>

<template>
  <section>
    <h3>Points to a file</h3>
    <el-form novalidate label-position="top" @submit.prevent="start">
      <DatasetChoice v-model="cloud" label="Cloud" :datasets="clouds" />
      <SettingsForm v-model="settings" :schema="declaration.settings">
        <template #classes="{ setting }">
          <el-form-item :label="setting.label"
            ><el-select v-model="classes" multiple :aria-label="setting.label"
              ><el-option
                v-for="c in Object.keys(counts)"
                :key="c"
                :value="Number(c)"
                :label="className(Number(c))" /></el-select
          ></el-form-item>
        </template>
        <template #strips="{ setting }">
          <el-form-item v-if="stripList.length" :label="setting.label"
            ><el-select v-model="strips" multiple :aria-label="setting.label"
              ><el-option v-for="s in stripList" :key="s" :value="s" :label="`strip ${s}`" /></el-select
          ></el-form-item>
        </template>
        <template #system="{ setting }">
          <el-checkbox v-model="other" :label="setting.label" />
          <SystemChoice v-if="other" v-model="system" label="System" />
        </template>
      </SettingsForm>
      <p class="soft">
        Up to <Num :value="expected" /> points with {{ way.carries }}. The result says how many were left out and why.
      </p>
      <el-button native-type="submit" :disabled="!cloud || (other && !isChosen)">{{
        settings.split === 'one' ? 'Write the file' : 'Write the files'
      }}</el-button>
    </el-form>
  </section>
</template>

<style scoped>
h3 {
  margin-bottom: 4px;
}
</style>
