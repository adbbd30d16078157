<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { type DatasetDto, type DatasetOf } from '@longheron/contract/api';
import { inertialDefaults, PLATFORMS, type Platform } from '@longheron/core/inertial';
import { formatGps } from '@longheron/core/time';
import { type Given } from '@longheron/contract/declare';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import { mountingFor, overlapShare, platformOf, proposedBase, recorded } from '../receivers';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

/** Every session of a moving receiver, computed in one go with a base each; and several made into one. */
const store = useProject();
const display = computed(() => store.project?.reference?.time ?? 'gps');
const observations = computed(() => store.ofKind('gnss-observations'));
const detail = (d: DatasetDto, key: string) =>
  recorded(d)
    .details.find(([k]) => k === key)?.[1]
    .trim() ?? '';
const computedOnes = computed(() => store.ofKind('trajectory', 'position'));
const servedAs = (role: string, d: DatasetDto) =>
  computedOnes.value.some((t) => t.revision.inputs.some((i) => i.role === role && i.datasetId === d.id));
/** What stands still: what served as base, and what has its antenna on a mark, as far as the header tells. */
const saidToRest = ref<Record<number, boolean>>({});
const atRest = (d: DatasetDto) =>
  saidToRest.value[d.id] ??
  (servedAs('base', d) ||
    (!servedAs('rover', d) && (parseFloat(detail(d, 'Antenna height')) > 0 || /^VIRTUAL/.test(detail(d, 'Antenna')))));
const bases = computed(() => observations.value.filter(atRest));
const chosenBase = ref<Record<number, number>>({});
const chosenMounting = ref<Record<number, number>>({});
const chosenPlatform = ref<Record<number, Platform>>({});
const mountings = computed(() => store.ofKind('mounting'));
const rows = computed(() =>
  observations.value
    .filter((d) => !atRest(d))
    .map((d) => {
      const others = bases.value.filter((o) => o.id !== d.id);
      const proposal = proposedBase(d, others);
      const base = chosenBase.value[d.id] ?? proposal ?? 0;
      const unit = store.ofKind('inertial').find((u) => overlapShare(recorded(d), recorded(u)) > 0.5);
      const mounting = chosenMounting.value[d.id] ?? mountingFor(mountings.value, unit?.name ?? d.name);
      const platform = chosenPlatform.value[d.id] ?? platformOf(d.name);
      const made = store
        .ofKind('trajectory', 'position')
        .findLast((t) => t.revision.inputs.some((i) => i.role === 'rover' && i.datasetId === d.id));
      return { d, others, base, unit, mounting, platform, made };
    }),
);
const picked = ref<number[]>([]);
/** Share fixed, and 1 SD in plan and height, of a computed one. */
const quality = (t: DatasetOf<'trajectory'> | undefined) => {
  const f = t?.revision.content.figures;
  return (
    f && { fixed: f.fixed_share ?? NaN, planM: Math.hypot(f.sd_n_m ?? NaN, f.sd_e_m ?? NaN), heightM: f.sd_d_m ?? NaN }
  );
};

function platformSettings(platform: Platform): Given {
  const { standstill, noSlip } = inertialDefaults(platform);
  return { platform, standstill, noSlip };
}

/** Settings of the base that an earlier computation with it had: its position is known once for all. */
function baseSettings(base: number): Given {
  const before = store
    .ofKind('trajectory', 'position')
    .findLast((t) => t.revision.inputs.some((i) => i.role === 'base' && i.datasetId === base));
  const run = before && store.runs.find((r) => r.operation === 'position' && r.outputs.includes(before.id));
  const keep = [
    'baseLatDeg',
    'baseLonDeg',
    'baseHEllM',
    'baseHeightKind',
    'baseMean',
    'antennaHeightM',
    'baseFrame',
    'baseEpoch',
    'basePlate',
    'frame',
  ];
  return Object.fromEntries(Object.entries(run?.settings ?? {}).filter(([k]) => keep.includes(k)));
}
async function computeAll(): Promise<void> {
  for (const r of rows.value) {
    if (!picked.value.includes(r.d.id) || !r.base) continue;
    const unit: Record<string, number> = r.unit && r.mounting ? { inertial: r.unit.id, antenna: r.mounting } : {};
    await store.run(
      'position',
      {
        rover: r.d.id,
        base: r.base,
        navigation: store.ofKind('gnss-navigation').map((d) => d.id),
        calibrations: store.ofKind('gnss-antennas').map((d) => d.id),
        ...unit,
      },
      { ...baseSettings(r.base), ...(unit.inertial ? platformSettings(r.platform) : {}) },
      r.made?.id,
    );
  }
}
/** Not proposed: what was recorded beside a session that is computed already, by the same marker. */
const beside = (d: DatasetDto) =>
  rows.value.some(
    (r) =>
      r.made &&
      r.d.id !== d.id &&
      detail(r.d, 'Marker') === detail(d, 'Marker') &&
      overlapShare(recorded(d), recorded(r.d)) > 0.5,
  );
watch(
  () => rows.value.map((r) => r.d.id).join(),
  () => (picked.value = rows.value.filter((r) => !r.made && !beside(r.d)).map((r) => r.d.id)),
  { immediate: true },
);

