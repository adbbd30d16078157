import { type BinnedColumn } from '@longheron/core/trajectory';
import { computed } from 'vue';
import { isAboveGeoidIn, type DatasetOf } from '@longheron/contract/api';
import { type Mark } from '@longheron/core/accuracy';
import { objectJson } from '../api/client';
import { type MapMark } from '../map/marks';
import { useProject } from '../stores/project';
import { useLoaded } from '../ui/loaded';

export interface Preview {
  startGps: number;
  endGps: number;
  epochs: number;
  time: number[];
  eastingM: number[];
  northingM: number[];
  worstSdM: number[];
  columns: Record<string, { unit: string; min: number[]; max: number[] }>;
  statistics: Array<{ name: string; unit: string; mean: number; rms: number; min: number; max: number; p95: number }>;
  /** Absent in previews of older make. */
  around?: { undulationM: number };
  counts?: number[];
  binned?: BinnedColumn[];
}

/** Heights of the path in the system of the project, by the geoid in its middle; for drawing alone. */
function heightsOf(p: Preview, geoid: boolean): number[] | undefined {
  const column = p.columns['Ellipsoidal height'];
  const less = geoid ? (p.around?.undulationM ?? Number.NaN) : 0;
  const heights = column?.min.map((low, i) => (low + column.max[i]) / 2 - less);
  return heights?.every(Number.isFinite) ? heights : undefined;
}

/** Trajectory and marks as every map of the project shows them. @param chosen another trajectory than the usual. */
export function useMapData(chosen?: () => DatasetOf<'trajectory'> | undefined) {
  const store = useProject();
  const line = useLoaded<string, Preview | null>(
    () => (chosen ? chosen() : store.trajectory())?.revision.content.preview,
    objectJson<Preview>,
    null,
  );
  const preview = line.value;
  const path = computed(() =>
    preview.value
      ? {
          eastingM: preview.value.eastingM,
          northingM: preview.value.northingM,
          time: preview.value.time,
          value: preview.value.worstSdM,
          heightM: heightsOf(preview.value, !store.project?.reference || isAboveGeoidIn(store.project.reference)),
        }
      : null,
  );
  /** Marks whose findings say that their place is wrong stay off the map. */
  const marks = computed<MapMark[]>(() => {
    const seen = new Set<string>();
    const out: MapMark[] = [];
    for (const d of store.ofKind('marks'))
      for (const m of (d.revision.content.marks as Mark[] | undefined) ?? []) {
        const exchanged = store.notices.some(
          (n) => n.datasetId === d.id && /^mark-(exchanged|far)$/.test(n.code) && n.place === `mark ${m.name}`,
        );
        if (exchanged || seen.has(m.name)) continue;
        seen.add(m.name);
        out.push({
          name: m.name,
          role: m.role,
          eastingM: m.eastingM,
          northingM: m.northingM,
          leftOut: !!m.leftOutReason,
        });
      }
    return out;
  });
  return { preview, path, marks, line };
}
