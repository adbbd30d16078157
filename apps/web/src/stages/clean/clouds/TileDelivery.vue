<script setup lang="ts">
import { computed, ref } from 'vue';
import { deliveryWords, type DeliveredTile, type DeliveryFault } from '@longheron/core/cloud';
import { useProject } from '../../../stores/project';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import Num from '../../../ui/Num.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import { useSettings } from '../../../ui/settings';
import SettingsForm from '../../../ui/SettingsForm.vue';
import FigureTable from '../../../ui/FigureTable.vue';

/** Tiles that came from elsewhere, checked before they are merged: against their index, and against each other. */
const store = useProject();
const clouds = computed(() => store.ofKind('point-cloud', 'gather').filter((d) => d.revision.content.index));
const outlines = computed(() => store.ofKind('outlines'));
const chosen = ref<number[]>([]);
const index = ref(0);
const latest = computed(() => store.latest('delivery'));
const { declaration, settings } = useSettings('delivery', () => latest.value);
const content = computed(() => latest.value?.revision.content);
const start = () =>
  store.run(
    'delivery',
    { clouds: chosen.value, ...(index.value ? { outlines: index.value } : {}) },
    settings.value,
    latest.value?.id,
  );

const FAULTS: Record<DeliveryFault, string> = {
  missing: 'missing',
  unlisted: 'not in the index',
  count: 'other count',
  outside: 'outside its outline',
  duplicate: 'twice',
  cap: 'cap reached',
  overlap: 'over each other',
  gap: 'open seam',
  hole: 'hole',
};
const at = ref<number | null>(null);
/** The map: metres, north up. */
const map = computed(() => {
  const c = content.value;
  if (!c) return null;
  const boxes = [
    ...c.tiles.map((t) => t.bounds),
    ...(c.index ?? []).flatMap((t) => (t.bounds ? [t.bounds] : [])),
    ...c.check.findings.flatMap((f) => (f.at ? [f.at] : [])),
  ];
  if (!boxes.length) return null;
  const least = (k: number) => Math.min(...boxes.map((b) => b[k]));
  const most = (k: number) => Math.max(...boxes.map((b) => b[k]));
  const [w, s, e, n] = [least(0), least(1), most(2), most(3)];
  const spare = 0.03 * Math.max(e - w, n - s, 1);
  const rect = ([x0, y0, x1, y1]: DeliveredTile['bounds']) => ({
    x: x0 - w,
    y: n - y1,
    width: x1 - x0,
    height: y1 - y0,
  });
  const thin = Math.max(e - w, n - s) / 80;
  /** A gap may be too narrow to be seen: it is drawn no thinner than a line. */
  const wide = (r: ReturnType<typeof rect>) => ({
    ...r,
    width: Math.max(r.width, thin),
    height: Math.max(r.height, thin),
  });
  return {
    viewBox: `${-spare} ${-spare} ${e - w + 2 * spare} ${n - s + 2 * spare}`,
    tiles: c.tiles.map((t) => ({ name: t.name, points: t.points, ...rect(t.bounds) })),
    faults: c.check.findings.flatMap((f, i) => (f.at ? [{ i, f, ...wide(rect(f.at)) }] : [])),
  };
});
</script>

<template>
  <p class="soft">
    Counts and corners of tiles that were imported, against their index (GeoJSON) and against each other: what is
    missing, twice, cut off at a cap, or does not join.
  </p>
  <p v-if="clouds.length < 2" class="soft">Import two clouds or more.</p>
  <el-form v-else novalidate label-position="top" @submit.prevent="start">
    <DatasetChoice
      v-model="chosen"
      label="Tiles"
      :datasets="clouds"
      several
      collapse
      placeholder="Choose two or more"
    />
    <p class="soft">
      <el-button link @click="chosen = clouds.map((d) => d.id)">All {{ clouds.length }} that were imported</el-button>
    </p>
    <DatasetChoice v-model="index" label="Index" :datasets="outlines" none="none came with them" />
    <SettingsForm v-model="settings" :schema="declaration.settings" />
    <el-button type="primary" native-type="submit" :disabled="chosen.length < 2">Check the tiles</el-button>
  </el-form>
  <template v-if="content && latest">
    <OutOfDate :dataset="latest" />
    <p>
      <Num :value="content.check.tiles" /> tiles, <Num :value="content.check.points" /> points, at most
      <Num :value="content.check.mostPoints" /> in one<template v-if="content.check.edgeM"
        >; squares of <Num :value="content.check.edgeM" /> m</template
      ><template v-if="content.check.bufferM"
        >; neighbours share <Num :value="content.check.bufferM" :digits="2" /> m</template
      >.
    </p>
    <p v-if="content.check.findings.length === 0" class="state ok">Nothing is wrong with them.</p>
    <svg v-if="map" :viewBox="map.viewBox" class="map" role="img" aria-label="Map of the tiles, north up">
      <rect
        v-for="t in map.tiles"
        :key="t.name"
        :x="t.x"
        :y="t.y"
        :width="t.width"
        :height="t.height"
        class="tile"
        vector-effect="non-scaling-stroke"
      >
        <title>{{ t.name }}: {{ t.points }} points</title>
      </rect>
      <rect
        v-for="m in map.faults"
        :key="m.i"
        :x="m.x"
        :y="m.y"
        :width="m.width"
        :height="m.height"
        class="fault"
        :class="{ strong: at === m.i }"
        vector-effect="non-scaling-stroke"
        @pointerenter="at = m.i"
        @pointerleave="at = null"
      >
        <title>{{ deliveryWords(m.f) }}</title>
      </rect>
    </svg>
    <FigureTable
      v-if="content.check.findings.length"
      :columns="[
        { key: 'c0', label: 'Fault', value: (f) => FAULTS[f.fault] },
        { key: 'c1', label: 'What', value: (f) => deliveryWords(f) },
      ]"
      :rows="content.check.findings"
      :row-class="(_f, i) => ({ hover: at === i })"
      @enter="(_f, i) => (at = i)"
      @leave="() => (at = null)"
    />
    <p>
      <a :href="`/api/projects/${store.project!.id}/datasets/${latest.id}/export/delivery`">Faults, CSV</a>
    </p>
    <DiscardButton :dataset="latest" label="Discard this check" />
  </template>
</template>

<style scoped>
.map {
  width: 100%;
  max-height: 240px;
  background: var(--mist);
  border: 1px solid var(--line);
  border-radius: 4px;
}
.tile {
  fill: #fff;
  stroke: var(--ink-soft);
  stroke-width: 1px;
}
.fault {
  fill: #a8402e44;
  stroke: var(--clay);
  stroke-width: 1.5px;
}
.fault.strong {
  fill: #a8402eaa;
}
.figures td {
  white-space: normal;
  vertical-align: top;
}
</style>
