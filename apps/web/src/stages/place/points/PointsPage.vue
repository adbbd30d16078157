<script setup lang="ts">
import { computed, ref, shallowRef, watch, watchEffect } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { useEventListener, useLocalStorage } from '@vueuse/core';
import { useCloudLook } from '../../../stores/cloudLook';
import { useProject } from '../../../stores/project';
import { useView } from '../../../stores/view';
import { isTyping } from '../../../ui/keys';
import Fact from '../../../ui/Fact.vue';
import FactList from '../../../ui/FactList.vue';
import NotLoaded from '../../../ui/NotLoaded.vue';
import Num from '../../../ui/Num.vue';
import { useUnits } from '../../../ui/units';
import OutOfDate from '../../../ui/OutOfDate.vue';
import ToolBar from '../../../ui/ToolBar.vue';
import ToolButton from '../../../ui/ToolButton.vue';
import SplitBench from '../../SplitBench.vue';
import StageLayout from '../../StageLayout.vue';
import ChooseOne from './ChooseOne.vue';
import EnoughList from './EnoughList.vue';
import FeatureSheet from './FeatureSheet.vue';
import FilmStrip, { type Frame } from './FilmStrip.vue';
import Magnifier from './Magnifier.vue';
import PhotographView from './PhotographView.vue';
import { photographPath } from './photographs';
import PointList from './PointList.vue';
import PointSheet from './PointSheet.vue';
import RayTable from './RayTable.vue';
import TargetSettings from './TargetSettings.vue';
import { useDrawing } from './useDrawing';
import { imageKey } from '@longheron/core/photo';
import { lookAtCloud, shownCloud } from './toCloud';
import { usePoints } from './usePoints';

/** Points in photographs: picked for a block, or measured in it. */
const store = useProject();
const view = useView();
const route = useRoute();
const router = useRouter();
const { length } = useUnits();
const points = usePoints();
const { block, set, photographs, rows, point, answer, rayRows, settings, said, from } = points;
watchEffect(() => (view.active = points.list.value?.id ?? null));

const mode = useLocalStorage<'pick' | 'measure'>('longheron.points.mode', 'pick');
const measuring = computed(() => mode.value === 'measure' && !!block.value);
const draw = useDrawing(points, measuring);

/** A place of a cloud is looked at in photographs by its coordinates in the address. */
watch(
  () => [route.query.at, route.query.cloud],
  ([text, cloud]) => {
    points.fromCloud.value = Number(cloud) || undefined;
    const at = String(text ?? '')
      .split(',')
      .map(Number);
    from.value = at.length === 3 && at.every(Number.isFinite) ? (at as [number, number, number]) : undefined;
  },
  { immediate: true },
);
const leavePlace = () => void router.replace({ query: {} });

const byKey = computed(() => new Map(photographs.value.value.map((p) => [imageKey(p.name), p])));
const project = computed(() => store.project!.id);
/** Photographs that show the point, or may show it; all of them while nothing is known. */
const frames = computed<Frame[]>(() => {
  if (!set.value) return [];
  const shown = new Map((answer.value?.shown ?? []).filter((x) => x.inside).map((x) => [imageKey(x.image), x]));
  const lines = new Set((answer.value?.lines ?? []).map((l) => imageKey(l.image)));
  const picked = new Map(rayRows.value.map((r) => [imageKey(r.image), r]));
  const any = shown.size + lines.size + picked.size > 0;
  const found = photographs.value.value.flatMap((p): Frame[] => {
    const key = imageKey(p.name);
    const [pick, place] = [picked.get(key), shown.get(key)];
    if (any && !all.value && !pick && !place && !lines.has(key)) return [];
    const at = pick ?? place;
    return [
      {
        name: p.name,
        path: photographPath(project.value, p.set, p.name, 160),
        widthPx: p.widthPx ?? 3,
        heightPx: p.heightPx ?? 2,
        at: at ? [at.xPx, at.yPx] : null,
        picked: !!pick,
        bad: !!pick?.bad,
        hidden: !!place?.hidden,
      },
    ];
  });
  // those that show it first
  return [...found.filter((x) => !x.hidden), ...found.filter((x) => x.hidden)];
});
const all = ref(false);
const wanted = useLocalStorage('longheron.points.photograph', '');
const current = computed(() => {
  const key = imageKey(wanted.value);
  return frames.value.find((f) => imageKey(f.name) === key) ?? frames.value[0];
});
const key = computed(() => (current.value ? imageKey(current.value.name) : ''));
const currentPath = computed(() => {
  const p = byKey.value.get(key.value);
  return current.value && p ? photographPath(project.value, p.set, p.name) : null;
});
const open = (image: string) => (wanted.value = byKey.value.get(imageKey(image))?.name ?? image);
/** Also one that does not show the point. */
function openAny(image: string): void {
  if (!frames.value.some((f) => imageKey(f.name) === imageKey(image))) all.value = true;
  open(image);
}
const pick = computed(() => rayRows.value.find((r) => imageKey(r.image) === key.value));
const expected = computed(() => answer.value?.shown.find((x) => imageKey(x.image) === key.value) ?? null);
const along = computed(() => answer.value?.lines.find((l) => imageKey(l.image) === key.value)?.along ?? []);
const about = computed<[number, number] | null>(() => {
  const at = pick.value ?? expected.value;
  if (at) return [at.xPx, at.yPx];
  const k = 2 * Math.floor(along.value.length / 4);
  return along.value.length ? [along.value[k], along.value[k + 1]] : null;
});
const showOthers = useLocalStorage('longheron.points.others', true);
const others = computed(() =>
  !showOthers.value
    ? []
    : points.picks.value.value
        .filter((p) => imageKey(p.image) === key.value && (measuring.value || p.point !== point.value?.name))
        .map((p) => ({ name: p.point, xPx: p.xPx, yPx: p.yPx })),
);
/** Corners of what is drawn that this photograph was picked in. */
const drawn = computed(() => {
  const seenHere = (corners: ReadonlyArray<{ seen: ReadonlyArray<{ image: string; xPx: number; yPx: number }> }>) =>
    corners.flatMap((c) =>
      c.seen.filter((s) => imageKey(s.image) === key.value).map((s) => [s.xPx, s.yPx] as [number, number]),
    );
  const kept = (draw.features.value?.revision.content.features ?? []).map((f) => ({
    points: seenHere(f.corners),
    closed: f.shape === 'area',
    current: false,
  }));
  const now = measuring.value
    ? [{ points: seenHere(draw.drawing.value.corners), closed: draw.drawing.value.shape === 'area', current: true }]
    : [];
  return [...kept, ...now].filter((d) => d.points.length > 1);
});

