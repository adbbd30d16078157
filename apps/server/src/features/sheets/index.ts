import { type Router } from 'express';
import { SessionSheet } from '@longheron/contract/requests';
import { Sheet } from '../../database/models';
import { bodyOf } from '../../http/body';
import { type Services } from '../../services';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';

/** What people note of a session beside its recordings. It is no input of anything: nothing goes out of date by it. */
export function sheetRoutes(api: Router, { queue }: Services): void {
  api.get('/projects/:projectId/datasets/:id/sheet', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const sheet = await Sheet.findByPk(dataset.id);
    response.json({ sheet: sheet?.content ?? null, savedAt: sheet?.savedAt.toISOString() ?? null });
  });

  api.put('/projects/:projectId/datasets/:id/sheet', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const content = bodyOf(request, SessionSheet);
    await Sheet.upsert({ datasetId: dataset.id, content: { ...content }, savedAt: new Date() });
    queue.tell(Number(project.id), 'datasets', Number(dataset.id));
    response.status(204).end();
  });
}
