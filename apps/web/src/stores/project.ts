import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import {
  isOf,
  type DatasetDto,
  type DatasetKind,
  type DatasetOf,
  type NoticeDto,
  type ProjectDto,
  type RunDto,
} from '@longheron/contract/api';
import { type Given } from '@longheron/contract/declare';
import { type Stage } from '@longheron/contract/stages';
import { isOpen, isUnderWay, stageStates, standsIn } from '@longheron/contract/progress';
import { ElMessage } from 'element-plus';
import { api, ApiError } from '../api/client';
import { listen } from '../api/events';
import { openLook } from './kept';

/** The open project: its datasets, jobs and notices, kept fresh by the server's events. */
export const useProject = defineStore('project', () => {
  const project = shallowRef<ProjectDto | null>(null);
  const datasets = shallowRef<DatasetDto[]>([]);
  const runs = shallowRef<RunDto[]>([]);
  const notices = shallowRef<NoticeDto[]>([]);
  const error = ref('');
  const loaded = ref(false);
  let stopListening: (() => void) | undefined;
  let reload: ReturnType<typeof setTimeout> | undefined;

  async function refresh(): Promise<void> {
    const id = project.value?.id;
    if (!id) return;
    const [p, d, r, n] = await Promise.all([
      api.get<ProjectDto>(`/projects/${id}`),
      api.get<DatasetDto[]>(`/projects/${id}/datasets`),
      api.get<RunDto[]>(`/projects/${id}/runs`),
      api.get<NoticeDto[]>(`/projects/${id}/notices`),
    ]);
    for (const now of r) {
      const before = runs.value.find((x) => x.id === now.id);
      if (now.status === 'failed' && before && before.status !== 'failed') tellFailure(now);
    }
    project.value = p;
    datasets.value = d;
    runs.value = r;
    notices.value = n;
    loaded.value = true;
  }

  function tellFailure(run: RunDto): void {
    const e = run.error;
    const where = [e?.file, e?.place].filter(Boolean).join(', ');
    ElMessage({
      message: `${run.title}: ${where ? `${where}: ` : ''}${e?.message ?? 'failed.'} ${e?.remedy ?? ''}`,
      type: 'error',
      duration: 12000,
      showClose: true,
    });
  }

  function soon(): void {
    reload ??= setTimeout(() => {
      reload = undefined;
      void refresh().catch(show);
    }, 150);
  }

  async function open(id: number): Promise<void> {
    close();
    error.value = '';
    try {
      const found = await api.get<ProjectDto>(`/projects/${id}`);
      await openLook(id);
      project.value = found;
      await refresh();
    } catch (e) {
      error.value = (e as Error).message;
      return;
    }
    stopListening = listen(
      id,
      (change) => {
        const known = runs.value.find((r) => r.id === change.id);
        if (change.what === 'run' && change.progress !== undefined && known?.status === 'running')
          runs.value = runs.value.map((r) =>
            r.id === change.id
              ? { ...r, progress: change.progress!, doing: change.doing ?? '', secondsLeft: change.secondsLeft ?? null }
              : r,
          );
        else soon();
      },
      soon,
    );
  }

  function close(): void {
    stopListening?.();
    stopListening = undefined;
    project.value = null;
    datasets.value = [];
    runs.value = [];
    notices.value = [];
    loaded.value = false;
  }

  function show(e: unknown): void {
    const text = e instanceof ApiError ? e.message : `Something went wrong: ${(e as Error).message}`;
    ElMessage({ message: text, type: 'error', duration: 8000, showClose: true });
  }

  const running = computed(() => runs.value.filter(isUnderWay));
  const openNotices = computed(() => notices.value.filter(isOpen));
  const outOfDate = computed(() => datasets.value.filter((d) => d.outOfDate));
  const ofKind = <K extends DatasetKind>(kind: K, stage?: Stage): Array<DatasetOf<K>> =>
    datasets.value.filter((d): d is DatasetOf<K> => isOf(d, kind) && (!stage || d.stage === stage));
  const latest = <K extends DatasetKind>(kind: K, stage?: Stage) => ofKind(kind, stage).at(-1);
  /** Time that a file covers, GPS seconds. */
  function spanOf(d: DatasetDto): [number, number] | undefined {
    const f = 'facts' in d.revision.content ? d.revision.content.facts : undefined;
    return f && f.startGps !== null && f.endGps !== null ? [f.startGps, f.endGps] : undefined;
  }
  /** The trajectory to work with: the latest that has attitude and covers laser returns, as far as there is one. */
  const trajectory = () => {
    const able = ofKind('trajectory').filter((d) => d.revision.content.point !== 'antenna');
    const returns = ofKind('laser-returns')
      .map(spanOf)
      .filter((s) => s !== undefined);
    const covered = able.filter((d) => {
      const s = spanOf(d);
      return s && returns.some((r) => Math.min(s[1], r[1]) > Math.max(s[0], r[0]));
    });
    return covered.at(-1) ?? able.at(-1) ?? latest('trajectory');
  };

  const ofStage = (stage: Stage): DatasetDto[] => datasets.value.filter((d) => standsIn(stage, d));

  const stages = computed(() => stageStates(datasets.value, runs.value, notices.value));

  async function run(
    operation: string,
    inputs: Record<string, number | number[]>,
    settings: Given,
    outputDataset?: number,
  ): Promise<void> {
    try {
      await api.post(`/projects/${project.value!.id}/runs`, {
        operation,
        inputs,
        settings,
        ...(outputDataset ? { outputDataset } : {}),
      });
      await refresh();
    } catch (e) {
      show(e);
    }
  }

  /** Undo or redo of the last run or edit of a dataset. */
  async function stepBack(dataset: DatasetDto, way: 'undo' | 'redo'): Promise<void> {
    let to = 0;
    const good = await attempt(async () => {
      to = (await api.post<{ revision: number }>(`/projects/${project.value!.id}/datasets/${dataset.id}/${way}`))
        .revision;
    });
    if (good)
      ElMessage({
        message: `${way === 'undo' ? 'Undone' : 'Done again'}: "${dataset.name}" is at revision ${to}.`,
        type: 'success',
      });
  }

  async function attempt(work: () => Promise<unknown>, done?: string): Promise<boolean> {
    try {
      await work();
      if (done) ElMessage({ message: done, type: 'success' });
      await refresh();
      return true;
    } catch (e) {
      show(e);
      return false;
    }
  }

  return {
    project,
    datasets,
    runs,
    notices,
    error,
    loaded,
    open,
    close,
    refresh,
    running,
    openNotices,
    outOfDate,
    ofKind,
    latest,
    trajectory,
    ofStage,
    stages,
    run,
    attempt,
    stepBack,
    show,
  };
});
