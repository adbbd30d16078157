import { type Router } from 'express';
import { outlinesIn } from '@longheron/operations/outlines';
import { HttpError } from '../../http/errors';
import { systemText } from '../../jobs/operations';
import { type Services } from '../../services';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';

/** Areas and lines in the plan of the project, as its system is now. */
export function outlineRoutes(api: Router, { store }: Services): void {
  api.get('/projects/:projectId/datasets/:id/outlines', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    if (dataset.kind !== 'outlines')
      throw new HttpError(409, 'This dataset holds no areas or lines.', { code: 'kind' });
    response.json(await outlinesIn(store.path(String(revision.content.object)), dataset.name, systemText(project)));
  });
}
