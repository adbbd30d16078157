import express, { type Router } from 'express';
import { Picture } from '../../database/models';
import { idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { storeBytes } from '../../storage';
import { projectOf } from '../projects';

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const MAX_BYTES = 12 << 20;

/** Pictures that a person puts into the report. */
export function reportRoutes(api: Router, { store, storeFolder }: Services): void {
  api.get('/projects/:projectId/report-pictures', async (request, response) => {
    const project = await projectOf(request);
    const rows = await Picture.findAll({ where: { projectId: project.id }, order: [['id', 'ASC']] });
    response.json(rows.map((p) => ({ id: Number(p.id), object: p.object.toString('hex'), caption: p.caption })));
  });

  api.post(
    '/projects/:projectId/report-pictures',
    express.raw({ type: 'image/png', limit: MAX_BYTES }),
    async (request, response) => {
      const project = await projectOf(request);
      const body = request.body as Buffer;
      if (!Buffer.isBuffer(body) || body.length < 57 || !body.subarray(0, 8).equals(PNG))
        throw new HttpError(400, 'This is not a PNG picture.', { code: 'picture' });
      const [width, height] = [body.readUInt32BE(16), body.readUInt32BE(20)];
      if (width * height > 5e7 || width === 0 || height === 0)
        throw new HttpError(400, `A picture of ${width} × ${height} pixels is not taken.`, { code: 'picture' });
      const { sha256, bytes } = await storeBytes(storeFolder, body);
      await store.catalogue(sha256, bytes, 'png');
      const caption = String(request.query.caption ?? '').slice(0, 300) || 'View of the cloud';
      const made = await Picture.create({
        projectId: Number(project.id),
        object: Buffer.from(sha256, 'hex'),
        caption,
        createdAt: new Date(),
      });
      response.status(201).json({ id: Number(made.id), object: sha256, caption });
    },
  );

  api.delete('/projects/:projectId/report-pictures/:id', async (request, response) => {
    const project = await projectOf(request);
    const count = await Picture.destroy({ where: { id: idOf(request), projectId: project.id } });
    if (!count) throw new HttpError(404, 'There is no such picture.', { code: 'not-found' });
    response.status(204).end();
  });
}
