import { type Router } from 'express';
import { outlinesIn } from '@longheron/operations/shared/outlines';
import { systemText } from '../../trail';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { projectOf } from '../projects';

/** Areas and lines in the plan of the project, as its system is now. */
export function outlineRoutes(api: Router, { store }: Services): void {
  api.get('/projects/:projectId/datasets/:id/outlines', async (request, response) => {
    const project = await projectOf(request);
    const refusal = 'This dataset holds no areas or lines.';
    const { dataset, content } = await heldOf(request, Number(project.id), 'outlines', refusal);
    response.json(await outlinesIn(store.path(content.object), dataset.name, systemText(project), content.crs));
  });
}
