<script setup lang="ts">
import { computed, ref, watch, watchEffect } from 'vue';
import { isPoints } from '@longheron/contract/kinds/export';
import { pictureOf } from '../../../map/picture';
import { METRES_PER } from '@longheron/core/frames';
import { ApiError } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import DatasetChoice from '../../../ui/DatasetChoice.vue';
import DatasetCard from '../../../ui/DatasetCard.vue';
import Num from '../../../ui/Num.vue';
import DiscardButton from '../../../ui/DiscardButton.vue';
import OutOfDate from '../../../ui/OutOfDate.vue';
import StageLayout from '../../StageLayout.vue';
import TrailList from '../../../ui/TrailList.vue';
import { useUnits } from '../../../ui/units';
import CloudBench from '../../CloudBench.vue';
import { useCloudLook } from '../../../stores/cloudLook';
import { COLOURING_NAMES } from '../../../views3d/colouring';
import { useMapData } from '../../mapData';
import ContourStyles from './ContourStyles.vue';
import ExportCloud from './ExportCloud.vue';
import HeightsUnderCursor from './HeightsUnderCursor.vue';
import PointsFile from './PointsFile.vue';
import ProductList from './ProductList.vue';
import ReportPanel from './ReportPanel.vue';
import { useChosen } from '../../address';
import { type DatasetDto } from '@longheron/contract/api';
import { OPERATIONS } from '@longheron/contract/operations';
import SettingsForm from '../../../ui/SettingsForm.vue';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';

const store = useProject();
const view = useView();
const look = useCloudLook();
const { marks } = useMapData();
const { length, small } = useUnits();
const products = computed(() => store.datasets.filter((d) => d.stage === 'deliver'));
const { chosen, choose } = useChosen<DatasetDto>(
  () => products.value,
  () => store.latest('surface'),
);
const surface = computed(() => (chosen.value?.kind === 'surface' ? chosen.value : store.latest('surface')));
const content = computed(() => surface.value?.revision.content);
const points = computed(() => {
  const dataset = chosen.value;
  if (dataset?.kind !== 'export') return undefined;
  const { content } = dataset.revision;
  return isPoints(content) ? { dataset, content } : undefined;
});
const cloudOf = computed(() => {
  const id = surface.value?.revision.inputs.find((i) => i.role === 'cloud')?.datasetId;
  return store.ofKind('point-cloud').find((d) => d.id === id) ?? store.latest('point-cloud', 'clean');
});
watchEffect(() => (view.active = chosen.value?.id ?? null));
const shown = ref<'terrain' | 'highest' | 'above'>('terrain');
const picture = computed(() => {
  const c = content.value;
  const sha = shown.value === 'terrain' ? c?.picture : c?.pictures?.[shown.value];
  if (!c || !sha) return null;
  return pictureOf(sha, c.layout);
});
const contours = computed(() =>
  content.value?.exports.contoursGeoJson
    ? `/api/objects/${content.value.exports.contoursGeoJson.sha256}?type=application/geo%2Bjson`
    : null,
);

const form = ref({ cloud: 0, cellM: 0.5, maxGapM: 3, contoursM: 0.25, tinSpacingM: 0.5 });
const clouds = computed(() => store.ofKind('point-cloud'));
watch(
  () => [store.datasets.length, surface.value?.id],
  () => {
    form.value.cloud =
      surface.value?.revision.inputs.find((i) => i.role === 'cloud')?.datasetId ??
      store.latest('point-cloud', 'clean')?.id ??
      0;
    const f = content.value?.figures;
    if (f)
      Object.assign(form.value, {
        cellM: f.cell_m,
        maxGapM: f.max_gap_m,
        contoursM: f.contour_interval_m,
        tinSpacingM: f.tin_spacing_m ?? 0.5,
      });
  },
  { immediate: true },
);
const make = (again: boolean) => {
  const { cloud, ...settings } = form.value;
  return store.run('surface', { cloud }, settings, again ? surface.value?.id : undefined);
};
/** What the height check of this cloud supports. */
const supported = computed(() => store.latest('residuals')?.revision.content.figures.contour_interval_m ?? null);
const tooFine = computed(
  () => supported.value !== null && form.value.contoursM > 0 && form.value.contoursM < supported.value - 1e-9,
);

async function putInReport(blob: Blob): Promise<void> {
  const caption = `${cloudOf.value?.name ?? 'Cloud'}, revision ${cloudOf.value?.revision.number ?? 0}, by ${COLOURING_NAMES[look.colouring]}`;
  await store.attempt(async () => {
    const response = await fetch(
      `/api/projects/${store.project!.id}/report-pictures?caption=${encodeURIComponent(caption)}`,
      {
        method: 'POST',
        headers: { 'Content-Type': 'image/png' },
        body: blob,
      },
    );
    if (!response.ok) throw new ApiError(response.status, await response.json());
  }, 'The picture will be in the next report.');
  await reportPanel.value?.loadShots();
}
const reportPanel = ref<InstanceType<typeof ReportPanel> | null>(null);
const feet = computed(() => (store.project?.reference?.unit ?? 'metre') !== 'metre');
const inUnit = (m: number) => m / METRES_PER[store.project?.reference?.unit ?? 'metre'];
</script>

