<script setup lang="ts">
import { computed, ref } from 'vue';
import { AddMark, check, Locate } from '@longheron/contract/requests';
import { isAboveGeoidIn, type LocatedDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

/** A mark typed in: project coordinates, or latitude and longitude shown back in every form before it is taken. */
const open = defineModel<boolean>({ required: true });
const store = useProject();
const way = ref<'project' | 'geographic'>('project');
const mark = ref({
  name: '',
  role: 'check' as 'control' | 'check' | 'unused',
  // in the project's unit until they are sent
  easting: undefined as number | undefined,
  northing: undefined as number | undefined,
  height: undefined as number | undefined,
  sdH: undefined as number | undefined,
  note: '',
});
const place = ref({
  latitude: '',
  longitude: '',
  height: undefined as number | undefined,
  heightIs: 'ellipsoidal' as 'ellipsoidal' | 'project',
});
const { length } = useUnits();
const symbol = computed(() => length.value.symbol);
const metres = (v: number | null | undefined) => (typeof v === 'number' ? v / length.value.factor : undefined);
const located = ref<LocatedDto | null>(null);
const message = ref('');

async function locate(): Promise<void> {
  located.value = null;
  message.value = '';
  // while one of the two is still to come there is nothing to say
  if (!place.value.latitude.trim() || !place.value.longitude.trim()) return;
  const { height, ...rest } = place.value;
  const body = { ...rest, heightM: metres(height) };
  const checked = check(Locate, body);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  try {
    located.value = await api.post<LocatedDto>(`/projects/${store.project!.id}/locate`, body);
  } catch (e) {
    message.value = (e as Error).message;
  }
}
async function save(): Promise<void> {
  const { name, role, note, easting, northing, height, sdH } = mark.value;
  const body = {
    name,
    role,
    note: note || undefined,
    sdHM: metres(sdH),
    eastingM: metres(easting),
    northingM: metres(northing),
    heightM: metres(height),
  };
  if (way.value === 'geographic') {
    if (!located.value) await locate();
    const l = located.value;
    if (!l) {
      message.value ||= 'Type latitude and longitude.';
      return;
    }
    if (l.heightM === null) {
      message.value = 'Type the height, and say what it refers to.';
      return;
    }
    Object.assign(body, { eastingM: l.eastingM, northingM: l.northingM, heightM: l.heightM });
  }
  const checked = check(AddMark, body);
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  const good = await store.attempt(
    () => api.post(`/projects/${store.project!.id}/marks`, body),
    `Mark ${body.name} is added to "Marks typed in".`,
  );
  if (good) {
    open.value = false;
    mark.value.name = '';
    located.value = null;
  }
}
</script>

<template>
  <el-drawer v-model="open" :modal="false" modal-penetrable title="Type in a mark" size="380px">
    <p v-if="!store.project?.reference" class="state warn wrap">Set the reference line first.</p>
    <el-form v-else novalidate label-position="top" @submit.prevent="save">
      <el-form-item label="Name"><el-input v-model="mark.name" maxlength="60" /></el-form-item>
      <el-form-item label="Role"
        ><el-select v-model="mark.role"
          ><el-option v-for="r in ['control', 'check', 'unused']" :key="r" :value="r" :label="r" /></el-select
      ></el-form-item>
      <el-radio-group v-model="way">
        <el-radio value="project">Project coordinates</el-radio>
        <el-radio value="geographic">Latitude and longitude</el-radio>
      </el-radio-group>
      <template v-if="way === 'project'">
        <el-form-item :label="`Easting, ${symbol}`"
          ><el-input-number v-model="mark.easting" :controls="false" :precision="4"
        /></el-form-item>
        <el-form-item :label="`Northing, ${symbol}`"
          ><el-input-number v-model="mark.northing" :controls="false" :precision="4"
        /></el-form-item>
        <el-form-item
          :label="`Height, ${symbol}, ${isAboveGeoidIn(store.project.reference) ? store.project.reference.verticalName : 'ellipsoidal'}`"
          ><el-input-number v-model="mark.height" :controls="false" :precision="4"
        /></el-form-item>
      </template>
      <template v-else>
        <el-form-item label="Latitude"
          ><el-input v-model="place.latitude" placeholder="56 04 48.2 N, or 56.0801" @change="locate"
        /></el-form-item>
        <el-form-item label="Longitude"
          ><el-input v-model="place.longitude" placeholder="8 28 12.5 E, or 8.4701" @change="locate"
        /></el-form-item>
        <el-form-item :label="`Height, ${symbol}`"
          ><el-input-number v-model="place.height" :controls="false" :precision="4" @change="locate"
        /></el-form-item>
        <el-radio-group v-model="place.heightIs" @change="locate">
          <el-radio value="ellipsoidal">above the ellipsoid</el-radio>
          <el-radio value="project">in the project's height reference</el-radio>
        </el-radio-group>
        <FactList v-if="located">
          <Fact label="Understood as"
            ><span class="mono">{{ located.latText }}<br />{{ located.lonText }}</span></Fact
          >
          <Fact label="Decimal"
            ><span class="mono">{{ located.latDeg.toFixed(8) }}°<br />{{ located.lonDeg.toFixed(8) }}°</span></Fact
          >
          <Fact label="Project">
            <Num :value="length.of(located.eastingM)" :digits="3" :unit="`${symbol} E`" /><br /><Num
              :value="length.of(located.northingM)"
              :digits="3"
              :unit="`${symbol} N`"
            />
          </Fact>
          <Fact v-if="located.heightM !== null" label="Height; ellipsoidal">
            <Num :value="length.of(located.heightM)" :digits="3" :unit="symbol" />;
            <Num :value="length.of(located.hEllM)" :digits="3" :unit="symbol" />
            (geoid at <Num :value="length.of(located.undulationM)" :digits="2" :unit="symbol" />)
          </Fact>
          <Fact v-if="located.distanceM !== null" label="From the trajectories">
            <Num :value="length.of(located.distanceM)" :unit="symbol" />
            <span v-if="located.distanceM > 20000" class="state warn">far away: check signs and order</span>
          </Fact>
        </FactList>
      </template>
      <el-form-item :label="`SD of height, ${symbol} (1 SD, if known)`"
        ><el-input-number v-model="mark.sdH" :min="0" :max="10" :precision="4" :controls="false"
      /></el-form-item>
      <el-form-item label="Note (grass, field and the like make it a soft one)"
        ><el-input v-model="mark.note" maxlength="200"
      /></el-form-item>
      <p v-if="message" class="state bad wrap">{{ message }}</p>
      <el-button type="primary" native-type="submit">Add the mark</el-button>
    </el-form>
  </el-drawer>
</template>

<style scoped>
.wrap {
  white-space: normal;
}
</style>
