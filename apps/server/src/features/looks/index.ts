import { json, type Router } from 'express';
import { KeepLooks } from '@longheron/contract/requests';
import { Dataset } from '../../database/models';
import { bodyOf } from '../../http/body';
import { type Services } from '../../services';
import { datasetOf } from '../datasets/find';
import { editableOf } from '../edits/kept';
import { projectOf } from '../projects';
import { LOOK_KINDS, looksOf } from './kept';

const BATCH = 500;

/** The looked-at map: what the views report, and what they show of it. */
export function lookRoutes(api: Router, { queue }: Services): void {
  api.post('/projects/:projectId/datasets/:id/looks', json({ limit: '1mb' }), async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const { looks } = bodyOf(request, KeepLooks);
    const now = new Date();
    for (let i = 0; i < looks.length; i += BATCH) {
      const part = looks.slice(i, i + BATCH);
      await Dataset.sequelize!.query(
        `INSERT INTO looks (datasetId, cellX, cellY, how, seconds, lastAt) VALUES ${part.map(() => '(?, ?, ?, ?, ?, ?)').join(', ')}
         ON DUPLICATE KEY UPDATE seconds = seconds + VALUES(seconds), lastAt = VALUES(lastAt)`,
        {
          replacements: part.flatMap((l) => [Number(dataset.id), l.x, l.y, LOOK_KINDS.indexOf(l.how), l.seconds, now]),
        },
      );
    }
    response.status(204).end();
  });

  api.get('/projects/:projectId/datasets/:id/looks', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const cloud = editableOf(dataset, revision);
    const { content } = await queue.ask('look-cells', { cloud }, `looks ${dataset.id}`);
    response.json({ cells: content.cells, looks: await looksOf(Number(dataset.id)) });
  });
}
