import { type Router } from 'express';
import { CONTOUR_STYLES, ContourStyle } from '@longheron/contract/requests';
import { Style } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';

const isOurs = (name: string) => CONTOUR_STYLES.some((s) => s.name === name);

/** Named looks that people keep; the same for all projects. */
export function styleRoutes(api: Router): void {
  api.get('/contour-styles', async (_request, response) => {
    const kept = await Style.findAll({ where: { kind: 'contours' }, order: [['name', 'ASC']] });
    response.json([...CONTOUR_STYLES, ...kept.map((s) => s.content)]);
  });

  /** Keeps a style under its name; one of the same name is replaced. */
  api.put('/contour-styles', async (request, response) => {
    const style = bodyOf(request, ContourStyle);
    if (isOurs(style.name))
      throw new HttpError(409, 'This name belongs to a style that is always there.', {
        code: 'style-name',
        field: 'name',
        remedy: 'Choose another name.',
      });
    await Style.upsert({ kind: 'contours', name: style.name, content: { ...style } });
    response.status(204).end();
  });

  api.delete('/contour-styles/:name', async (request, response) => {
    const gone = await Style.destroy({ where: { kind: 'contours', name: request.params.name } });
    if (!gone)
      throw new HttpError(404, `There is no style of your own named ${request.params.name}.`, { code: 'not-found' });
    response.status(204).end();
  });
}