<template>
  <StageLayout holdings-title="Products">
    <template #holdings>
      <DatasetCard v-for="d in products" :key="d.id" :dataset="d" :selected="d.id === chosen?.id" @choose="choose(d)" />
      <p v-if="products.length === 0" class="soft">
        No product yet. A cloud with ground is needed; then make the terrain model in the sheet.
      </p>
      <template v-if="content?.pictures">
        <h3>Shown in plan</h3>
        <el-radio-group v-model="shown" class="choices">
          <el-radio value="terrain">Terrain (ground)</el-radio>
          <el-radio value="highest">Surface (highest point)</el-radio>
          <el-radio value="above">Height above ground</el-radio>
        </el-radio-group>
      </template>
      <HeightsUnderCursor v-if="content" class="spaced" :content="content" />
      <ExportCloud class="spaced" />
    </template>
    <CloudBench
      storage-key="deliver"
      :dataset="cloudOf"
      :surface="surface"
      :path="null"
      :marks="marks"
      :picture="picture"
      :contours-url="contours"
      report-picture
      @picture="putInReport"
    />
    <template #sheet>
      <ReportPanel ref="reportPanel" />
      <h2 class="spaced">Terrain model</h2>
      <OutOfDate v-if="surface" :dataset="surface" />
      <template v-if="content && surface">
        <FactList>
          <Fact label="Ground points"><Num :value="content.figures.points" /></Fact>
          <Fact
            ><template #label>Cells, {{ content.figures.cell_m }} m</template><Num :value="content.layout.columns" /> ×
            <Num :value="content.layout.rows"
          /></Fact>
          <Fact label="Empty cells">
            <Num :value="content.figures.empty_cells" /> (<Num
              :value="(100 * content.figures.empty_cells) / content.figures.cells"
              :digits="1"
              unit="%"
            />)
          </Fact>
          <Fact
            v-if="content.figures.bridged_cells !== undefined"
            label="Filled across gaps, beyond the points"
            hint="Nearer to a ground point than the limit, but not among ground points: what stands there is a guess"
          >
            <Num :value="content.figures.bridged_cells" />,
            <Num :value="content.figures.cells_beyond_points ?? 0" />
          </Fact>
          <Fact label="Heights">
            <Num :value="inUnit(content.figures.height_min_m ?? 0)" :digits="2" /> to
            <Num :value="inUnit(content.figures.height_max_m ?? 0)" :digits="2" :unit="length.symbol" />
          </Fact>
          <Fact label="Contours"
            ><Num :value="content.figures.contours" /> at {{ content.figures.contour_interval_m }} m</Fact
          >
          <Fact v-if="content.tin" label="TIN for delivery"
            ><Num :value="content.tin.vertices" /> points, <Num :value="content.tin.triangles" /> triangles</Fact
          >
          <Fact v-if="content.tin" label="Lost by thinning it">
            RMS <Num :value="small.of(content.tin.lossRmsM)" :digits="small.digits" />, greatest
            <Num :value="small.of(content.tin.lossMaxM)" :digits="small.digits" :unit="small.symbol" /><template
              v-if="content.toleranceM !== undefined"
              >,
              <span class="state" :class="content.tin.lossRmsM <= content.toleranceM ? 'ok' : 'bad'"
                >RMS of
                <Num :value="small.of(content.toleranceM)" :digits="small.digits" :unit="small.symbol" /> allowed</span
              ></template
            >
          </Fact>
        </FactList>
        <p v-if="feet" class="soft">Files keep the unit of the coordinate system, metre.</p>
        <ProductList :dataset="surface" :content="content" />
        <ContourStyles v-if="contours" />
      </template>
      <h3>{{ surface ? 'Make it again' : 'Make the terrain model' }}</h3>
      <el-form novalidate label-position="top" @submit.prevent="make(true)">
        <DatasetChoice v-model="form.cloud" label="Cloud with ground" :datasets="clouds" />
        <SettingsForm v-model="form" :schema="OPERATIONS.surface.settings" :only="['cellM', 'maxGapM', 'contoursM']" />
        <p v-if="tooFine" class="state warn wrap">
          Finer than the height check supports: the smallest interval at its RMSE is {{ supported }} m. The report will
          say so.
        </p>
        <SettingsForm v-model="form" :schema="OPERATIONS.surface.settings" :only="['tinSpacingM']" />
        <div class="row">
          <el-button type="primary" native-type="submit" :disabled="!form.cloud">{{
            surface ? 'Make it again' : 'Make the terrain model'
          }}</el-button>
          <el-button v-if="surface" title="Keeps this result and makes another beside it" @click="make(false)"
            >Beside it</el-button
          >
        </div>
      </el-form>
      <PointsFile v-if="points" :dataset="points.dataset" :content="points.content" />
      <TrailList v-if="chosen" :dataset="chosen" />
      <DiscardButton v-if="chosen" :dataset="chosen" :label="`Discard ${chosen.name}`" />
    </template>
  </StageLayout>
</template>

<style scoped>
.choices {
  display: grid;
}
.row {
  display: flex;
  margin: 8px 0;
}
.wrap {
  white-space: normal;
}
</style>
