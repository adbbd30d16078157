import { readFile } from 'node:fs/promises';
import { type Router } from 'express';
import { type FileFacts } from '@longheron/contract/kinds';
import { ChangePicks } from '@longheron/contract/requests';
import { imageKey, picksCsv, readPicks, type Pick } from '@longheron/formats/picks';
import { Dataset, Project } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { storeBytes } from '../../storage';
import { contentOf, inTransaction, revise } from '../../trail';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { projectOf } from '../projects';

const MADE_HERE = 'Picks made here';
const keyOf = ({ image, point }: { image: string; point: string }) => `${imageKey(image)}\n${point}`;

/** Picks that a person makes in photographs: each change is a revision of their list, which is a file like any other. */
export function madePickRoutes(api: Router, { queue, store, storeFolder }: Services): void {
  api.get('/projects/:projectId/datasets/:id/picks', async (request, response) => {
    const project = await projectOf(request);
    const held = await heldOf(request, Number(project.id), 'picks', 'This dataset holds no picks.');
    response.json(readPicks(await readFile(store.path(held.content.object)), held.dataset.name));
  });

  api.post('/projects/:projectId/picks', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const body = bodyOf(request, ChangePicks);
    const id = body.dataset ?? Number((await madeHere(projectId)).id);
    const there = await Dataset.findOne({ where: { id, projectId, kind: 'picks' } });
    if (!there) throw new HttpError(404, 'There is no such list of picks.', { code: 'not-found' });
    await revise(id, async (dataset, revision) => {
      const object = revision ? contentOf('picks', revision).object : '';
      const list = new Map<string, Pick>();
      if (object) for (const p of readPicks(await readFile(store.path(object)), dataset.name)) list.set(keyOf(p), p);
      for (const gone of body.gone) list.delete(keyOf(gone));
      for (const { sdPx, ...pick } of body.set)
        list.set(keyOf(pick), { ...pick, ...(sdPx === undefined ? {} : { sdPx }) });
      const picks = [...list.values()];
      const bytes = new TextEncoder().encode(picksCsv(picks));
      const kept = await storeBytes(storeFolder, bytes);
      await store.catalogue(kept.sha256, kept.bytes, 'picks');
      return {
        contentHash: kept.sha256,
        madeBy: 'edit',
        content: { object: kept.sha256, bytes: kept.bytes, facts: factsOf(dataset.name, picks, kept.bytes) },
      };
    });
    queue.tell(projectId, 'datasets', id);
    response.status(201).json({ datasetId: id });
  });
}

const factsOf = (name: string, picks: readonly Pick[], bytes: number): FileFacts => ({
  kind: 'picks',
  name,
  bytes,
  count: picks.length,
  startGps: null,
  endGps: null,
  rateHz: null,
  gaps: [],
  extent: null,
  details: [
    ['Photographs', String(new Set(picks.map((p) => imageKey(p.image))).size)],
    ['Points', String(new Set(picks.map((p) => p.point)).size)],
  ],
});

/** The list of picks made here; made when there is none yet. */
const madeHere = (projectId: number) =>
  inTransaction(async (transaction) => {
    await Project.findByPk(projectId, { transaction, lock: true });
    const where = { projectId, kind: 'picks' as const, name: MADE_HERE };
    return (
      (await Dataset.findOne({ where, transaction })) ??
      Dataset.create({ ...where, stage: 'gather', createdAt: new Date() }, { transaction })
    );
  });
