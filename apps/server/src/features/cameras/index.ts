import { readFile } from 'node:fs/promises';
import { type Router } from 'express';
import { type KeptCameraDto } from '@longheron/contract/api';
import { groupPhotographs } from '@longheron/core/photo';
import { readCameras } from '@longheron/formats/cameras';
import { Dataset, Style } from '../../database/models';
import { HttpError } from '../../http/errors';
import { storeBytes } from '../../storage';
import { addRevision } from '../../trail';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { projectOf } from '../projects';
import { listOfCameras } from './list';

const KIND = 'camera';
const NAME_CHARACTERS = 60;

/** Cameras that blocks have found, kept for all projects; and lists of cameras made for photographs from them. */
export function cameraRoutes(api: Router, { queue, store, storeFolder }: Services): void {
  const kept = async (): Promise<KeptCameraDto[]> => {
    const rows = await Style.findAll({ where: { kind: KIND }, order: [['id', 'DESC']] });
    return rows.map((r) => r.content as KeptCameraDto);
  };

  api.get('/cameras', async (_request, response) => {
    response.json(await kept());
  });

  /** Keeps a camera as a block has adjusted it; the same body of the same block is replaced. */
  api.put('/projects/:projectId/datasets/:id/cameras/:name/kept', async (request, response) => {
    const project = await projectOf(request);
    const refusal = 'This dataset is no block of photographs.';
    const { dataset, revision, content } = await heldOf(request, Number(project.id), 'block', refusal);
    const { name } = request.params;
    const figures = content.figures.cameras[name];
    const bytes = await readFile(store.path(content.cameras));
    const found = readCameras(bytes, dataset.name).find((c) => c.name === name);
    if (!figures || !found) throw new HttpError(404, `The block has no camera ${name}.`, { code: 'not-found' });
    if (!figures.terms.some((t) => t.found))
      throw new HttpError(409, `Nothing of ${name} was adjusted in this block.`, {
        code: 'camera-nominal',
        remedy: 'Keep a camera of a block that tells of it.',
      });
    const json = JSON.parse(bytes.toString()) as { cameras: { [name: string]: { [key: string]: unknown } } };
    const { images: _images, ...camera } = json.cameras[name];
    const key = `${found.bodySerial ?? name} ${found.widthPx}×${found.heightPx} ${dataset.name}`.slice(
      0,
      NAME_CHARACTERS,
    );
    const one: KeptCameraDto = {
      key,
      name,
      serial: found.bodySerial ?? '',
      lens: found.lens ?? '',
      widthPx: found.widthPx,
      heightPx: found.heightPx,
      focalPx: found.focalPx,
      sdFocalPx: found.sd.focalPx,
      nominalFocalPx: figures.nominal_focal_px,
      changeRmsPx: figures.change_rms_px,
      block: dataset.name,
      project: project.name,
      date: revision.createdAt.toISOString().slice(0, 10),
      camera: { ...camera, date: revision.createdAt.toISOString().slice(0, 10), block: dataset.name },
    };
    await Style.upsert({ kind: KIND, name: key, content: one });
    response.status(201).json(one);
  });

  api.delete('/cameras/:key', async (request, response) => {
    const gone = await Style.destroy({ where: { kind: KIND, name: request.params.key } });
    if (!gone) throw new HttpError(404, 'There is no such camera in the library.', { code: 'not-found' });
    response.status(204).end();
  });

  /** Makes a list of cameras for a set of photographs: from the library by their bodies, else nominal from their EXIF. */
  api.post('/projects/:projectId/datasets/:id/camera-list', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const refusal = 'This dataset holds no photographs.';
    const { dataset: set, content } = await heldOf(request, projectId, 'photo-set', refusal);
    const asked = { object: content.object, name: set.name };
    const { content: taken } = await queue.ask('photograph-list', asked, `cameras of ${content.object}`);
    const { json, cameras } = listOfCameras(groupPhotographs(taken), await kept(), set.name);
    const bytes = new TextEncoder().encode(json);
    const object = await storeBytes(storeFolder, bytes);
    await store.catalogue(object.sha256, object.bytes, 'cameras');
    const name = `Cameras of ${set.name}`;
    const where = { projectId, kind: 'cameras' as const, name };
    const dataset =
      (await Dataset.findOne({ where })) ??
      (await Dataset.create({ ...where, stage: 'gather', createdAt: new Date() }));
    await addRevision(dataset, {
      contentHash: object.sha256,
      madeBy: 'edit',
      content: {
        object: object.sha256,
        bytes: object.bytes,
        facts: {
          kind: 'cameras',
          name,
          bytes: object.bytes,
          count: cameras.length,
          startGps: null,
          endGps: null,
          rateHz: null,
          gaps: [],
          extent: null,
          details: cameras.map((c): [string, string] => [
            c.name,
            `from ${c.from === 'EXIF' ? 'EXIF, nominal' : 'the library'}`,
          ]),
        },
      },
    });
    queue.tell(projectId, 'datasets', Number(dataset.id));
    response.status(201).json({ datasetId: Number(dataset.id), cameras });
  });
}
