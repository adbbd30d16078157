import { type Request, type Router } from 'express';
import { type PhotographDto } from '@longheron/contract/api';
import { AskInPhotographs, DrawFeature } from '@longheron/contract/requests';
import { Problem } from '@longheron/core/shared';
import { photographOf } from '@longheron/operations/shared/photographs';
import { Dataset, Revision, type Project } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { contentOf, inTransaction, revise, systemText } from '../../trail';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { editableOf } from '../edits/kept';
import { projectOf } from '../projects';

const NO_SET = 'This dataset holds no photographs.';
const NO_BLOCK = 'This dataset is no block of photographs.';
const MOST_EDGE_PX = 2000;
/** Lists of photographs that are kept ready. */
const KEPT_LISTS = 20;

const crsOf = (project: Project) => (project.reference ? systemText(project) : null);

/** Photographs themselves, what they say of themselves, and what an adjusted block knows of points in them. */
export function photographRoutes(api: Router, services: Services): void {
  const { queue, store } = services;
  const lists = new Map<string, Promise<PhotographDto[]>>();
  /** None puts an end to another: each is short, and of another point. */
  let questions = 0;

  /** A list is read once: a set of photographs never changes. */
  function listOf(object: string, name: string): Promise<PhotographDto[]> {
    const known = lists.get(object);
    if (known) return known;
    const made = queue.ask('photograph-list', { object, name }, `photographs ${object}`).then((a) => a.content);
    lists.set(object, made);
    made.catch(() => lists.delete(object));
    if (lists.size > KEPT_LISTS) lists.delete(lists.keys().next().value!);
    return made;
  }

  api.get('/projects/:projectId/datasets/:id/photographs', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await heldOf(request, Number(project.id), 'photo-set', NO_SET);
    response.json(await listOf(content.object, dataset.name));
  });

  /** One of them as JPEG; with `edge` a small one. */
  api.get('/projects/:projectId/datasets/:id/photographs/:name', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await heldOf(request, Number(project.id), 'photo-set', NO_SET);
    const edge = request.query.edge === undefined ? undefined : Number(request.query.edge);
    if (edge !== undefined && !(Number.isInteger(edge) && edge > 0 && edge <= MOST_EDGE_PX))
      throw new HttpError(400, `An edge has 1 to ${MOST_EDGE_PX} pixels.`, { code: 'invalid', field: 'edge' });
    const jpeg = await photographOf(store.path(content.object), dataset.name, request.params.name, edge).catch((e) => {
      if (e instanceof Problem && e.code === 'photo-name') throw new HttpError(404, e.message, { code: e.code });
      throw e;
    });
    response.set('Cache-Control', 'private, max-age=86400, immutable').type('jpeg').send(Buffer.from(jpeg));
  });

  /** Photographs against every list of where they were taken, by dataset; a list that cannot be read is not among them. */
  api.get('/projects/:projectId/datasets/:id/photograph-pairs', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await heldOf(request, Number(project.id), 'photo-set', NO_SET);
    const lists: Array<{ id: number; object: string; name: string }> = [];
    for (const list of await Dataset.findAll({ where: { projectId: project.id, kind: 'positions' } })) {
      const revision = list.currentRevisionId ? await Revision.findByPk(list.currentRevisionId) : null;
      if (revision)
        lists.push({ id: Number(list.id), object: contentOf('positions', revision).object, name: list.name });
    }
    const asked = { set: { object: content.object, name: dataset.name }, lists, crs: crsOf(project) };
    response.json((await queue.ask('photograph-pairs', asked, `pairs ${dataset.id} ${questions++}`)).content);
  });

  /** The block of a request, as worker threads take it. */
  async function blockOf(request: Request, project: Project) {
    const held = await heldOf(request, Number(project.id), 'block', NO_BLOCK);
    if (!held.content.oriented)
      throw new HttpError(409, 'This block has no orientations.', { code: 'kind', remedy: 'Adjust it anew.' });
    return held;
  }

  api.post('/projects/:projectId/datasets/:id/in-photographs', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await blockOf(request, project);
    const { rays, at, sd, cloud } = bodyOf(request, AskInPhotographs);
    const found = cloud
      ? await Dataset.findOne({ where: { id: cloud, projectId: project.id, kind: 'point-cloud' } })
      : null;
    const revision = found?.currentRevisionId ? await Revision.findByPk(found.currentRevisionId) : null;
    const asked = {
      block: content,
      crs: crsOf(project),
      rays: rays.map((r) => ({ ...r, sdPx: r.sdPx ?? null })),
      ...(at ? { at, ...(sd ? { sd } : {}) } : {}),
      ...(found && revision ? { cloud: editableOf(found, revision) } : {}),
    };
    response.json((await queue.ask('in-photographs', asked, `in photographs ${dataset.id} ${questions++}`)).content);
  });

  /** A block against another of the project: a question to a worker, so no plain GET of another page may start it. */
  api.post('/projects/:projectId/datasets/:id/against/:other', async (request, response) => {
    const project = await projectOf(request);
    const own = await blockOf(request, project);
    const found = await Dataset.findOne({ where: { id: Number(request.params.other) || 0, projectId: project.id } });
    const revision = found?.currentRevisionId ? await Revision.findByPk(found.currentRevisionId) : null;
    if (!found || !revision) throw new HttpError(404, 'There is no such dataset.', { code: 'not-found' });
    if (found.kind !== 'block') throw new HttpError(409, NO_BLOCK, { code: 'kind' });
    const asked = { a: own.content, b: contentOf('block', revision), crs: crsOf(project) };
    response.json((await queue.ask('compare-blocks', asked, `blocks ${own.dataset.id} ${questions++}`)).content);
  });

  /** Changes what was measured in the photographs of a block; the first makes the dataset. */
  async function changeFeatures(
    request: Request,
    change: { draw?: DrawFeature; gone?: string },
    how: string,
  ): Promise<number> {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset: block, revision, content } = await blockOf(request, project);
    const { id } = await featuresOf(projectId, block.name);
    await revise(Number(id), async (_dataset, before) => {
      const held = before ? contentOf('features', before).features : [];
      if (change.gone !== undefined && !held.some((f) => f.name === change.gone))
        throw new HttpError(404, `Nothing named ${change.gone} was measured.`, { code: 'not-found' });
      const draw = change.draw && {
        ...change.draw,
        corners: change.draw.corners.map(({ seen }) => ({ seen: seen.map((s) => ({ ...s, sdPx: s.sdPx ?? null })) })),
      };
      const { content: made, objects } = await queue.ask(
        'draw-feature',
        {
          block: content,
          crs: crsOf(project),
          before: held,
          project: project.name,
          ...(draw ? { draw } : {}),
          ...(change.gone === undefined ? {} : { gone: change.gone }),
        },
        `features ${id}`,
      );
      for (const o of objects) await store.catalogue(o.sha256, o.bytes, o.kind);
      return {
        contentHash: made.csv,
        madeBy: 'edit',
        content: { ...made, block: Number(block.id), blockRevision: Number(revision.id), crs: content.crs, how },
        inputs: [
          {
            role: 'block',
            datasetId: Number(block.id),
            revisionId: Number(revision.id),
            contentHash: revision.contentHash.toString('hex'),
          },
        ],
      };
    });
    queue.tell(projectId, 'datasets', Number(id));
    return Number(id);
  }

  api.put('/projects/:projectId/datasets/:id/features', async (request, response) => {
    const draw = bodyOf(request, DrawFeature);
    response.json({ datasetId: await changeFeatures(request, { draw }, `${draw.name} drawn`) });
  });

  api.delete('/projects/:projectId/datasets/:id/features/:name', async (request, response) => {
    const gone = request.params.name;
    await changeFeatures(request, { gone }, `${gone} taken out`);
    response.status(204).end();
  });
}

/** What was measured in a block of this name; made when there is nothing yet. */
const featuresOf = (projectId: number, block: string) =>
  inTransaction(async (transaction) => {
    const where = { projectId, kind: 'features' as const, name: `Measured in ${block}` };
    return (
      (await Dataset.findOne({ where, transaction, lock: true })) ??
      Dataset.create({ ...where, stage: 'place', createdAt: new Date() }, { transaction })
    );
  });
