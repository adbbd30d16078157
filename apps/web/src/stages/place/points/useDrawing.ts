import { computed, ref, watch, type ComputedRef } from 'vue';
import { useStorage } from '@vueuse/core';
import { type DatasetOf, type FeatureDto } from '@longheron/contract/api';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { type Drawing } from './FeatureSheet.vue';
import { nextName } from './names';
import { imageKey } from '@longheron/core/photo';
import { type usePoints } from './usePoints';

/** What is drawn corner by corner in photographs; what is not kept yet survives a reload. */
export function useDrawing(points: ReturnType<typeof usePoints>, measuring: ComputedRef<boolean>) {
  const store = useProject();
  const features = computed<DatasetOf<'features'> | undefined>(() =>
    store.ofKind('features').find((d) => d.revision.content.block === points.block.value?.id),
  );
  const fresh = (shape: Drawing['shape'] = 'point', code = ''): Drawing => ({
    name: nextName(
      'm',
      (features.value?.revision.content.features ?? []).map((f) => f.name),
    ),
    shape,
    code,
    note: '',
    corners: [{ seen: [] }],
  });
  const drawing = useStorage<Drawing>(`longheron.drawing.${store.project?.id ?? 0}`, fresh(), sessionStorage);
  const current = ref(Math.max(0, drawing.value.corners.length - 1));
  watch(
    () => [measuring.value, current.value, drawing.value.corners],
    () => (points.corner.value = measuring.value ? (drawing.value.corners[current.value]?.seen ?? []) : null),
    { immediate: true, deep: true },
  );
  function see(image: string, at: { xPx: number; yPx: number; sdPx: number }): void {
    const corners = drawing.value.corners.map((c) => ({ seen: [...c.seen] }));
    const seen = corners[current.value].seen.filter((s) => imageKey(s.image) !== imageKey(image));
    corners[current.value] = { seen: [...seen, { image, ...at }] };
    drawing.value = { ...drawing.value, corners };
  }
  function forget(image: string): void {
    const corners = drawing.value.corners.map((c, k) => ({
      seen: k === current.value ? c.seen.filter((s) => imageKey(s.image) !== imageKey(image)) : c.seen,
    }));
    drawing.value = { ...drawing.value, corners };
  }
  function next(): void {
    if (drawing.value.shape === 'point') return;
    if (current.value === drawing.value.corners.length - 1)
      drawing.value = { ...drawing.value, corners: [...drawing.value.corners, { seen: [] }] };
    current.value++;
  }
  function again(shape = drawing.value.shape, code = drawing.value.code): void {
    drawing.value = fresh(shape, code);
    current.value = 0;
  }
  function load(f: FeatureDto): void {
    drawing.value = { ...f, corners: f.corners.map(({ seen }) => ({ seen })) };
    current.value = 0;
  }
  const path = () => `/projects/${store.project!.id}/datasets/${points.block.value!.id}/features`;
  async function finish(): Promise<void> {
    const { name, shape, code, note, corners } = drawing.value;
    const whole = corners.filter((c) => c.seen.length > 1);
    const body = {
      name: name.trim(),
      shape,
      code: code.trim(),
      note: note.trim(),
      corners: shape === 'point' ? whole.slice(0, 1) : whole,
    };
    if (await store.attempt(() => api.put(path(), body), `${body.name} is kept.`)) again(shape, body.code);
  }
  const remove = (name: string) =>
    store.attempt(() => api.del(`${path()}/${encodeURIComponent(name)}`), `${name} is taken out.`);
  return { features, drawing, current, see, forget, next, again, load, finish, remove };
}
