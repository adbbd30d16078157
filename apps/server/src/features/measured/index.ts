import { type Request, type Router } from 'express';
import { type MeasuredDto, type ReferenceDto } from '@longheron/contract/api';
import { KeepMeasured, MEASURE_POINTS, MeasurePoints } from '@longheron/contract/requests';
import { Style } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { systemText } from '../../trail';
import { type Services } from '../../services';
import { datasetOf } from '../datasets/find';
import { editableOf } from '../edits/kept';
import { projectOf } from '../projects';
import { measuredCsv } from './csv';

const kindOf = (projectId: number) => `measured ${projectId}`;

/** What people measure between points of clouds, and keep under a name. */
export function measuredRoutes(api: Router, { queue }: Services): void {
  const list = async (projectId: number): Promise<MeasuredDto[]> => {
    const kept = await Style.findAll({ where: { kind: kindOf(projectId) }, order: [['id', 'ASC']] });
    return kept.map((k) => ({ ...(k.content as MeasuredDto), name: k.name }));
  };

  /** Measures between points of the cloud of a request. */
  async function measured(request: Request, asked: MeasurePoints): Promise<Omit<MeasuredDto, 'name'>> {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const { kind, rows, radiusM } = asked;
    const [fewest, most] = MEASURE_POINTS[kind];
    if (rows.length < fewest || rows.length > most)
      throw new HttpError(422, `It takes ${fewest === most ? fewest : `${fewest} to ${most}`} points.`, {
        code: 'measure-points',
        remedy: 'Choose the points again.',
      });
    const payload = { cloud: editableOf(dataset, revision), kind, rows, radiusM: radiusM ?? 0.5 };
    const result = await queue.ask('measure', payload, `measure ${dataset.id}`);
    return { ...result.content, cloud: dataset.name, datasetId: Number(dataset.id), rows };
  }

  api.post('/projects/:projectId/datasets/:id/measure', async (request, response) => {
    response.json(await measured(request, bodyOf(request, MeasurePoints)));
  });

  /** Measures, and keeps it under a name; what had that name is replaced. */
  api.put('/projects/:projectId/datasets/:id/measured', async (request, response) => {
    const project = await projectOf(request);
    const body = bodyOf(request, KeepMeasured);
    const content = await measured(request, body);
    await Style.upsert({ kind: kindOf(Number(project.id)), name: body.name, content: { ...content, name: body.name } });
    response.status(204).end();
  });

  api.get('/projects/:projectId/measured', async (request, response) => {
    response.json(await list(Number((await projectOf(request)).id)));
  });

  api.get('/projects/:projectId/measured.csv', async (request, response) => {
    const project = await projectOf(request);
    const unit = (project.reference as ReferenceDto | null)?.unit ?? 'metre';
    response.type('text/csv').attachment('measured.csv');
    response.send(measuredCsv(await list(Number(project.id)), unit, systemText(project)));
  });

  api.delete('/projects/:projectId/measured/:name', async (request, response) => {
    const project = await projectOf(request);
    const { name } = request.params;
    const gone = await Style.destroy({ where: { kind: kindOf(Number(project.id)), name } });
    if (!gone) throw new HttpError(404, `Nothing named ${name} was measured.`, { code: 'not-found' });
    response.status(204).end();
  });
}
