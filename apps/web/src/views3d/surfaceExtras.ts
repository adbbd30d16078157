import { computed, ref, type ShallowRef, watch } from 'vue';
import type * as THREE from 'three';
import { type DatasetOf } from '@longheron/contract/api';
import { useCloudLook } from '../stores/cloudLook';
import { useContourStyles } from '../stores/contourStyles';
import { type CloudScene } from './CloudScene';
import { contourLines, disposeTree, terrainMesh, tinEdges, type GridLayout } from './extras';

interface SurfaceContent {
  grid?: string;
  layout?: GridLayout;
  exports?: Record<string, { sha256: string }>;
  tin?: { object: string; vertices: number; triangles: number; origin: [number, number, number] };
}

/** More triangles than this are not drawn as lines. */
export const MAX_TIN_TRIANGLES = 1_200_000;

const bytes = (sha: string) =>
  fetch(`/api/objects/${sha}`).then((r) =>
    r.ok ? r.arrayBuffer() : Promise.reject(new Error(`The server answered ${r.status}.`)),
  );

/** Terrain mesh, contours and TIN of a surface in a cloud's scene, each fetched when first shown. */
export function useSurfaceExtras(
  dataset: () => DatasetOf<'surface'> | undefined,
  scene: ShallowRef<CloudScene | null>,
) {
  const look = useCloudLook();
  const contourStyles = useContourStyles();
  const content = computed(() => dataset()?.revision.content as SurfaceContent | undefined);
  const layout = computed(() => content.value?.layout);
  const hasTin = computed(() => !!content.value?.tin && content.value.tin.triangles <= MAX_TIN_TRIANGLES);
  const failure = ref('');

  function layer(
    wanted: () => boolean,
    key: () => string | undefined,
    make: (sha: string, s: CloudScene) => Promise<THREE.Object3D>,
  ): void {
    let made: THREE.Object3D | undefined;
    let of = '';
    watch(
      () => [wanted(), key(), scene.value] as const,
      async ([show, sha, s]) => {
        if (made && (of !== sha || made.parent !== s?.extras)) {
          made.parent?.remove(made);
          disposeTree(made);
          made = undefined;
        }
        if (!s) return;
        if (show && sha && !made) {
          try {
            const next = await make(sha, s);
            if (scene.value !== s || key() !== sha || made) return disposeTree(next);
            made = next;
            of = sha;
            s.extras.add(made);
          } catch (e) {
            failure.value = (e as Error).message;
          }
        }
        if (made) made.visible = made.userData.shown = wanted();
        s.restart();
      },
      { immediate: true },
    );
  }
  layer(
    () => look.showTerrain,
    () => content.value?.grid,
    async (sha, s) => terrainMesh(new Float32Array(await bytes(sha)), layout.value!, s.index.origin),
  );
  layer(
    () => look.showContours,
    () => {
      const sha = content.value?.exports?.contoursGeoJson?.sha256;
      return sha && `${sha} ${JSON.stringify(contourStyles.current)}`;
    },
    async (key, s) =>
      contourLines(
        JSON.parse(new TextDecoder().decode(await bytes(key.split(' ')[0]))),
        s.index.origin,
        contourStyles.current,
      ),
  );
  layer(
    () => look.showTin && hasTin.value,
    () => content.value?.tin?.object,
    async (sha, s) => {
      const raw = await bytes(sha);
      const { vertices, origin } = content.value!.tin!;
      const lines = tinEdges(
        new Float32Array(raw, 0, 3 * vertices),
        new Uint32Array(raw, 12 * vertices),
        origin,
        s.index.origin,
      );
      lines.userData.heavy = true;
      return lines;
    },
  );
  return { layout, hasTin, failure };
}
