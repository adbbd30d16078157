import { type FinderName, type Selection } from '@longheron/core/cloud';
import { Dataset, Revision, Run } from '../../database/models';
import { HttpError } from '../../http/errors';
import { isStored } from '@longheron/contract/kinds/point-cloud';
import { type EditedCloud } from '@longheron/operations/shared/stored';
import { type Services } from '../../services';
import { addRevision, contentOf } from '../../trail';

/** What an act on a stored cloud needs of its revision. @throws HttpError when it is no cloud, or not ready. */
export function editableOf(dataset: Dataset, revision: Revision): EditedCloud {
  const c = contentOf('point-cloud', revision);
  if (dataset.kind !== 'point-cloud' || !isStored(c))
    throw new HttpError(409, `"${dataset.name}" is no cloud that can be edited yet.`, {
      code: 'kind',
      remedy: 'Wait until the job that prepares it has ended.',
    });
  const { las, index, order, edits, countsByClass, rejected } = c;
  return { las, index, order, edits, countsByClass, rejected };
}

/** Which finder found the rows that a selection names, as far as the project's jobs tell. */
export async function findersOf(
  projectId: number,
  selection: Selection,
): Promise<(object: string) => { finder: FinderName; settings: Record<string, number> } | undefined> {
  // a stroke of the brush names none: nothing is asked of the database for it
  if (!selection.regions.some(({ shape }) => shape.kind === 'rows')) return () => undefined;
  const runs = await Run.findAll({
    where: { projectId, operation: 'find', status: 'done' },
    order: [['id', 'DESC']],
    limit: 1000,
    attributes: ['settings'],
  });
  return (object) => {
    const run = runs.find((r) => r.settings.object === object);
    if (!run) return undefined;
    const { finder, object: _object, ...settings } = run.settings;
    return { finder: finder as FinderName, settings: settings as { [setting: string]: number } };
  };
}

/** Appends acts that a job did as a revision of the cloud, unless it has changed meanwhile; then the job has failed. */
export async function keepActs(
  queue: Services['queue'],
  run: Run,
  dataset: Dataset,
  before: Revision,
  result: { hash: string; content: Pick<EditedCloud, 'edits' | 'countsByClass' | 'rejected'> },
): Promise<Revision> {
  const { edits, countsByClass, rejected } = result.content;
  try {
    const made = await Run.sequelize!.transaction(async (transaction) => {
      const target = await Dataset.findByPk(dataset.id, { transaction, lock: true });
      if (!target || Number(target.currentRevisionId) !== Number(before.id))
        throw new HttpError(409, 'The cloud was changed meanwhile; nothing was done.', { code: 'stale' });
      return addRevision(
        target,
        {
          contentHash: result.hash,
          runId: Number(run.id),
          madeBy: run.operation,
          version: before.operationVersion,
          inputs: before.inputs,
          content: { ...contentOf('point-cloud', before), edits, countsByClass, rejected },
        },
        transaction,
      );
    });
    await queue.succeed(run, [Number(dataset.id)]);
    return made;
  } catch (error) {
    await queue.fail(run, error);
    throw error;
  }
}