const picture = shallowRef<ImageBitmap | null>(null);
const pointer = ref<[number, number] | null>(null);
function picked(xPx: number, yPx: number): void {
  const image = current.value?.name;
  if (!image) return;
  const at = points.placed(picture.value, xPx, yPx);
  if (measuring.value) {
    draw.see(image, at);
    return;
  }
  const p = point.value;
  if (!p || from.value) return;
  void points.change([{ image, point: p.name, ...at }], []);
}
function remove(image: string): void {
  if (measuring.value) draw.forget(image);
  else if (point.value) void points.change([], [{ image, point: point.value.name }]);
}
function choose(name: string): void {
  points.name.value = name;
  said.value = '';
  if (from.value) leavePlace();
}
function add(name: string): void {
  points.newPoint.value = { name, role: 'tie', picks: [] };
  choose(name);
}
function step(by: number): void {
  const at = frames.value.findIndex((f) => f === current.value);
  const next = frames.value[(at + by + frames.value.length) % Math.max(1, frames.value.length)];
  if (next) wanted.value = next.name;
}
function stepPoint(by: number): void {
  const at = rows.value.findIndex((r) => r.name === point.value?.name);
  const next = rows.value[(at + by + rows.value.length) % Math.max(1, rows.value.length)];
  if (next) choose(next.name);
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === 'n') step(1);
  else if (event.key === 'b') step(-1);
  else if (event.key === 'j') stepPoint(1);
  else if (event.key === 'k') stepPoint(-1);
  else if (event.key === 'Delete' && pick.value && current.value) remove(current.value.name);
  else if (event.key === 'Enter' && measuring.value && !(event.target as HTMLElement).closest('button, a')) {
    if (event.shiftKey) void draw.finish();
    else if (answer.value?.met) draw.next();
  }
});
const local = computed(() => block.value?.revision.content.figures.frame === 'local');
const listed = computed(() => rows.value.filter((r) => r.role !== 'unused' || r.picks.length));
const look = useCloudLook();
const cloud = computed(() => shownCloud(store.datasets));
async function toCloud(): Promise<void> {
  const at = answer.value?.met?.at;
  if (cloud.value && at) await router.push(await lookAtCloud(cloud.value, at, look, project.value));
}
</script>

