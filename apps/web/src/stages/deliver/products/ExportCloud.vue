<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useProject } from '../../../stores/project';
import { useStrips } from '../../../stores/strips';
import { className } from '../../../views3d/colouring';
import Num from '../../../ui/Num.vue';
import SystemChoice from '../../../ui/SystemChoice.vue';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';

const store = useProject();
const cloud = ref(0);
const classes = ref<number[]>([]);
const strips = ref<number[]>([]);
const withRejected = ref(false);
const format = ref<'las' | 'laz' | 'ply' | 'ply-text' | 'csv'>('las');
const tiles = ref({ split: 'one' as 'one' | 'strips' | 'tiles', tileM: 100, bufferM: 0, capPoints: 5_000_000 });
const FORMATS = {
  las: ['LAS 1.4', 'every attribute'],
  laz: ['LAZ, compressed', 'every attribute'],
  ply: ['PLY, binary', 'coordinates about a shift, intensity, class, strip, colour and time'],
  'ply-text': ['PLY, text', 'coordinates, intensity, class, strip, colour and time'],
  csv: ['CSV with named columns', 'every attribute but flags and scan angle'],
} as const;
const other = ref(false);
const horizontal = ref(0);
const vertical = ref(5773);
const plain = computed(() => format.value === 'las' || format.value === 'laz');
watch(plain, (p) => {
  if (!p) tiles.value.split = 'one';
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
const counts = computed(() => (chosen.value?.revision.content.countsByClass ?? {}) as Record<string, number>);
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
const start = () =>
  store.run(
    'export-cloud',
    { cloud: cloud.value },
    {
      ...{ classes: classes.value, strips: strips.value, withRejected: withRejected.value },
      ...{ format: format.value, ...tiles.value },
      ...(other.value && horizontal.value
        ? { system: `EPSG:${horizontal.value}${vertical.value ? `+${vertical.value}` : ''}` }
        : {}),
    },
  );
</script>

<template>
  <section>
    <h3>Points to a file</h3>
    <el-form novalidate label-position="top" @submit.prevent="start">
      <el-form-item label="Cloud"
        ><el-select v-model="cloud"
          ><el-option v-for="d in clouds" :key="d.id" :value="d.id" :label="d.name" /></el-select
      ></el-form-item>
      <el-form-item label="Classes (none chosen: all)"
        ><el-select v-model="classes" multiple
          ><el-option
            v-for="c in Object.keys(counts)"
            :key="c"
            :value="Number(c)"
            :label="className(Number(c))" /></el-select
      ></el-form-item>
      <el-form-item v-if="stripList.length" label="Strips (none chosen: all)"
        ><el-select v-model="strips" multiple
          ><el-option v-for="s in stripList" :key="s" :value="s" :label="`strip ${s}`" /></el-select
      ></el-form-item>
      <el-checkbox v-model="withRejected" label="With rejected points" />
      <el-form-item label="Format"
        ><el-select v-model="format"
          ><el-option v-for="(f, k) in FORMATS" :key="k" :value="k" :label="f[0]" /></el-select
      ></el-form-item>
      <el-checkbox v-model="other" label="In another coordinate system" />
      <SystemChoice v-if="other" v-model:horizontal="horizontal" v-model:vertical="vertical" label="System" />
      <el-form-item v-if="plain" label="Files"
        ><el-select v-model="tiles.split"
          ><el-option value="one" label="one file" /><el-option
            v-if="stripList.length > 1"
            value="strips"
            label="a file for each strip" /><el-option
            value="tiles"
            label="square tiles under a cap of points" /></el-select
      ></el-form-item>
      <template v-if="tiles.split === 'tiles'">
        <SettingsForm
          v-model="tiles"
          :schema="OPERATIONS['export-cloud'].settings"
          :only="['tileM', 'bufferM', 'capPoints']"
        />
      </template>
      <p class="soft">
        Up to <Num :value="expected" /> points with {{ FORMATS[format][1] }}. The result says how many were left out and
        why.
      </p>
      <el-button native-type="submit" :disabled="!cloud || (other && !horizontal)">{{
        tiles.split === 'one' ? 'Write the file' : 'Write the files'
      }}</el-button>
    </el-form>
  </section>
</template>

<style scoped>
h3 {
  margin-bottom: 4px;
}
</style>
