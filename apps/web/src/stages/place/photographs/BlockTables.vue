<script setup lang="ts">
import { computed } from 'vue';
import { type BlockFigures } from '@longheron/contract/kinds/block';
import { fromMetres, UNIT_SYMBOL } from '@longheron/core/frames';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import BlockAgainst from './BlockAgainst.vue';
import CameraPictures from './CameraPictures.vue';
import FigureTable from '../../../ui/FigureTable.vue';
import Num from '../../../ui/Num.vue';
import SessionTable from './SessionTable.vue';
import { useUnits } from '../../../ui/units';

/** Marks and distances that prove a block, its cameras against nominal, and what was left out, worst first. */
const props = defineProps<{
  figures: BlockFigures;
  shown: 'marks' | 'cameras' | 'sessions' | 'against' | 'out';
  block: number;
}>();
const { small } = useUnits();
const d = computed(() => small.value.digits + 1);
const marks = computed(() => [
  ...props.figures.control.map((m) => ({ ...m, role: 'control' })),
  ...props.figures.check.map((m) => ({ ...m, role: 'check' })),
]);
const terms = computed(() =>
  Object.entries(props.figures.cameras).flatMap(([camera, c]) => c.terms.map((t) => ({ camera, ...t }))),
);
const cameras = computed(() => Object.entries(props.figures.cameras).map(([name, c]) => ({ name, ...c })));
const reason = (camera: string, term: string) =>
  props.figures.held.find((h) => h.camera === camera && h.term === term.replace('_px', ''))?.reason ?? '';
const store = useProject();
/** The next project with photographs of this body is offered it. */
const keep = (name: string) =>
  store.attempt(
    () =>
      api.put(`/projects/${store.project!.id}/datasets/${props.block}/cameras/${encodeURIComponent(name)}/kept`, {}),
    `${name} is in the library of cameras.`,
  );
const inPixels = (name: string) => name.endsWith('_px');
</script>

