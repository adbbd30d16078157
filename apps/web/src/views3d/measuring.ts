import { computed, ref, shallowRef, watch } from 'vue';
import { MEASURE_POINTS, type MeasureKind } from '@longheron/contract/requests';
import { type DatasetOf, type MeasuredDto } from '@longheron/contract/api';
import { api } from '../api/client';
import { useProject } from '../stores/project';
import { type LabelledPlace } from './labels';
import { type Picked } from './picking';

export const MEASURE_NAMES: Record<MeasureKind, string> = {
  distance: 'Distance',
  angle: 'Angle',
  area: 'Area',
  above: 'Above ground',
  plane: 'From a plane',
};
const NEXT: Record<MeasureKind, string[]> = {
  distance: ['Choose the first point', 'Choose the second point'],
  angle: ['Choose the end of the first side', 'Choose the vertex', 'Choose the end of the second side'],
  area: ['Choose the corners, one after the other'],
  above: ['Choose the point'],
  plane: ['Choose a point in the plane', 'Choose the point whose distance is asked for'],
};

/** Measuring between points of a cloud: what was picked, what it gives, and what is kept of it. */
export function useMeasuring(dataset: () => DatasetOf<'point-cloud'>) {
  const store = useProject();
  const kind = ref<MeasureKind | null>(null);
  const picks = shallowRef<Picked[]>([]);
  const result = shallowRef<Omit<MeasuredDto, 'name'> | null>(null);
  const failure = ref('');
  const busy = ref(false);
  /** About the first point, of the plane's points, metres. */
  const radiusM = ref(0.5);
  const kept = shallowRef<MeasuredDto[]>([]);
  const at = (what: string) => `/projects/${store.project!.id}/${what}`;

  async function load(): Promise<void> {
    kept.value = await api.get<MeasuredDto[]>(at('measured')).catch(() => kept.value);
  }
  watch(() => store.project?.id, load, { immediate: true });

  function begin(next: MeasureKind | null): void {
    kind.value = next;
    picks.value = [];
    result.value = null;
    failure.value = '';
  }
  watch(
    () => dataset().id,
    () => begin(kind.value),
  );

  /** What is asked for, once there are points enough. */
  function request(): { kind: MeasureKind; rows: number[]; radiusM?: number } | undefined {
    const wanted = kind.value;
    if (!wanted || picks.value.length < MEASURE_POINTS[wanted][0]) return undefined;
    const rows = picks.value.map((p) => p.row);
    return { kind: wanted, rows, ...(wanted === 'plane' ? { radiusM: radiusM.value } : {}) };
  }
  let turn = 0;
  async function ask(): Promise<void> {
    const body = request();
    if (!body) return;
    const mine = ++turn;
    busy.value = true;
    failure.value = '';
    try {
      const got = await api.post<Omit<MeasuredDto, 'name'>>(at(`datasets/${dataset().id}/measure`), body);
      if (mine === turn) result.value = got;
    } catch (error) {
      if (mine === turn) {
        result.value = null;
        failure.value = (error as Error).message;
      }
    } finally {
      if (mine === turn) busy.value = false;
    }
  }
  function add(p: Picked | undefined): void {
    if (!p || !kind.value) return;
    const [fewest, most] = MEASURE_POINTS[kind.value];
    const full = picks.value.length >= most || (fewest === most && result.value);
    picks.value = full ? [p] : [...picks.value, p];
    if (full) result.value = null;
    void ask();
  }
  /** Takes the last point back. */
  function back(): void {
    picks.value = picks.value.slice(0, -1);
    result.value = null;
    void ask();
  }
  watch(radiusM, () => void ask());

  /** The first name that is free. */
  const freeName = computed(() => {
    const base = kind.value ? MEASURE_NAMES[kind.value].toLowerCase() : '';
    const taken = new Set(kept.value.map((m) => m.name));
    for (let n = kept.value.filter((m) => m.kind === kind.value).length + 1; ; n++)
      if (!taken.has(`${base} ${n}`)) return `${base} ${n}`;
  });
  async function keep(name: string): Promise<void> {
    const body = request();
    if (!result.value || !body) return;
    if (await store.attempt(() => api.put(at(`datasets/${dataset().id}/measured`), { ...body, name }))) {
      begin(kind.value);
      await load();
    }
  }
  async function remove(name: string): Promise<void> {
    if (await store.attempt(() => api.del(at(`measured/${encodeURIComponent(name)}`)))) await load();
  }
  const hint = computed(() => {
    if (!kind.value) return '';
    const texts = NEXT[kind.value];
    return texts[Math.min(picks.value.length, texts.length - 1)];
  });

  /** What is drawn as lines: kept ones, and what is being measured. */
  const lines = computed(() => {
    const closed = (k: string, list: Array<[number, number, number]>) =>
      k === 'area' && list.length > 2 ? [...list, list[0]] : list;
    const place = (p: { eastingM: number; northingM: number; heightM: number }): [number, number, number] => [
      p.eastingM,
      p.northingM,
      p.heightM,
    ];
    const own = kind.value ? [closed(kind.value, picks.value.map(place))] : [];
    return [...kept.value.map((m) => closed(m.kind, m.points.map(place))), ...own].filter((l) => l.length > 1);
  });
  const labels = computed<LabelledPlace[]>(() => [
    ...(kind.value ? kept.value : []).map((m): LabelledPlace => {
      const p = m.points[0];
      return { key: `kept ${m.name}`, text: m.name, cls: 'end', at: [p.eastingM, p.northingM, p.heightM] };
    }),
    ...picks.value.map((p, i): LabelledPlace => ({
      key: `end${i}`,
      text: String(i + 1),
      cls: 'end',
      at: [p.eastingM, p.northingM, p.heightM],
    })),
  ]);
  return {
    kind,
    picks,
    result,
    failure,
    busy,
    radiusM,
    kept,
    freeName,
    hint,
    lines,
    labels,
    begin,
    add,
    back,
    keep,
    remove,
  };
}