const trajectories = computed(() => store.ofKind('trajectory').filter((d) => !d.revision.content.joined));
const parts = ref<number[]>([]);
const joined = computed(() => store.ofKind('trajectory').filter((d) => d.revision.content.joined));
const points = computed(() => [
  ...new Set(
    parts.value.map((id) => store.ofKind('trajectory').find((d) => d.id === id)?.revision.content.point ?? 'imu'),
  ),
]);
const message = computed(() =>
  points.value.length > 1 ? 'An antenna’s trajectory and that of an inertial unit are of different points.' : '',
);
</script>

<template>
  <h2>Sessions</h2>
  <p v-if="rows.length === 0" class="soft">
    No session yet: take in the observations of a receiver that moved, and of a base.
  </p>
  <template v-else>
    <p class="soft">
      Each with the nearest base that covers it; a base’s position is taken from where it was used before.
    </p>
    <div v-for="r in rows" :key="r.d.id" class="session">
      <el-checkbox v-model="picked" :value="r.d.id" :label="r.d.name" :aria-label="r.d.name" />
      <FactList>
        <Fact label="Time"
          ><span class="mono">
            {{ formatGps(recorded(r.d).startGps, display, 0).slice(11) }} to
            {{ formatGps(recorded(r.d).endGps, display, 0).slice(11) }}
          </span></Fact
        >
        <Fact label="Base">
          <el-select
            :model-value="r.base"
            size="small"
            placeholder="none covers it"
            :aria-label="`Base of ${r.d.name}`"
            @update:model-value="chosenBase = { ...chosenBase, [r.d.id]: $event }"
            ><el-option v-for="o in r.others" :key="o.id" :value="o.id" :label="o.name"
          /></el-select>
        </Fact>
        <Fact label="Inertial">{{ r.unit?.name ?? 'none of that time' }}</Fact>
        <Fact v-if="r.unit" label="Mounting">
          <el-select
            :model-value="r.mounting"
            size="small"
            :aria-label="`Mounting of ${r.d.name}`"
            @update:model-value="chosenMounting = { ...chosenMounting, [r.d.id]: $event }"
            ><el-option v-for="m in mountings" :key="m.id" :value="m.id" :label="m.name"
          /></el-select>
          <el-select
            :model-value="r.platform"
            size="small"
            :aria-label="`Platform of ${r.d.name}`"
            @update:model-value="chosenPlatform = { ...chosenPlatform, [r.d.id]: $event }"
            ><el-option v-for="p in PLATFORMS" :key="p" :value="p" :label="p"
          /></el-select>
        </Fact>
        <Fact label="Result"
          ><span v-if="r.made && quality(r.made)">
            {{ r.made.name }}: <Num :value="100 * quality(r.made)!.fixed" :digits="1" unit="%" /> fixed,
            <Num :value="1000 * quality(r.made)!.planM" :digits="1" unit="mm" />
            plan,
            <Num :value="1000 * quality(r.made)!.heightM" :digits="1" unit="mm" /> height (1 SD) </span
          ><span v-else class="soft">not computed yet</span></Fact
        >
      </FactList>
    </div>
    <el-button type="primary" :disabled="picked.length === 0" @click="computeAll"
      >Compute {{ picked.length }} {{ picked.length === 1 ? 'session' : 'sessions' }}</el-button
    >
  </template>
  <template v-if="trajectories.length > 1">
    <h3>Several as one</h3>
    <p class="soft">Following sessions of the same frame and point; gaps between them stay gaps.</p>
    <el-checkbox-group v-model="parts" class="parts"
      ><el-checkbox v-for="d in trajectories" :key="d.id" :value="d.id" :label="d.name"
    /></el-checkbox-group>
    <p v-if="message" class="state bad wrap">{{ message }}</p>
    <el-button :disabled="parts.length < 2 || !!message" @click="store.run('join', { parts }, {})"
      >Join {{ parts.length > 1 ? parts.length : '' }}</el-button
    >
    <template v-for="j in joined" :key="j.id">
      <p>
        <strong>{{ j.name }}</strong>
      </p>
      <FactList>
        <Fact
          v-for="p in j.revision.content.joined as Array<{ name: string; epochs: number }>"
          :key="p.name"
          :label="p.name"
          ><span class="r"><Num :value="p.epochs" unit="epochs" /></span
        ></Fact>
        <Fact
          v-for="o in j.revision.content.overlaps as Array<{
            first: string;
            second: string;
            length_s: number;
            apart_m: number;
          }>"
          :key="o.first"
          ><template #label>overlap of {{ o.first }} and {{ o.second }}</template
          ><span class="r">
            <Num :value="o.length_s" unit="s" />, <Num :value="1000 * o.apart_m" unit="mm" /> apart at most
          </span></Fact
        >
      </FactList>
    </template>
  </template>
  <template v-if="observations.length">
    <h3>At rest, serving as base</h3>
    <el-checkbox
      v-for="d in observations"
      :key="d.id"
      :model-value="atRest(d)"
      :label="d.name"
      class="rest"
      @update:model-value="saidToRest = { ...saidToRest, [d.id]: $event === true }"
    />
  </template>
</template>

<style scoped>
.session {
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
.figures {
  table-layout: fixed;
}
.figures td:first-child {
  width: 56px;
}
.figures td {
  white-space: normal;
  overflow-wrap: anywhere;
  padding: 2px 3px;
  font-size: 12px;
  vertical-align: top;
}
.mono {
  font-family: var(--mono);
}
.rest {
  display: flex;
}
.parts {
  display: grid;
}
.wrap {
  white-space: normal;
}
</style>