<template>
  <template v-if="shown === 'marks'">
    <FigureTable
      v-if="marks.length"
      name="block_marks"
      :columns="[
        { key: 'name', label: 'Mark', value: (m) => m.name },
        { key: 'role', label: 'Role', value: (m) => m.role },
        { key: 'rays', label: 'Picks', right: true, value: (m) => m.rays },
        { key: 'e', label: `East, ${small.symbol}`, right: true, value: (m) => small.of(m.de_m) },
        { key: 'n', label: 'North', right: true, value: (m) => small.of(m.dn_m) },
        { key: 'h', label: 'Height', right: true, value: (m) => small.of(m.dh_m) },
        { key: 'sd', label: 'SD of height', right: true, value: (m) => small.of(m.sd_h_m) },
        { key: 'flag', label: 'State', value: (m) => (m.flagged ? 'does not fit' : '') },
      ]"
      :rows="marks"
      :row-key="(m) => m.name"
    >
      <template #name="{ row: m }">{{ m.name }}</template>
      <template #role="{ row: m }">{{ m.role }}</template>
      <template #rays="{ row: m }"><Num :value="m.rays" /></template>
      <template #e="{ row: m }"><Num :value="small.of(m.de_m)" :digits="d" plus /></template>
      <template #n="{ row: m }"><Num :value="small.of(m.dn_m)" :digits="d" plus /></template>
      <template #h="{ row: m }"><Num :value="small.of(m.dh_m)" :digits="d" plus /></template>
      <template #sd="{ row: m }"><Num :value="small.of(m.sd_h_m)" :digits="d" /></template>
      <template #flag="{ row: m }"><span v-if="m.flagged" class="state warn">does not fit</span></template>
    </FigureTable>
    <p v-else class="soft">No mark is picked. Picks are of a mark where their point has its name.</p>
    <FigureTable
      v-if="figures.distances.length"
      name="block_distances"
      :columns="[
        { key: 'name', label: 'Distance', value: (x) => `${x.from} to ${x.to}` },
        { key: 'use', label: 'Use', value: (x) => x.use },
        { key: 'given', label: 'Taped', right: true, value: (x) => x.given },
        {
          key: 'found',
          label: 'Found',
          right: true,
          value: (x) => (x.found_m === null ? null : fromMetres(x.found_m, x.unit)),
        },
        { key: 'sd', label: '1 SD', right: true, value: (x) => (x.sd_m === null ? null : fromMetres(x.sd_m, x.unit)) },
        { key: 'agrees', label: 'State', value: (x) => (x.agrees === null ? '' : x.agrees ? 'agrees' : 'is off') },
        ...(figures.distances.some((x) => x.note)
          ? [{ key: 'note', label: 'Note', wrap: true, value: (x: BlockFigures['distances'][number]) => x.note }]
          : []),
      ]"
      :rows="figures.distances"
      :row-key="(x) => `${x.from} ${x.to}`"
    >
      <template #name="{ row: x }">{{ x.from }} to {{ x.to }}</template>
      <template #use="{ row: x }">{{ x.use }}</template>
      <template #given="{ row: x }"><Num :value="x.given" :digits="4" :unit="UNIT_SYMBOL[x.unit]" /></template>
      <template #found="{ row: x }"
        ><Num
          :value="x.found_m === null ? null : fromMetres(x.found_m, x.unit)"
          :digits="4"
          :unit="UNIT_SYMBOL[x.unit]"
      /></template>
      <template #sd="{ row: x }"
        ><Num :value="x.sd_m === null ? null : fromMetres(x.sd_m, x.unit)" :digits="4" :unit="UNIT_SYMBOL[x.unit]"
      /></template>
      <template #agrees="{ row: x }"
        ><span v-if="x.agrees !== null" class="state" :class="x.agrees ? 'ok' : 'bad'">{{
          x.agrees ? 'agrees' : 'is off'
        }}</span></template
      >
      <template #note="{ row: x }">{{ x.note }}</template>
    </FigureTable>
  </template>
  <template v-else-if="shown === 'cameras'">
    <div v-for="c in cameras" :key="c.name">
      <p v-if="c.model === 'sphere'" class="soft">
        {{ c.name }}: full panoramas, taken as they were stitched; nothing of the camera is adjusted.
      </p>
      <p v-else class="soft">
        {{ c.name }}: focal length <Num :value="c.focal_change_percent" :digits="2" unit="%" plus /> against the list,
        the picture <Num :value="c.change_rms_px" :digits="1" unit="px" /> RMS,
        <Num :value="c.change_max_px" :digits="1" unit="px" /> at most. A few per cent are usual for a lens that was
        never calibrated.
        <el-button v-if="c.terms.some((t) => t.found)" size="small" class="keep" @click="keep(c.name)"
          >Keep {{ c.name }} in the library</el-button
        >
      </p>
      <CameraPictures v-if="c.model !== 'sphere'" :camera="c" />
    </div>
    <FigureTable
      name="block_cameras"
      :columns="[
        { key: 'camera', label: 'Camera', value: (t) => t.camera },
        { key: 'name', label: 'Term', value: (t) => t.name },
        { key: 'nominal', label: 'Nominal', right: true, value: (t) => t.nominal },
        { key: 'value', label: 'Adjusted', right: true, value: (t) => t.value },
        { key: 'sd', label: '1 SD', right: true, value: (t) => t.sd },
        { key: 'held', label: 'State', value: (t) => reason(t.camera, t.name) },
      ]"
      :rows="terms"
      :row-key="(t) => `${t.camera} ${t.name}`"
      :row-class="(t) => ({ soft: !t.found })"
    >
      <template #camera="{ row: t }">{{ t.camera }}</template>
      <template #name="{ row: t }">{{ t.name.replace('_px', ', px') }}</template>
      <template #nominal="{ row: t }"><Num :value="t.nominal" :digits="inPixels(t.name) ? 2 : 6" /></template>
      <template #value="{ row: t }"><Num :value="t.value" :digits="inPixels(t.name) ? 2 : 6" /></template>
      <template #sd="{ row: t }"><Num :value="t.sd" :digits="inPixels(t.name) ? 2 : 6" /></template>
      <template #held="{ row: t }">{{ t.found ? '' : `held: ${reason(t.camera, t.name)}` }}</template>
    </FigureTable>
  </template>
  <SessionTable v-else-if="shown === 'sessions'" :sessions="figures.sessions ?? []" />
  <BlockAgainst v-else-if="shown === 'against'" :block="block" />
  <template v-else>
    <FigureTable
      v-if="figures.rejected.length"
      name="block_left_out"
      :columns="[
        { key: 'image', label: 'Photograph', value: (r) => r.image },
        { key: 'point', label: 'Point', value: (r) => r.point },
        { key: 'px', label: 'Off, px', right: true, value: (r) => r.residual_px },
        { key: 'test', label: 'In deviations', right: true, value: (r) => r.test },
      ]"
      :rows="figures.rejected"
      :row-key="(r) => `${r.image} ${r.point}`"
    >
      <template #image="{ row: r }">{{ r.image }}</template>
      <template #point="{ row: r }">{{ r.point }}</template>
      <template #px="{ row: r }"><Num :value="r.residual_px" :digits="1" /></template>
      <template #test="{ row: r }"><Num :value="r.test" :digits="1" /></template>
    </FigureTable>
    <p v-else class="soft">All picks fit.</p>
    <p v-for="p in figures.places_out" :key="p.image" class="soft">
      The position of {{ p.image }} is off by
      <Num :value="small.of(Math.hypot(p.de_m, p.dn_m, p.dh_m))" :digits="small.digits" :unit="small.symbol" /> and left
      out.
    </p>
    <p v-for="l in figures.left_out" :key="l.image" class="soft">
      {{ l.image }} could not be oriented: {{ l.reason }}.
    </p>
  </template>
</template>
