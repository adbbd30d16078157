<script lang="ts">
import { type BaseFrame, type PlateName, type ResultFrame } from '@longheron/contract/operations/position';
/** Vertical height of the reference point from a slant to the rim; null while it makes no sense. */
export function verticalOf(f: { slantM: number | undefined; rimRadiusM: number; rimAboveM: number }): number | null {
  const s = f.slantM;
  if (typeof s !== 'number' || s <= f.rimRadiusM) return null;
  return Math.sqrt(s * s - f.rimRadiusM * f.rimRadiusM) - f.rimAboveM;
}
</script>

<script setup lang="ts">
import { FRAMES, PLATES, RESULT_FRAMES } from '@longheron/contract/operations/position';
import { computed } from 'vue';
import {
  formatAngle,
  geodeticToEcef,
  GRS80,
  DEG,
  parseAngle,
  carryPlace,
  frameOfCode,
  internationalFrame,
} from '@longheron/core/frames';
import { decimalYear, unixFromGps } from '@longheron/core/time';
import { type Mark } from '@longheron/core/accuracy';
import { type DatasetDto, factsOf, isAboveGeoidIn } from '@longheron/contract/api';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import NumberField from '../../../ui/NumberField.vue';
import { useUnits } from '../../../ui/units';

/** Where the base's marker is, and how high its antenna stands on it. */
export interface BasePositionForm {
  from: 'header' | 'typed' | 'mark' | 'mean';
  latitude: string;
  longitude: string;
  heightM: number | undefined;
  /** List and name of the mark it stands on. */
  marks: number;
  mark: string;
  /** Frame of the coordinates, and their epoch when it is an international one. */
  frame: BaseFrame;
  epoch: number;
  /** Frame of the trajectory by its code, and the plate that the base stands on. */
  resultFrame: ResultFrame;
  plate: PlateName;
  /** What the typed height is above. */
  heightKind: 'ellipsoidal' | 'project';
  antennaFrom: 'header' | 'typed' | 'slant';
  /** Slant to the rim, its radius and how far it lies above the reference point, metres. */
  slantM: number | undefined;
  rimRadiusM: number;
  rimAboveM: number;
  antennaHeightM: number | undefined;
}
const form = defineModel<BasePositionForm>({ required: true });
const props = defineProps<{ base: DatasetDto | undefined }>();

const store = useProject();
const { length, small } = useUnits();
const choices = computed(() =>
  store
    .ofKind('marks')
    .flatMap((d) =>
      ((d.revision.content.marks as Mark[] | undefined) ?? [])
        .filter((m) => !m.leftOutReason)
        .map((m) => ({ key: `${d.id} ${m.name}`, list: d, mark: m })),
    ),
);
const markKey = computed({
  get: () => (form.value.mark ? `${form.value.marks} ${form.value.mark}` : ''),
  set: (key: string) => {
    const found = choices.value.find((c) => c.key === key);
    form.value.marks = found?.list.id ?? 0;
    form.value.mark = found?.mark.name ?? '';
  },
});
const onMark = computed(() => choices.value.find((c) => c.key === markKey.value)?.mark);
const facts = computed(() => factsOf(props.base));
const header = computed(() => facts.value?.extent?.min);
const headerHeight = computed(
  () => facts.value?.details.find(([k]) => k === 'Antenna height')?.[1].split(',')[0] ?? 'not stated',
);
const antenna = computed(() => facts.value?.details.find(([k]) => k === 'Antenna')?.[1].trim() || 'not named');

