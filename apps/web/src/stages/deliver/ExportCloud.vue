<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { useProject } from '../../stores/project';
import { className } from '../../views3d/colouring';
import Num from '../../ui/Num.vue';

const store = useProject();
const cloud = ref(0);
const classes = ref<number[]>([]);
const strips = ref<number[]>([]);
const withRejected = ref(false);
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
/** Strips are known of the cloud itself or of what it was made from. */
const stripList = computed(() => {
  for (let d = chosen.value, i = 0; d && i < 5; i++) {
    const found = (d.revision.content.figures as { strips?: Array<{ id: number }> } | undefined)?.strips;
    if (found) return found.map((s) => s.id);
    const id = d.revision.inputs.find((x) => x.role === 'cloud')?.datasetId;
    d = store.datasets.find((x) => x.id === id);
  }
  return [];
});
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
    { classes: classes.value, strips: strips.value, withRejected: withRejected.value },
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
      <p class="soft">
        Up to <Num :value="expected" /> points, LAS 1.4 with coordinate system, time, strip, echo and precision. The
        result says how many were left out and why.
      </p>
      <el-button native-type="submit" :disabled="!cloud">Write the LAS file</el-button>
    </el-form>
  </section>
</template>

<style scoped>
h3 {
  margin-bottom: 4px;
}
</style>
