import { createHash } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { type Router } from 'express';
import { parseMounting } from '@longheron/core/frames';
import { type CloudEditEntry, type ReferenceDto } from '@longheron/contract/api';
import { EditMounting } from '@longheron/contract/requests';
import { Dataset, NoticeRow, Revision, Run } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { addRevision } from '../../jobs/queue';
import { type Services } from '../../services';
import { projectOf } from '../projects';
import { datasetOf } from './find';
import { editedPoint, pointAttributes } from './point';
import { planCsv } from './planCsv';
import { sendPoints } from './pointFiles';
import { qualityCsv } from './qualityCsv';
import { type ClassCheck } from '@longheron/core/accuracy';
import { classesCsv } from './classesCsv';
import { deliveryCsv } from './deliveryCsv';
import { type DeliveryCheck } from '@longheron/core/cloud';
import { voidsCsv, type CoverageContent } from './voidsCsv';
import { residualsCsv } from './residualsCsv';
import { datasetsOf, revisionDto } from './trail';

export { datasetsOf } from './trail';

const hash = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');

const EXPORTS: Record<string, { extension: string; type: string }> = {
  geotiff: { extension: 'tif', type: 'image/tiff' },
  asciiGrid: { extension: 'asc', type: 'text/plain' },
  contoursGeoJson: { extension: 'geojson', type: 'application/geo+json' },
  contoursDxf: { extension: 'dxf', type: 'image/vnd.dxf' },
  highestTiff: { extension: 'tif', type: 'image/tiff' },
  aboveTiff: { extension: 'tif', type: 'image/tiff' },
  landXml: { extension: 'xml', type: 'application/xml' },
  landXmlPoints: { extension: 'xml', type: 'application/xml' },
  las: { extension: 'las', type: 'application/octet-stream' },
  pdf: { extension: 'pdf', type: 'application/pdf' },
  object: { extension: '', type: 'application/octet-stream' },
};

