import { type Router } from 'express';
import { ProjectLook, SavedView } from '@longheron/contract/requests';
import { Style } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { projectOf } from '../projects';

const kindOf = (projectId: number) => `view ${projectId}`;

/** What was last seen of a project, by its id. */
const LOOK = 'look';

/** What is seen of a project: as it was last, and views that people keep under a name. */
export function viewRoutes(api: Router): void {
  api.get('/projects/:projectId/look', async (request, response) => {
    const { id } = await projectOf(request);
    const kept = await Style.findOne({ where: { kind: LOOK, name: String(id) } });
    response.json(kept?.content ?? {});
  });

  api.put('/projects/:projectId/look', async (request, response) => {
    const { id } = await projectOf(request);
    const { look } = bodyOf(request, ProjectLook);
    await Style.upsert({ kind: LOOK, name: String(id), content: look });
    response.status(204).end();
  });

  api.get('/projects/:projectId/views', async (request, response) => {
    const project = await projectOf(request);
    const kept = await Style.findAll({ where: { kind: kindOf(Number(project.id)) }, order: [['name', 'ASC']] });
    response.json(kept.map((v) => ({ name: v.name, look: v.content })));
  });

  /** Keeps a view under its name; one of the same name is replaced. */
  api.put('/projects/:projectId/views', async (request, response) => {
    const project = await projectOf(request);
    const { name, look } = bodyOf(request, SavedView);
    await Style.upsert({ kind: kindOf(Number(project.id)), name, content: look });
    response.status(204).end();
  });

  api.delete('/projects/:projectId/views/:name', async (request, response) => {
    const project = await projectOf(request);
    const { name } = request.params;
    const gone = await Style.destroy({ where: { kind: kindOf(Number(project.id)), name } });
    if (!gone) throw new HttpError(404, `There is no view named ${name}.`, { code: 'not-found' });
    response.status(204).end();
  });
}
