import { Op } from 'sequelize';
import { type ProjectHoldings } from '@longheron/contract/api';
import { Dataset, NoticeRow, Picture, Project, Revision, Run, StoredObject, Style } from '../../database/models';
import { HttpError } from '../../http/errors';
import { namesIn } from '../../storage/sweep';
import { factsOf, inTransaction } from '../../trail';

/** What a project holds: files and results, their size in the store, the day of its recordings. */
export async function holdingsOf(projectId: number): Promise<ProjectHoldings> {
  const datasets = await Dataset.findAll({ where: { projectId, currentRevisionId: { [Op.not]: null } } });
  const revisions = await Revision.findAll({ where: { datasetId: datasets.map((d) => d.id) } });
  const current = new Set(datasets.map((d) => Number(d.currentRevisionId)));
  const objects = new Set<string>();
  let startGps: number | null = null;
  for (const r of revisions) {
    namesIn(r.content, objects);
    const from = current.has(Number(r.id)) ? factsOf(r)?.startGps : null;
    if (from !== null && from !== undefined && (startGps === null || from < startGps)) startGps = from;
  }
  const stored = await StoredObject.findAll({ where: { sha256: [...objects].map((o) => Buffer.from(o, 'hex')) } });
  return {
    files: datasets.filter((d) => d.stage === 'gather').length,
    results: datasets.filter((d) => d.stage !== 'gather').length,
    bytes: stored.reduce((sum, o) => sum + Number(o.bytes), 0),
    startGps,
  };
}

/** Kinds of what people keep under names for one project: views and measurements. */
const keptFor = (projectId: number) => ['view', 'measured'].map((kind) => `${kind} ${projectId}`);

/**
 * Deletes a project with all it holds. What nothing else refers to leaves the store at the next start; raw files that
 * were picked stay where they are.
 */
export async function deleteProject(project: Project): Promise<void> {
  const projectId = Number(project.id);
  if (await Run.count({ where: { projectId, status: { [Op.in]: ['queued', 'running'] } } }))
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
