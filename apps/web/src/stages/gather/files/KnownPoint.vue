<script setup lang="ts">
import { ref, watch } from 'vue';
import { type DatasetOf, type KnownPointDto } from '@longheron/contract/api';
import { check, KnownPoint } from '@longheron/contract/requests';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import Num from '../../../ui/Num.vue';
import NumberField from '../../../ui/NumberField.vue';
import { useUnits } from '../../../ui/units';

/** Holds a geoid grid against a point whose heights above the ellipsoid and above the sea are both known. */
const props = defineProps<{ dataset: DatasetOf<'geoid'> }>();
const store = useProject();
const { length } = useUnits();
const form = ref({
  latitude: '',
  longitude: '',
  hEll: undefined as number | undefined,
  height: undefined as number | undefined,
});
const verdict = ref<KnownPointDto | null>(null);
const message = ref('');
watch(
  () => props.dataset.id,
  () => {
    verdict.value = null;
    message.value = '';
  },
);
const metres = (v: number | undefined) => (v === undefined ? undefined : v / length.value.factor);
async function judge(): Promise<void> {
  const { latitude, longitude, hEll, height } = form.value;
  const body = { latitude, longitude, hEllM: metres(hEll), heightM: metres(height) };
  const checked = check(KnownPoint, body);
  verdict.value = null;
  message.value = 'message' in checked ? checked.message : '';
  if (message.value) return;
  try {
    verdict.value = await api.post<KnownPointDto>(
      `/projects/${store.project!.id}/datasets/${props.dataset.id}/known-point`,
      body,
    );
  } catch (e) {
    message.value = (e as Error).message;
  }
}
const SAYS: Record<KnownPointDto['says'], string> = {
  agrees: 'The grid agrees with the point.',
  turned: 'The two heights are exchanged, or the grid has the other sign.',
  'same heights': 'Both heights of the point are the same: one of them is not what it is called.',
  elsewhere: 'They do not go together: another surface or country, or another point.',
};
</script>

<template>
  <h3>Check against a known point</h3>
  <el-form novalidate label-position="top" @submit.prevent="judge">
    <el-form-item label="Latitude"
      ><el-input v-model="form.latitude" aria-label="Latitude of the known point" placeholder="56 05 00.00 N"
    /></el-form-item>
    <el-form-item label="Longitude"
      ><el-input v-model="form.longitude" aria-label="Longitude of the known point" placeholder="8 28 00.00 E"
    /></el-form-item>
    <NumberField
      v-model="form.hEll"
      :label="`Above the ellipsoid, ${length.symbol}`"
      name="Height above the ellipsoid"
      :digits="3"
    />
    <NumberField
      v-model="form.height"
      :label="`Levelled height, ${length.symbol}`"
      name="Levelled height"
      :digits="3"
    />
    <el-button native-type="submit">Check</el-button>
  </el-form>
  <p v-if="message" class="state bad">{{ message }}</p>
  <template v-if="verdict">
    <p class="state" :class="verdict.says === 'agrees' ? 'ok' : 'bad'">{{ SAYS[verdict.says] }}</p>
    <FactList>
      <Fact label="Undulation by the grid"
        ><Num :value="length.of(verdict.undulationM)" :digits="3" :unit="length.symbol"
      /></Fact>
      <Fact label="By the two heights"
        ><Num :value="length.of(verdict.statedM)" :digits="3" :unit="length.symbol"
      /></Fact>
      <Fact label="Grid − point"><Num :value="length.of(verdict.offM)" :digits="3" :unit="length.symbol" plus /></Fact>
    </FactList>
  </template>
</template>
