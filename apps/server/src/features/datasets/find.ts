import { type Request } from 'express';
import { Dataset, Revision } from '../../database/models';
import { idOf } from '../../http/body';
import { HttpError } from '../../http/errors';

/** The dataset named in the path, of this project, with its current revision; 404 otherwise. */
export async function datasetOf(
  request: Request,
  projectId: number,
): Promise<{ dataset: Dataset; revision: Revision }> {
  const dataset = await Dataset.findOne({ where: { id: idOf(request), projectId } });
  const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  if (!dataset || !revision) throw new HttpError(404, 'There is no such dataset.', { code: 'not-found' });
  return { dataset, revision };
}
