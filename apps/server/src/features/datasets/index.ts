import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { pipeline } from 'node:stream';
import { type Router } from 'express';
import { parseMounting } from '@longheron/core/frames';
import { type Contents, type DatasetKind, type ReferenceDto } from '@longheron/contract/api';
import { kindOf, type KindExport } from '@longheron/contract/kinds';
import { EditMounting } from '@longheron/contract/requests';
import { Dataset, NoticeRow, Revision, Run, type Project } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { projectOf } from '../projects';
import { datasetOf, heldOf } from './find';
import { editedPoint, pointAttributes } from './point';
import { sendPoints } from './pointFiles';
import { addRevision, contentOf, datasetsOf, objectOf, revisionDto } from '../../trail';

const hash = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');

export function datasetRoutes(api: Router, { queue, store, lists }: Services): void {
  api.get('/projects/:projectId/datasets', (request, response) =>
    lists.send(request, response, async () => datasetsOf(Number((await projectOf(request)).id))),
  );

  api.get('/projects/:projectId/datasets/:id/revisions', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const rows = await Revision.findAll({ where: { datasetId: dataset.id }, order: [['number', 'DESC']] });
    const runs = new Map(
      (await Run.findAll({ where: { id: rows.map((r) => r.runId).filter((v) => v !== null) } })).map((r) => [
        Number(r.id),
        r,
      ]),
    );
    response.json(
      rows.map((r) => ({
        ...revisionDto(r),
        current: Number(r.id) === Number(dataset.currentRevisionId),
        settings: r.runId ? (runs.get(Number(r.runId))?.settings ?? null) : null,
      })),
    );
  });

  /** Makes an earlier (or later) revision current again: undo and redo of a run or edit. */
  api.post('/projects/:projectId/datasets/:id/revisions/:number/current', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const wanted = await Revision.findOne({ where: { datasetId: dataset.id, number: idOf(request, 'number') } });
    if (!wanted) throw new HttpError(404, 'There is no such revision.', { code: 'not-found' });
    await dataset.update({ currentRevisionId: wanted.id });
    queue.tell(Number(project.id), 'datasets', Number(dataset.id));
    response.status(204).end();
  });

  /** Takes back the last act not yet undone, or does it again. A new act after undo starts another line. */
  for (const way of ['undo', 'redo'] as const)
    api.post(`/projects/:projectId/datasets/:id/${way}`, async (request, response) => {
      const project = await projectOf(request);
      const { dataset, revision } = await datasetOf(request, Number(project.id));
      const to =
        way === 'undo'
          ? revision.parentId === null
            ? null
            : await Revision.findByPk(revision.parentId)
          : await Revision.findOne({ where: { parentId: revision.id }, order: [['id', 'DESC']] });
      if (!to)
        throw new HttpError(409, way === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.', {
          code: way,
        });
      await dataset.update({ currentRevisionId: to.id });
      queue.tell(Number(project.id), 'datasets', Number(dataset.id));
      response.json({ revision: to.number });
    });

  api.put('/projects/:projectId/datasets/:id/mounting', async (request, response) => {
    const project = await projectOf(request);
    const refusal = 'This dataset is no mounting.';
    const { dataset, content } = await heldOf(request, Number(project.id), 'mounting', refusal);
    const { mounting } = bodyOf(request, EditMounting);
    parseMounting(mounting, dataset.name);
    await addRevision(dataset, {
      contentHash: hash(mounting),
      madeBy: 'edit',
      content: { ...content, mounting },
    });
    queue.tell(Number(project.id), 'datasets', Number(dataset.id));
    response.status(204).end();
  });

  /** A trajectory less another of the project: a job, so no plain GET of another page may start it. */
  api.post('/projects/:projectId/datasets/:id/compare/:other', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset, revision } = await datasetOf(request, projectId);
    const other = await Dataset.findOne({ where: { id: Number(request.params.other) || 0, projectId } });
    const otherRevision = other?.currentRevisionId ? await Revision.findByPk(other.currentRevisionId) : null;
    if (!other || !otherRevision) throw new HttpError(404, 'There is no such dataset.', { code: 'not-found' });
    if (dataset.kind !== 'trajectory' || other.kind !== 'trajectory')
      throw new HttpError(409, 'Only trajectories can be compared like this.', { code: 'kind' });
    const object = (r: Revision) => contentOf('trajectory', r).object;
    const { run, result } = await queue.background(
      projectId,
      'compare',
      `Compare ${dataset.name} with ${other.name}`,
      'compare',
      { objects: [object(revision), object(otherRevision)], names: [dataset.name, other.name] },
    );
    await queue.succeed(run, []);
    response.json(result.content);
  });

  /** Every attribute of a stored point, as its file holds it. */
  api.get('/projects/:projectId/datasets/:id/points/:row', async (request, response) => {
    const project = await projectOf(request);
    const { revision } = await datasetOf(request, Number(project.id));
    const row = Number(request.params.row);
    const { las, order, index, edits } = contentOf('point-cloud', revision);
    if (!las || !order || !Number.isSafeInteger(row) || row < 0)
      throw new HttpError(404, 'There is no such point.', { code: 'not-found' });
    const edited = index && edits?.length ? await editedPoint(store, index, edits, row) : undefined;
    response.json(await pointAttributes(store.path(las), store.path(order), row, edited));
  });

  /** Discards a result that nothing depends on; raw files can be taken out of the project in the same way. */
  api.delete('/projects/:projectId/datasets/:id', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset } = await datasetOf(request, projectId);
    const id = Number(dataset.id);
    const user = (await datasetsOf(projectId)).find((d) => d.revision.inputs.some((i) => i.datasetId === id));
    if (user)
      throw new HttpError(409, `"${user.name}" was made from this.`, {
        code: 'in-use',
        remedy: 'Discard that first, or keep both.',
      });
    refuseInLine(project, (file) => file.dataset === id);
    await queue.refuseWhenBusy(projectId, id);
    await Dataset.sequelize!.transaction(async (transaction) => {
      await NoticeRow.destroy({ where: { datasetId: id }, transaction });
      await dataset.update({ currentRevisionId: null }, { transaction });
      await Revision.destroy({ where: { datasetId: id }, transaction });
      await dataset.destroy({ transaction });
    });
    queue.tell(projectId, 'datasets', id);
    response.status(204).end();
  });

  /** Discards an earlier revision; the current one stays. */
  api.delete('/projects/:projectId/datasets/:id/revisions/:number', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await datasetOf(request, Number(project.id));
    const wanted = await Revision.findOne({ where: { datasetId: dataset.id, number: idOf(request, 'number') } });
    if (!wanted) throw new HttpError(404, 'There is no such revision.', { code: 'not-found' });
    if (Number(wanted.id) === Number(dataset.currentRevisionId))
      throw new HttpError(409, 'The current revision cannot be discarded.', {
        code: 'current',
        remedy: 'Make another revision current first.',
      });
    const object = objectOf(wanted);
    refuseInLine(project, (file) => !!object?.startsWith(file.sha12));
    await Revision.update({ parentId: wanted.parentId }, { where: { parentId: wanted.id } });
    await wanted.destroy();
    queue.tell(Number(project.id), 'datasets', Number(dataset.id));
    response.status(204).end();
  });

  /** Stored bytes by their hash, by range; they never change. */
  api.get('/objects/:sha', (request, response, next) => {
    if (!/^[0-9a-f]{64}$/.test(request.params.sha) || !store.has(request.params.sha))
      throw new HttpError(404, 'There is no such object.', { code: 'not-found' });
    response.setHeader('ETag', `"${request.params.sha}"`);
    const type = String(request.query.type ?? '');
    if (['image/png', 'application/json', 'application/geo+json'].includes(type)) response.type(type);
    else response.type('application/octet-stream');
    const part = /^(\d{1,15})-(\d{1,15})$/.exec(String(request.query.part ?? ''));
    if (part) {
      const [start, end] = [Number(part[1]), Number(part[2])];
      const { size } = statSync(store.path(request.params.sha));
      if (start >= end || end > size)
        throw new HttpError(416, `The object has ${size} bytes.`, { code: 'range', field: 'part' });
      response.setHeader('Content-Length', end - start);
      response.setHeader('Cache-Control', 'public, max-age=31536000, immutable');
      // a reader that goes away closes the file too
      pipeline(createReadStream(store.path(request.params.sha), { start, end: end - 1 }), response, (error) => {
        if (error && !response.headersSent) next(error);
      });
      return;
    }
    response.sendFile(
      store.path(request.params.sha),
      { cacheControl: true, immutable: true, maxAge: 31536000000, etag: false, lastModified: false, dotfiles: 'allow' },
      (error) => {
        if (error && !response.headersSent) next(error);
      },
    );
  });

  /** A product as a file with a name people can use. */
  api.get('/projects/:projectId/datasets/:id/export/:format', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const wanted = String(request.params.format);
    const base = `${dataset.name.replace(/[^\w.-]+/g, '_')}_r${revision.number}`;
    if (wanted === 'points' && dataset.kind === 'export') {
      sendPoints(response, store, contentOf('export', revision), base);
      return;
    }
    const made = exported(dataset.kind, wanted, contentOf(dataset.kind, revision));
    if (!made || (made.object !== undefined && !store.has(made.object)))
      throw new HttpError(404, 'There is no such export of this dataset.', { code: 'not-found' });
    const { how, object, by } = made;
    response.type(how.type);
    // a raw file goes out under its own name
    response.attachment(how.ownName ? dataset.name : `${base}${how.suffix ?? ''}.${how.extension}`);
    if (by) {
      const unit = project.reference?.unit ?? 'metre';
      const asked = { operation: by, file: wanted, name: dataset.name, content: revision.content, unit };
      response.send((await queue.ask('export-text', asked, `export ${randomUUID()}`)).content.text);
      return;
    }
    const edited = wanted === 'las' ? await withEdits(Number(project.id), dataset.name, revision) : undefined;
    response.sendFile(store.path(edited ?? object!), { dotfiles: 'allow' });
  });

  /** The cloud's file with what was done to it by hand, written when somebody asks for it. */
  async function withEdits(projectId: number, name: string, revision: Revision): Promise<string | undefined> {
    const { las, index, order, edits } = contentOf('point-cloud', revision);
    if (!edits?.length || !las || !index || !order) return undefined;
    const title = `Write the edits of ${name} into its file`;
    const asked = { cloud: { las, index, order, edits } };
    const { run, result } = await queue.background(projectId, 'edited-file', title, 'edited-file', asked);
    await queue.succeed(run, []);
    return result.content.las;
  }
}

/** What a kind of dataset exports under a name: an object of the store, or text that an operation makes of the content. */
function exported<K extends DatasetKind>(
  kind: K,
  wanted: string,
  content: Contents[K],
): { how: KindExport<Contents[K]>; object?: string; by?: string } | undefined {
  const how = Object.entries(kindOf(kind).exports).find(([name]) => name === wanted)?.[1];
  if (!how || (how.there && !how.there(content))) return undefined;
  if (how.by) return { how, by: how.by };
  const object = how.object?.(content);
  return object === undefined ? undefined : { how, object };
}

/** Files that the reference line rests on stay. @throws HttpError when it uses one that is meant. */
function refuseInLine({ reference }: Project, isMeant: (file: NonNullable<ReferenceDto['geoid']>) => boolean): void {
  const used = [reference?.plan, reference?.geoid, reference?.shift].find((file) => file && isMeant(file));
  if (used)
    throw new HttpError(409, `The reference line uses ${used.name}.`, {
      code: 'in-use',
      remedy: 'Choose another system or another geoid in the reference line first.',
    });
}