function angle(text: string, axis: 'latitude' | 'longitude'): { deg: number | null; says: string } {
  if (!text.trim()) return { deg: null, says: '' };
  try {
    const deg = parseAngle(text, axis);
    return { deg, says: `${deg.toFixed(9)}° = ${formatAngle(deg, axis, 5)}` };
  } catch (e) {
    return { deg: null, says: (e as Error).message };
  }
}
const latitude = computed(() => angle(form.value.latitude, 'latitude'));
const longitude = computed(() => angle(form.value.longitude, 'longitude'));
/** From the position of the header, metres: a slip of the hand shows here before anything runs. */
const away = computed(() => {
  const h = header.value;
  const { deg: lat } = latitude.value;
  const { deg: lon } = longitude.value;
  if (!h || lat === null || lon === null || form.value.heightM === undefined) return null;
  const a = geodeticToEcef(GRS80, h[1] * DEG, h[0] * DEG, h[2]);
  // a height of the project's system is compared by plan alone: the header's is ellipsoidal
  const height = form.value.heightKind === 'project' ? h[2] : form.value.heightM;
  const b = geodeticToEcef(GRS80, lat * DEG, lon * DEG, height);
  return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
});
const vertical = computed(() => verticalOf(form.value));
/** How far the base is moved into the frame of the trajectory, metres, or why it cannot be. */
const moved = computed((): { byM: number } | { why: string } | null => {
  const { frame, epoch, resultFrame, plate } = form.value;
  const h = header.value;
  if (!h || frame === 'ETRS89') return null;
  const at = geodeticToEcef(GRS80, h[1] * DEG, h[0] * DEG, h[2]);
  const day = facts.value?.startGps;
  try {
    const from = internationalFrame(frame, epoch);
    const to = frameOfCode(resultFrame, from.frame)!;
    const then = typeof day === 'number' ? decimalYear(new Date(1000 * unixFromGps(day))) : epoch;
    const motion = plate === 'unknown' ? undefined : { plate };
    return { byM: carryPlace(at, from, { frame: to, epoch: then }, motion).byM };
  } catch (error) {
    return { why: (error as Error).message };
  }
});
const result = computed(() => `${RESULT_FRAMES[form.value.resultFrame]} (${form.value.resultFrame})`);
</script>