<template>
  <StageLayout holdings-title="Points" own-needs>
    <template #holdings>
      <ChooseOne label="Block" :of="points.blocks.value" :chosen="block?.id" @choose="(id) => points.choose({ id })" />
      <ChooseOne
        label="Photographs"
        :of="points.sets.value"
        :chosen="set?.id"
        @choose="(id) => (points.setId.value = id)"
      />
      <ChooseOne
        label="List of picks"
        empty="Picks made here"
        :of="points.lists.value"
        :chosen="points.list.value?.id"
        @choose="(id) => (points.listId.value = id)"
      />
      <NotLoaded what="The photographs" :of="photographs" />
      <NotLoaded what="The picks" :of="points.picks" />
      <PointList
        v-if="!measuring"
        :rows="listed"
        :current="from ? undefined : point?.name"
        @choose="choose"
        @add="add"
      />
      <EnoughList
        v-if="set && (local || !block)"
        :photographs="photographs.value.value"
        :picks="points.picks.value.value"
        :rows="rows"
        :local="local"
        @open="openAny"
      />
    </template>
    <SplitBench v-if="set" storage-key="points" :upper-percent="74">
      <template #upper>
        <div class="upper">
          <ToolBar label="Photograph">
            <el-radio-group v-model="mode" size="small" aria-label="What clicks do">
              <el-radio-button value="pick">Pick</el-radio-button>
              <el-radio-button value="measure" :disabled="!block">Measure</el-radio-button>
            </el-radio-group>
            <ToolButton icon="left" label="Photograph before" hint="B" @click="step(-1)" />
            <strong class="which">{{ current?.name ?? 'none' }}</strong>
            <ToolButton icon="right" label="Next photograph" hint="N" @click="step(1)" />
            <ToolButton
              label="All photographs"
              hint="Also those that do not show the point"
              :pressed="all"
              @click="all = !all"
            />
            <ToolButton label="Other picks" :pressed="showOthers" @click="showOthers = !showOthers" />
            <ToolButton
              label="Find targets"
              hint="A pick moves to the centre of the two-tone target near by"
              :pressed="settings.refine"
              @click="settings.refine = !settings.refine"
            />
            <span v-if="said" class="said" role="status" :title="said">{{ said }}</span>
          </ToolBar>
          <PhotographView
            :path="currentPath"
            :about="about"
            :pick="pick ? [pick.xPx, pick.yPx] : null"
            :bad="!!pick?.bad"
            :expected="expected"
            :along="along"
            :others="others"
            :drawn="drawn"
            @pick="picked"
            @pointer="pointer = $event"
            @loaded="picture = $event"
          />
          <FilmStrip
            :frames="frames"
            :current="current?.name"
            :waiting="points.waiting.value || photographs.loading.value"
            @choose="open"
          />
        </div>
      </template>
      <div class="lower">
        <p v-if="points.failed.value" class="state bad">{{ points.failed.value }}</p>
        <RayTable
          v-if="!from"
          :rows="rayRows"
          :name="measuring ? `Corner ${draw.current.value + 1}` : (point?.name ?? 'The point')"
          :current="current?.name"
          :given="!measuring && !!point?.at"
          @open="open"
          @remove="remove"
        />
      </div>
    </SplitBench>
    <div v-else class="empty soft">
      <p>
        No photographs of this block are in the project. Import them as a ZIP archive in Gather; then points can be
        picked and measured in them.
      </p>
    </div>
    <template #sheet>
      <OutOfDate v-if="block" :dataset="block" />
      <Magnifier :picture="picture" :at="pointer" :pick="pick ? [pick.xPx, pick.yPx] : null" />
      <template v-if="from">
        <h2>A point of the cloud</h2>
        <FactList>
          <Fact v-for="(l, k) in ['E', 'N', 'H']" :key="l" :label="l"
            ><Num :value="length.of(from[k])" :digits="3" :unit="length.symbol"
          /></Fact>
        </FactList>
        <p class="soft">
          Its place is drawn in every photograph that looks there.
          <template v-if="frames.some((x) => x.hidden)"
            >Points of the cloud stand before it in those that are called hidden.</template
          >
        </p>
        <el-button size="small" @click="leavePlace">Back to the points</el-button>
      </template>
      <template v-else-if="measuring">
        <FeatureSheet
          v-model="draw.drawing.value"
          :features="draw.features.value"
          :current="draw.current.value"
          :project="project"
          :met="!!answer?.met"
          @next="draw.next"
          @finish="draw.finish"
          @again="draw.again()"
          @remove="draw.remove"
          @load="draw.load"
        />
        <PointSheet
          :name="`Corner ${draw.current.value + 1}`"
          role="measured"
          :answer="answer"
          :given="undefined"
          :rays="rayRows.length"
          :waiting="points.waiting.value"
          :local="local"
        />
      </template>
      <template v-else-if="point">
        <PointSheet
          :name="point.name"
          :role="point.role"
          :answer="answer"
          :given="point.at"
          :note="point.note"
          :rays="rayRows.length"
          :waiting="points.waiting.value"
          :local="local"
        />
        <el-button v-if="cloud && !local && answer?.met" size="small" class="cloud" @click="toCloud"
          >Show in the cloud</el-button
        >
      </template>
      <TargetSettings v-if="settings.refine" v-model="settings" />
    </template>
  </StageLayout>
</template>

<style scoped>
.upper {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}
.which {
  padding: 0 4px;
}
.said {
  flex: 1 1 0;
  min-width: 0;
  margin-left: 8px;
  color: var(--ink-soft);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.lower {
  overflow: auto;
  padding: 4px 8px;
}
.cloud {
  margin: 4px 0 10px;
}
.empty {
  padding: 24px;
  max-width: 460px;
}
</style>
