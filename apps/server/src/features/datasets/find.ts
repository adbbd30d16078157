import { type Contents, type DatasetKind } from '@longheron/contract/api';
import { contentOf, type Held } from '../../trail';
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

/** A dataset of a kind with its content; refused with a sentence when it is of another. */
export async function heldOf<K extends DatasetKind>(
  request: Request,
  projectId: number,
  kind: K,
  refusal: string,
): Promise<Held & { content: Contents[K] }> {
  const held = await datasetOf(request, projectId);
  if (held.dataset.kind !== kind) throw new HttpError(409, refusal, { code: 'kind' });
  return { ...held, content: contentOf(kind, held.revision) };
}