export function datasetRoutes(api: Router, { queue, store }: Services): void {
  api.get('/projects/:projectId/datasets', async (request, response) => {
    const project = await projectOf(request);
    response.json(await datasetsOf(Number(project.id)));
  });

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
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    if (dataset.kind !== 'mounting') throw new HttpError(409, 'This dataset is no mounting.', { code: 'kind' });
    const { mounting } = bodyOf(request, EditMounting);
    parseMounting(mounting, dataset.name);
    await addRevision(dataset, {
      contentHash: hash(mounting),
      madeBy: 'edit',
      content: { ...revision.content, mounting },
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
    const object = (r: Revision) => (r.content as { object: string }).object;
    const names = [dataset.name, other.name];
    const { run, result } = await queue.background(projectId, 'compare', `Compare ${names.join(' with ')}`, 'compare', {
      first: object(revision),
      second: object(otherRevision),
      names,
    });
    await queue.succeed(run, []);
    response.json(result.content);
  });

  /** Every attribute of a stored point, as its file holds it. */
  api.get('/projects/:projectId/datasets/:id/points/:row', async (request, response) => {
    const project = await projectOf(request);
    const { revision } = await datasetOf(request, Number(project.id));
    const row = Number(request.params.row);
    const { las, order } = revision.content as { las?: string; order?: string };
    if (!las || !order || !Number.isSafeInteger(row) || row < 0)
      throw new HttpError(404, 'There is no such point.', { code: 'not-found' });
    const { index, edits } = revision.content as { index?: string; edits?: CloudEditEntry[] };
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
      createReadStream(store.path(request.params.sha), { start, end: end - 1 })
        .on('error', next)
        .pipe(response);
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
    if (wanted === 'plan' && dataset.kind === 'plan-check') {
      const { figures, crs } = revision.content as { figures: Record<string, unknown>; crs: string };
      response.type('text/csv').attachment(`${base}.csv`);
      response.send(planCsv(figures, (project.reference as ReferenceDto | null)?.unit ?? 'metre', crs));
      return;
    }
    if (wanted === 'voids' && dataset.kind === 'coverage') {
      const unit = (project.reference as ReferenceDto | null)?.unit ?? 'metre';
      response.type('text/csv').attachment(`${base}.csv`);
      response.send(voidsCsv(revision.content as unknown as CoverageContent, unit, String(revision.content.crs)));
      return;
    }
    if (wanted === 'delivery' && dataset.kind === 'delivery') {
      response.type('text/csv').attachment(`${base}.csv`);
      response.send(deliveryCsv(revision.content.check as DeliveryCheck, String(revision.content.crs)));
      return;
    }
    if (wanted === 'classes' && dataset.kind === 'class-check') {
      const { figures, names } = revision.content as unknown as { figures: ClassCheck; names: Record<number, string> };
      response.type('text/csv').attachment(`${base}.csv`);
      response.send(classesCsv(figures, names));
      return;
    }
    if (wanted === 'residuals' && dataset.kind === 'residuals') {
      const line = project.reference as ReferenceDto | null;
      response.type('text/csv').attachment(`${base}.csv`);
      response.send(
        residualsCsv(
          revision.content.figures as Record<string, unknown>,
          line?.unit ?? 'metre',
          String(revision.content.crs),
        ),
      );
      return;
    }
    if (dataset.kind === 'trajectory' && (wanted === 'trajectory' || wanted === 'quality')) {
      const { object, preview, figures } = revision.content as {
        object: string;
        preview?: string;
        figures?: Record<string, unknown>;
      };
      response.type('text/csv').attachment(`${base}${wanted === 'quality' ? '_quality' : ''}.csv`);
      if (wanted === 'trajectory') {
        response.sendFile(store.path(object), { dotfiles: 'allow' });
        return;
      }
      const made = preview && store.has(preview) ? await readFile(store.path(preview), 'utf8') : '{"statistics":[]}';
      const { statistics } = JSON.parse(made) as { statistics: Parameters<typeof qualityCsv>[1] };
      response.send(qualityCsv(dataset.name, statistics, figures));
      return;
    }
    if (wanted === 'points' && dataset.kind === 'export') {
      sendPoints(response, store, revision.content, base);
      return;
    }
    const made = revision.content as { object?: string; stops?: unknown; network?: unknown };
    const handed = dataset.kind === 'export' && dataset.stage === 'position' && wanted === 'trajectory';
    if (
      handed ||
      (dataset.kind === 'positions' && wanted === 'positions') ||
      ((made.stops || made.network) && wanted === 'marks')
    ) {
      response.type('text/csv').attachment(`${base}.csv`);
      response.sendFile(store.path(made.object!), { dotfiles: 'allow' });
      return;
    }
    const format = EXPORTS[wanted];
    const content = revision.content as Record<string, string> & { exports?: Record<string, { sha256: string }> };
    let sha = ['las', 'pdf', 'object'].includes(wanted) ? content[wanted] : content.exports?.[wanted]?.sha256;
    const { edits } = revision.content as { edits?: CloudEditEntry[] };
    if (wanted === 'las' && edits?.length) {
      const { las, index, order } = content;
      const { run, result } = await queue.background(
        Number(project.id),
        'edited-file',
        `Write the edits of ${dataset.name} into its file`,
        'edited-file',
        { cloud: { las, index, order, edits } },
      );
      await queue.succeed(run, []);
      sha = String(result.content.las);
    }
    if (!format || !sha || !store.has(sha))
      throw new HttpError(404, 'There is no such export of this dataset.', { code: 'not-found' });
    response.type(format.type);
    const what = content.exports && wanted !== 'geotiff' ? `_${wanted}` : '';
    // a raw file goes out under its own name
    response.attachment(wanted === 'object' ? dataset.name : `${base}${what}.${format.extension}`);
    response.sendFile(store.path(sha), { dotfiles: 'allow' });
  });
}
