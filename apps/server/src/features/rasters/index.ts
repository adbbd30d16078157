import { type Router } from 'express';
import { idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { rasterTile } from '@longheron/operations/shared/raster';
import { type Services } from '../../services';
import { contentOf } from '../../trail';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';

const DEEPEST_ZOOM = 16;

/** Squares of a picture for maps; a picture never changes, so they are kept by the browser. */
export function rasterRoutes(api: Router, { store }: Services): void {
  api.get('/projects/:projectId/datasets/:id/tiles/:zoom/:column/:row', async (request, response) => {
    const project = await projectOf(request);
    const refusal = 'This is no picture that can be shown in plan.';
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    if (dataset.kind !== 'raster' && dataset.kind !== 'orthophoto') throw new HttpError(409, refusal, { code: 'kind' });
    const content = contentOf(dataset.kind, revision);
    const { raster } = content;
    if (!raster) throw new HttpError(409, refusal, { code: 'kind' });
    const number = (name: 'zoom' | 'column' | 'row') => (request.params[name] === '0' ? 0 : idOf(request, name));
    const zoom = number('zoom');
    if (zoom > DEEPEST_ZOOM) throw new HttpError(404, 'There is no such zoom.', { code: 'not-found' });
    const path = store.path(content.object);
    const png = await rasterTile(path, raster, zoom, number('column'), number('row'));
    if (!png) throw new HttpError(404, 'The picture does not reach there.', { code: 'not-found' });
    response.set('Cache-Control', 'private, max-age=86400, immutable').type('png').send(png);
  });
}
