import { type DatasetDto, type NoticeDto, type RunDto, type StageState } from '../api';
import { operationOf } from '../operations';
import { STAGES, type Stage } from '../stages';

/** Jobs that are no operation of the trail, by the stage that they hold up. */
const OTHER_JOBS: { [job: string]: Stage } = { intake: 'gather', demo: 'gather', recipe: 'clean' };

/** The stage that a job belongs to: that of its operation, or of the jobs that are none. */
export const stageOfJob = ({ operation }: Pick<RunDto, 'operation'>): Stage | undefined =>
  operationOf(operation)?.stage ?? OTHER_JOBS[operation];

/** Whether a dataset stands in a stage. Trajectories stand in Position, also those that came with the files. */
export const standsIn = (stage: Stage, d: Pick<DatasetDto, 'kind' | 'stage'>): boolean =>
  stage === 'position' ? d.kind === 'trajectory' : d.stage === stage;

export const isUnderWay = ({ status }: Pick<RunDto, 'status'>) => status === 'running' || status === 'queued';

/** Notices that somebody has to look at. */
export const isOpen = ({ state, severity }: Pick<NoticeDto, 'state' | 'severity'>) =>
  state === 'open' && severity !== 'info';

/** How far each stage of a project is, in the order of the work. @param notices, runs of the whole project. */
export function stageStates(
  datasets: ReadonlyArray<Pick<DatasetDto, 'id' | 'kind' | 'stage' | 'outOfDate'>>,
  runs: ReadonlyArray<Pick<RunDto, 'operation' | 'status'>>,
  notices: ReadonlyArray<Pick<NoticeDto, 'datasetId' | 'state' | 'severity'>>,
): Array<{ stage: Stage; state: StageState }> {
  const busy = new Set(runs.filter(isUnderWay).map(stageOfJob));
  const attention = new Set(notices.filter(isOpen).map((n) => n.datasetId));
  return STAGES.map((stage) => {
    const own = datasets.filter((d) => standsIn(stage, d));
    if (busy.has(stage)) return { stage, state: 'in progress' };
    if (own.length === 0) return { stage, state: 'nothing yet' };
    if (own.some((d) => d.outOfDate)) return { stage, state: 'out of date' };
    if (own.some((d) => attention.has(d.id))) return { stage, state: 'needs attention' };
    // a trajectory that came with the files was computed elsewhere
    const given = stage === 'position' && own.every((d) => d.stage === 'gather');
    return { stage, state: given ? 'given' : 'done' };
  });
}
