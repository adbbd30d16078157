import { planTextOf, type NoticeDto, type ProjectHoldings, type ReferenceDto } from '@longheron/contract/api';
import { stageStates } from '@longheron/contract/progress';
import { Dataset, NoticeRow, Picture, Project, Revision, Run, StoredObject, Style } from '../../database/models';
import { HttpError } from '../../http/errors';
import { namesIn } from '../../storage/sweep';
import { type Services } from '../../services';
import { datasetsOf, inTransaction } from '../../trail';
import { smallPlan } from './smallPlan';

const UNDER_WAY = ['queued', 'running'];

/** What a project holds: files and results, their size in the store, how far each stage is, day and place of its recordings. */
export async function holdingsOf({ store }: Services, project: Project): Promise<ProjectHoldings> {
  const projectId = Number(project.id);
  const datasets = await datasetsOf(projectId);
  const [revisions, runs, notices] = await Promise.all([
    Revision.findAll({ where: { datasetId: datasets.map((d) => d.id) }, attributes: ['content'] }),
    Run.findAll({ where: { projectId, status: UNDER_WAY }, attributes: ['operation', 'status'] }),
    NoticeRow.findAll({ where: { projectId, state: 'open' }, attributes: ['datasetId', 'state', 'severity'] }),
  ]);
  const objects = new Set<string>();
  for (const r of revisions) namesIn(r.content, objects);
  const stored = await StoredObject.findAll({ where: { sha256: [...objects].map((o) => Buffer.from(o, 'hex')) } });
  const starts = datasets.flatMap((d) => ('facts' in d.revision.content && d.revision.content.facts?.startGps) || []);
  const system = project.reference ? planTextOf(project.reference as ReferenceDto) : null;
  return {
    files: datasets.filter((d) => d.stage === 'gather').length,
    results: datasets.filter((d) => d.stage !== 'gather').length,
    bytes: stored.reduce((sum, o) => sum + Number(o.bytes), 0),
    startGps: starts.length ? starts.reduce((a, b) => Math.min(a, b)) : null,
    stages: stageStates(datasets, runs, notices.map(openNotice)),
    plan: await smallPlan(store, datasets, system),
  };
}

const openNotice = (n: NoticeRow) => ({
  datasetId: n.datasetId === null ? null : Number(n.datasetId),
  state: 'open' as const,
  severity: n.severity as NoticeDto['severity'],
});

/** Kinds of what people keep under names for one project: views and measurements. */
const keptFor = (projectId: number) => ['view', 'measured'].map((kind) => `${kind} ${projectId}`);

/**
 * Deletes a project with all it holds. What nothing else refers to leaves the store at the next start; raw files that
 * were picked stay where they are.
 */
export async function deleteProject(project: Project): Promise<void> {
  const projectId = Number(project.id);
  if (await Run.count({ where: { projectId, status: UNDER_WAY } }))
    throw new HttpError(409, 'A job of this project is running.', {
      code: 'busy',
      remedy: 'Wait for it, or cancel it, then delete the project.',
    });
  await inTransaction(async (transaction) => {
    const ids = (await Dataset.findAll({ where: { projectId }, transaction })).map((d) => d.id);
    await NoticeRow.destroy({ where: { projectId }, transaction });
    await Dataset.update({ currentRevisionId: null }, { where: { projectId }, transaction });
    // each revision may name the one before it
    await Revision.update({ parentId: null }, { where: { datasetId: ids }, transaction });
    await Revision.destroy({ where: { datasetId: ids }, transaction });
    await Dataset.destroy({ where: { projectId }, transaction });
    await Run.destroy({ where: { projectId }, transaction });
    await Picture.destroy({ where: { projectId }, transaction });
    await Style.destroy({ where: { kind: keptFor(projectId) }, transaction });
    await Style.destroy({ where: { kind: 'look', name: String(projectId) }, transaction });
    await project.destroy({ transaction });
  });
}
