import { createPinia, setActivePinia, type Pinia } from 'pinia';
import { type DatasetDto, type NoticeDto, type ProjectDto, type RunDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';
import { FakeServer } from './fakeServer';

export const PROJECT: ProjectDto = {
  id: 7,
  name: 'Reach',
  toleranceM: 0.03,
  planToleranceM: 0.03,
  classTolerance: 95,
  surfaceToleranceM: 0.02,
  purpose: '',
  putAway: false,
  createdAt: '2026-06-16T08:00:00Z',
  reference: null,
};

type Change = Partial<Omit<DatasetDto, 'revision' | 'kind'>> & { revision?: object };

/** A dataset as the server would send it; what is not said is as for a file just taken in. */
export function dataset(id: number, kind: DatasetDto['kind'], content: object = {}, change: Change = {}): DatasetDto {
  return {
    id,
    kind,
    name: `${kind} ${id}`,
    stage: 'gather',
    revisions: 1,
    canUndo: false,
    canRedo: false,
    outOfDate: false,
    outOfDateBecause: null,
    ...change,
    revision: {
      id: 100 + id,
      number: 1,
      contentHash: `${id}abcdef0123456789`,
      runId: null,
      madeBy: 'intake',
      inputs: [],
      createdAt: '2026-06-16T09:00:00Z',
      content,
      ...change.revision,
    },
  } as DatasetDto;
}

export function run(id: number, change: Partial<RunDto> = {}): RunDto {
  return {
    id,
    projectId: 7,
    operation: 'place',
    title: 'Make the cloud',
    status: 'done',
    progress: 1,
    doing: '',
    settings: {},
    startedAt: '2026-06-16T09:00:00Z',
    endedAt: '2026-06-16T09:01:05Z',
    secondsLeft: null,
    error: null,
    log: [],
    outputs: [],
    ...change,
  };
}

export function notice(id: number, change: Partial<NoticeDto> = {}): NoticeDto {
  return {
    id,
    code: 'gap',
    severity: 'warning',
    text: `Notice ${id}.`,
    datasetId: null,
    state: 'open',
    reason: null,
    fix: null,
    ...change,
  };
}

/** What the server knows of the project. */
export interface Known {
  datasets?: DatasetDto[];
  runs?: RunDto[];
  notices?: NoticeDto[];
  project?: Partial<ProjectDto>;
}

/** A server with a project, opened in a store of its own. */
export async function opened(known: Known = {}): Promise<{
  server: FakeServer;
  store: ReturnType<typeof useProject>;
  pinia: Pinia;
  /** Lets the server know something else from now on. */
  now(known: Known): void;
}> {
  const server = new FakeServer();
  const now = (k: Known) =>
    server
      .on('GET /projects/7', { ...PROJECT, ...k.project })
      .on('GET /projects/7/look', {})
      .on('GET /projects/7/datasets', k.datasets ?? [])
      .on('GET /projects/7/runs', k.runs ?? [])
      .on('GET /projects/7/notices', k.notices ?? [])
      .on('GET /projects/7/classes', []);
  now(known);
  const pinia = createPinia();
  setActivePinia(pinia);
  const store = useProject();
  await store.open(7);
  return { server, store, pinia, now };
}
