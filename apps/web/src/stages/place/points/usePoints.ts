import { computed, ref, shallowRef, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { type InPhotographsDto, type PhotographDto, type RayDto } from '@longheron/contract/api';
import { imageKey, refineTarget } from '@longheron/core/photo';
import { api } from '../../../api/client';
import { useProject } from '../../../stores/project';
import { useLoaded } from '../../../ui/loaded';
import { useChosen } from '../../address';
import { greyOf, photographsOf } from './photographs';

/** A pick of a list, as the server reads it. */
export interface PickDto {
  image: string;
  point: string;
  xPx: number;
  yPx: number;
  sdPx?: number;
}

/** A point of the list: a mark of the project, or a name that picks have. */
export interface PointRow {
  name: string;
  role: 'control' | 'check' | 'unused' | 'tie';
  picks: PickDto[];
  /** Surveyed place and its deviations, metres. */
  at?: [number, number, number];
  sd?: [number, number, number];
  /** What was written beside it on site. */
  note?: string;
}

/** Whether a pick moves to a target, half of whose size is about so large, and how far away. */
export interface TargetSearch {
  refine: boolean;
  radiusPx: number;
  reachPx: number;
}

/** Deviations of marks that state none, metres. */
const UNSTATED_M = 0.02;
/** A target may be so many times larger than the setting says. */
const WIDEST = 8;
/** 1 SD of a pick by eye, pixels. */
const BY_EYE_PX = 0.5;
/** A target’s print, its slant and the steps of pixels leave this much, however alike its halves are, pixels. */
const TARGET_PX = 0.15;
/** Beyond so many deviations a pick is named. */
const OFF = 3.3;

/** Points in photographs of a block: which there are, where they are picked, and where photographs show them. */
export function usePoints() {
  const store = useProject();
  const blocks = computed(() => store.ofKind('block').filter((d) => d.revision.content.oriented));
  const { chosen: block, choose } = useChosen(
    () => blocks.value,
    () => blocks.value.find((b) => inputOf(b, 'photos')) ?? blocks.value.at(-1),
  );
  type WithInputs = { revision: { inputs: Array<{ role: string; datasetId: number }> } };
  const inputsOf = (d: WithInputs | undefined, role: string) =>
    d?.revision.inputs.filter((i) => i.role === role).map((i) => i.datasetId) ?? [];
  const inputOf = (d: WithInputs | undefined, role: string): number | undefined => inputsOf(d, role)[0];

  const sets = computed(() => store.ofKind('photo-set'));
  const setId = ref<number>();
  /** Of a block that was made of picks alone: the set that has most of its photographs by their names. */
  const fitting = useLoaded<string, number | null>(
    () => {
      const b = block.value;
      return b && !inputOf(b, 'photos') ? `${b.revision.id} ${sets.value.map((s) => s.id).join()}` : undefined;
    },
    async () => {
      const names = new Set(block.value!.revision.content.pictures.map((p) => imageKey(p.name)));
      const many = await Promise.all(
        sets.value.map(async ({ id }) => {
          const list = await photographsOf(store.project!.id, id);
          return { id, fit: list.filter((p) => names.has(imageKey(p.name))).length };
        }),
      );
      return many.filter((m) => m.fit > 0).sort((a, b) => b.fit - a.fit)[0]?.id ?? null;
    },
    null,
  );
  const set = computed(
    () =>
      sets.value.find((s) => s.id === setId.value) ??
      sets.value.find((s) => s.id === inputOf(block.value, 'photos')) ??
      sets.value.find((s) => s.id === fitting.value.value) ??
      (block.value ? undefined : sets.value[0]),
  );
  /** Of a block of several sets all of them, however only one is named. */
  const together = computed(() => {
    const own = inputsOf(block.value, 'photos');
    const one = set.value?.id;
    return one === undefined ? [] : own.includes(one) ? own.filter((id) => sets.value.some((s) => s.id === id)) : [one];
  });
  const photographs = useLoaded<string, Array<PhotographDto & { set: number }>>(
    () => (together.value.length ? together.value.join() : undefined),
    async () => {
      const lists = together.value.map(async (id) =>
        (await photographsOf(store.project!.id, id)).map((p) => ({ ...p, set: id })),
      );
      return (await Promise.all(lists)).flat();
    },
    [],
  );

  const lists = computed(() => store.ofKind('picks'));
  const listId = ref<number>();
  const list = computed(
    () =>
      lists.value.find((l) => l.id === listId.value) ??
      lists.value.find((l) => l.id === inputOf(block.value, 'picks')) ??
      (block.value && inputOf(block.value, 'picks')
        ? undefined
        : lists.value.find((l) => l.name === 'Picks made here')),
  );
  const picks = useLoaded<string, PickDto[]>(
    () => (list.value ? `${list.value.id} ${list.value.revision.id}` : undefined),
    () => api.get<PickDto[]>(`/projects/${store.project!.id}/datasets/${list.value!.id}/picks`),
    [],
  );

  const rows = computed<PointRow[]>(() => {
    const byName = new Map<string, PointRow>();
    for (const d of store.ofKind('marks'))
      for (const m of d.revision.content.marks)
        if (!m.leftOutReason && !byName.has(m.name))
          byName.set(m.name, {
            name: m.name,
            role: m.role,
            picks: [],
            ...(m.note ? { note: m.note } : {}),
            at: [m.eastingM, m.northingM, m.heightM],
            sd: [m.sdEM ?? UNSTATED_M, m.sdNM ?? UNSTATED_M, m.sdHM ?? UNSTATED_M],
          });
    for (const p of picks.value.value) {
      if (!byName.has(p.point)) byName.set(p.point, { name: p.point, role: 'tie', picks: [] });
      byName.get(p.point)!.picks.push(p);
    }
    // a frame of its own has no surveyed places
    const local = block.value?.revision.content.figures.frame === 'local';
    const all = [...byName.values()].filter((r) => !local || r.picks.length);
    return all.sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  });
  const newPoint = ref<PointRow>();
  const name = useLocalStorage('longheron.points.current', '');
  const point = computed(
    () =>
      rows.value.find((r) => r.name === name.value) ??
      (newPoint.value?.name === name.value ? newPoint.value : rows.value[0]),
  );

  /** What the block knows of some rays; null where nothing is asked. */
  const answer = shallowRef<InPhotographsDto | null>(null);
  const failed = ref('');
  const waiting = ref(false);
  /** Rays that are looked at instead of a point’s: the corner that is being drawn. */
  const corner = ref<RayDto[] | null>(null);
  /** A place that was handed over, of a point of a cloud: looked at by itself, whatever is picked of the current point. */
  const from = ref<[number, number, number]>();
  /** The cloud that it is of. */
  const fromCloud = ref<number>();
  const rays = computed<RayDto[]>(() =>
    from.value
      ? []
      : corner.value
        ? corner.value
        : (point.value?.picks ?? []).map(({ image, xPx, yPx, sdPx }) => ({ image, xPx, yPx, sdPx: sdPx ?? null })),
  );
  const given = computed(() => from.value ?? (corner.value ? undefined : point.value?.at));
  let turn = 0;
  watch(
    () => JSON.stringify([block.value?.revision.id, rays.value, given.value, fromCloud.value]),
    async () => {
      const mine = ++turn;
      const b = block.value;
      if (!b || (!rays.value.length && !given.value)) {
        answer.value = null;
        waiting.value = false;
        return;
      }
      waiting.value = true;
      try {
        const found = await api.post<InPhotographsDto>(
          `/projects/${store.project!.id}/datasets/${b.id}/in-photographs`,
          {
            rays: rays.value,
            ...(given.value
              ? {
                  at: given.value,
                  ...(from.value && fromCloud.value ? { cloud: fromCloud.value } : {}),
                  ...(point.value?.sd && !from.value ? { sd: point.value.sd } : {}),
                }
              : {}),
          },
        );
        if (mine !== turn) return;
        answer.value = found;
        failed.value = '';
      } catch (e) {
        if (mine !== turn) return;
        answer.value = null;
        failed.value = (e as Error).message;
      } finally {
        if (mine === turn) waiting.value = false;
      }
    },
    { immediate: true },
  );

  /** Ray by ray: its residual, and how far it lies from where the surveyed place would be. */
  const rayRows = computed(() => {
    // of rays that judge each other the worst is named: the others bend with it
    const worst = Math.max(OFF, ...(answer.value?.met?.rays.map((x) => x.test) ?? []));
    return rays.value.map((r) => {
      const key = imageKey(r.image);
      const met = answer.value?.met?.rays.find((x) => imageKey(x.image) === key);
      const expected = answer.value?.expected.find((x) => imageKey(x.image) === key);
      const offPx = expected ? Math.hypot(r.xPx - expected.xPx, r.yPx - expected.yPx) : null;
      const sd = expected ? Math.hypot(expected.majorPx, r.sdPx ?? BY_EYE_PX) : 1;
      return {
        ...r,
        dxPx: met?.dxPx ?? null,
        dyPx: met?.dyPx ?? null,
        test: met?.test ?? null,
        offPx,
        /** Rays that meet judge each other; a lone one is judged by the surveyed place. */
        bad: met ? met.test > OFF && met.test >= worst : offPx !== null && offPx / sd > OFF,
      };
    });
  });

  const settings = useLocalStorage<TargetSearch>('longheron.points.picking', {
    refine: true,
    radiusPx: 3,
    reachPx: 4,
  });
  /** What was said of the last pick. */
  const said = ref('');

  /** The centre of a target near a place, or that place itself. */
  function placed(picture: ImageBitmap | null, xPx: number, yPx: number): { xPx: number; yPx: number; sdPx: number } {
    const { refine, radiusPx, reachPx } = settings.value;
    said.value = '';
    if (!refine || !picture) return { xPx, yPx, sdPx: BY_EYE_PX };
    const part = greyOf(picture, xPx, yPx, WIDEST * radiusPx + reachPx + 6);
    const found = part && refineTarget(part, xPx - part.x0, yPx - part.y0, radiusPx, reachPx);
    if (!part || !found || 'none' in found) {
      said.value = `No target within ${reachPx} px (${found && 'none' in found ? found.none : 'beside the picture'}): the pick is where you clicked.`;
      return { xPx, yPx, sdPx: BY_EYE_PX };
    }
    const sdPx = Math.max(TARGET_PX, found.sdPx);
    said.value = `Centre of the target found, ±${sdPx.toFixed(2)} px.`;
    return { xPx: found.uPx + part.x0, yPx: found.vPx + part.y0, sdPx };
  }

  const change = (set: PickDto[], gone: Array<{ image: string; point: string }>) =>
    store.attempt(async () => {
      const { datasetId } = await api.post<{ datasetId: number }>(`/projects/${store.project!.id}/picks`, {
        ...(list.value ? { dataset: list.value.id } : {}),
        set,
        gone,
      });
      listId.value = datasetId;
    });

  return {
    blocks,
    block,
    choose,
    sets,
    set,
    setId,
    photographs,
    lists,
    list,
    listId,
    picks,
    rows,
    point,
    newPoint,
    name,
    answer,
    failed,
    waiting,
    corner,
    rays,
    rayRows,
    from,
    fromCloud,
    settings,
    said,
    placed,
    change,
  };
}
