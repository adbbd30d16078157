<script setup lang="ts">
import { computed } from 'vue';
import { type KeptCameraDto, type MadeCamerasDto } from '@longheron/contract/api';
import { groupPhotographs, type TakenPhoto } from '@longheron/core/photo';
import { ElMessage } from 'element-plus';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { useLoaded } from '../../../ui/loaded';
import NotLoaded from '../../../ui/NotLoaded.vue';
import Num from '../../../ui/Num.vue';
import PlainButton from '../../../ui/PlainButton.vue';

/** What the library has of the bodies of a set, and a list of cameras made of it. */
const props = defineProps<{ set: number; photographs: readonly TakenPhoto[] }>();
const store = useProject();
const library = useLoaded<string, KeptCameraDto[]>(
  () => 'cameras',
  () => api.get<KeptCameraDto[]>('/cameras'),
  [],
);
const groups = computed(() =>
  groupPhotographs(props.photographs).map((g) => ({
    ...g,
    kept: library.value.value.find(
      (k) => k.serial !== '' && k.serial === g.serial && k.widthPx === g.widthPx && k.heightPx === g.heightPx,
    ),
  })),
);
const offered = computed(() => groups.value.filter((g) => g.kept));
const percent = (k: KeptCameraDto) => 100 * (k.focalPx / k.nominalFocalPx - 1);
async function make(): Promise<void> {
  let made: MadeCamerasDto | undefined;
  const good = await store.attempt(async () => {
    made = await api.post<MadeCamerasDto>(`/projects/${store.project!.id}/datasets/${props.set}/camera-list`);
  });
  if (!good || !made) return;
  const of = (from: string) => made!.cameras.filter((c) => c.from === from).length;
  const parts = [
    of('library') ? `${of('library')} from the library` : '',
    of('EXIF') ? `${of('EXIF')} nominal from EXIF` : '',
    of('panorama') ? `${of('panorama')} of full panoramas` : '',
  ].filter(Boolean);
  ElMessage({
    type: 'success',
    message: `A list of ${made.cameras.length} cameras is among the files: ${parts.join(', ')}.`,
  });
}
async function drop(k: KeptCameraDto): Promise<void> {
  const path = `/cameras/${encodeURIComponent(k.key)}`;
  if (await store.attempt(() => api.del(path), 'Taken out of the library; projects keep theirs.'))
    await library.again();
}
</script>

<template>
  <NotLoaded what="The library of cameras" :of="library" />
  <div v-for="g in offered" :key="g.key" class="kept">
    <strong>{{ g.kept!.name }}, {{ g.kept!.serial }}</strong> is in the library: focal length
    <Num :value="g.kept!.focalPx" :digits="2" /> ± <Num :value="g.kept!.sdFocalPx" :digits="2" unit="px" />, from
    {{ g.kept!.block }} of {{ g.kept!.project }}, {{ g.kept!.date }}.
    <span class="soft">
      That is <Num :value="percent(g.kept!)" :digits="2" unit="%" plus /> of nominal and
      <Num :value="g.kept!.changeRmsPx" :digits="1" unit="px" /> RMS over the picture: makers state a lens as designed,
      and each is a little different. No fault.
    </span>
    <PlainButton class="out" @click="drop(g.kept!)">Take out of the library</PlainButton>
  </div>
  <p v-if="!offered.length && !library.loading.value" class="soft">
    The library has none of these bodies. A block that was adjusted offers its cameras to it, under Place, Photographs,
    Cameras.
  </p>
  <el-button size="small" @click="make">Make a list of cameras</el-button>
</template>

<style scoped>
.kept {
  margin: 6px 0 8px;
}
.out {
  display: block;
  text-decoration: underline dotted;
}
p {
  margin: 6px 0;
}
</style>