<template>
  <el-radio-group v-model="form.from" class="choices" aria-label="Position of the base">
    <el-radio value="header">Base where its header says</el-radio>
    <el-radio value="typed">Base at a typed position</el-radio>
    <el-radio value="mark" :disabled="choices.length === 0">Base on a mark of the project</el-radio>
    <el-radio value="mean">Base at the mean of its own codes</el-radio>
  </el-radio-group>
  <p v-if="form.from === 'header' && header" class="soft mono">
    {{ header[1].toFixed(7) }}° {{ header[0].toFixed(7) }}° {{ header[2].toFixed(3) }} m
  </p>
  <template v-if="form.from === 'mark'">
    <el-select v-model="markKey" filterable placeholder="Choose the mark" aria-label="Mark of the base"
      ><el-option
        v-for="c in choices"
        :key="c.key"
        :value="c.key"
        :label="`${c.mark.name}, ${c.mark.role} (${c.list.name})`"
    /></el-select>
    <p v-if="onMark" class="soft mono">
      E {{ onMark.eastingM.toFixed(3) }} N {{ onMark.northingM.toFixed(3) }} H {{ onMark.heightM.toFixed(3) }} m
    </p>
    <p class="soft">In the system of the project; its height is carried to the ellipsoid by the project’s geoid.</p>
  </template>
  <p v-if="form.from === 'mean'" class="state warn wrap">
    Weak: the whole trajectory is off by the same one to two metres.
  </p>
  <div v-if="form.from === 'typed'" class="base">
    <label class="field"
      >Latitude<el-input
        v-model="form.latitude"
        placeholder="56 04 51.42 N or 56.0809500"
        aria-label="Latitude of the base"
    /></label>
    <p class="soft mono">{{ latitude.says }}</p>
    <label class="field"
      >Longitude<el-input
        v-model="form.longitude"
        placeholder="8 28 20.53 E or 8.4723700"
        aria-label="Longitude of the base"
    /></label>
    <p class="soft mono">{{ longitude.says }}</p>
    <NumberField v-model="form.heightM" label="Height of the marker, m" name="Height of the base" :digits="4" />
    <div class="field">
      above<el-select v-model="form.heightKind" aria-label="What the height is above"
        ><el-option value="ellipsoidal" label="the ellipsoid" /><el-option
          value="project"
          :label="store.project?.reference?.verticalName ?? 'the project’s zero'"
          :disabled="!store.project?.reference || !isAboveGeoidIn(store.project.reference)"
      /></el-select>
    </div>
    <p v-if="away !== null" :class="away > 50 ? 'state warn wrap' : 'soft'">
      <Num v-if="away < 1000 || length.symbol !== 'm'" :value="length.of(away)" :digits="2" :unit="length.symbol" /><Num
        v-else
        :value="away / 1000"
        :digits="1"
        unit="km"
      />
      from the position in its header{{ form.heightKind === 'project' ? ', in plan' : '' }}.
    </p>
  </div>
  <div v-if="form.from === 'header' || form.from === 'typed'" class="base">
    <div class="field">
      Frame of these coordinates<el-select v-model="form.frame" aria-label="Frame of the base"
        ><el-option v-for="(label, frame) in FRAMES" :key="frame" :value="frame" :label="label"
      /></el-select>
    </div>
    <NumberField
      v-if="form.frame !== 'ETRS89'"
      v-model="form.epoch"
      label="of epoch (year)"
      name="Epoch of the base"
      :digits="2"
      :min="1980"
      :max="2100"
    />
    <div v-if="form.frame !== 'ETRS89'" class="field">
      It stands on the plate<el-select v-model="form.plate" aria-label="Plate of the base"
        ><el-option v-for="(label, plate) in PLATES" :key="plate" :value="plate" :label="label"
      /></el-select>
    </div>
  </div>
  <div class="base">
    <div class="field">
      The trajectory is in<el-select v-model="form.resultFrame" aria-label="Frame of the trajectory"
        ><el-option v-for="(label, code) in RESULT_FRAMES" :key="code" :value="code" :label="`${label} (${code})`"
      /></el-select>
    </div>
    <p v-if="moved && 'why' in moved" class="state warn wrap">{{ moved.why }}</p>
    <p v-else class="soft">
      <template v-if="moved"
        >The base is brought to {{ result }},
        <Num :value="small.of(moved.byM)" :digits="small.digits" :unit="small.symbol" /> away.</template
      ><template v-else>Base and trajectory are both in {{ result }}.</template>
    </p>
  </div>
  <el-radio-group v-model="form.antennaFrom" class="choices" aria-label="Antenna height of the base">
    <el-radio value="header">Antenna height of the header: {{ headerHeight }}</el-radio>
    <el-radio value="typed">Antenna height typed, vertical</el-radio>
    <el-radio value="slant">Antenna height typed, slant to the rim</el-radio>
  </el-radio-group>
  <NumberField
    v-if="form.antennaFrom === 'typed'"
    v-model="form.antennaHeightM"
    label="Vertical, marker to reference point, m"
    name="Antenna height of the base, typed"
    :digits="4"
    :min="0"
    :max="50"
  />
  <div v-if="form.antennaFrom === 'slant'" class="base">
    <NumberField
      v-model="form.slantM"
      label="Slant, marker to the rim, m"
      name="Slant antenna height"
      :digits="4"
      :min="0"
      :max="50"
    />
    <NumberField
      v-model="form.rimRadiusM"
      label="Radius of the rim, m"
      name="Radius of the rim"
      :digits="4"
      :min="0"
      :max="1"
    />
    <NumberField
      v-model="form.rimAboveM"
      label="Rim above the reference point, m"
      name="Rim above the reference point"
      :digits="4"
      :min="-1"
      :max="1"
    />
    <p :class="vertical === null ? 'state warn wrap' : 'soft'">
      {{
        vertical === null
          ? 'The slant is not longer than the radius of the rim.'
          : `Vertical, to the reference point: ${vertical.toFixed(4)} m.`
      }}
    </p>
  </div>
  <p class="soft">Antenna of the base: {{ antenna }}.</p>
</template>

<style scoped>
.choices {
  display: grid;
}
.base {
  display: grid;
  gap: 2px;
  margin: 4px 0 8px;
}
.field {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  font-size: 12px;
}
.field .el-input {
  flex: none;
  width: 176px;
}
.field .el-select {
  flex: none;
  width: 130px;
}
p {
  margin: 0 0 4px;
  font-size: 12px;
}
.mono {
  font-family: var(--mono);
  font-size: 12px;
}
.wrap {
  white-space: normal;
}
</style>
