import { type Router } from 'express';
import { OwnClassRequest } from '@longheron/contract/requests';
import { Style } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { projectOf } from '../projects';
import { ownClassesOf, ownClassKind } from './kept';

/** Classes of a project's own: the LAS standard leaves codes from 64 on to people. */
export function classRoutes(api: Router, { queue }: Services): void {
  api.get('/projects/:projectId/classes', async (request, response) => {
    response.json(await ownClassesOf(Number((await projectOf(request)).id)));
  });

  /** Keeps a class under its code; one of the same code is replaced. */
  api.put('/projects/:projectId/classes', async (request, response) => {
    const id = Number((await projectOf(request)).id);
    const own = bodyOf(request, OwnClassRequest);
    const known = await ownClassesOf(id);
    if (known.some((c) => c.code !== own.code && c.name.toLowerCase() === own.name.toLowerCase()))
      throw new HttpError(409, `There is a class "${own.name}" already.`, {
        code: 'class-name',
        field: 'name',
        remedy: 'Choose another name.',
      });
    await Style.upsert({ kind: ownClassKind(id), name: String(own.code), content: { ...own } });
    queue.tell(id, 'datasets', 0);
    response.status(204).end();
  });

  /** Forgets name and colour; points keep their code. */
  api.delete('/projects/:projectId/classes/:code', async (request, response) => {
    const id = Number((await projectOf(request)).id);
    const code = String(idOf(request, 'code'));
    const gone = await Style.destroy({ where: { kind: ownClassKind(id), name: code } });
    if (!gone) throw new HttpError(404, `There is no class ${code} of your own.`, { code: 'not-found' });
    queue.tell(id, 'datasets', 0);
    response.status(204).end();
  });
}
