import { createReadStream } from 'node:fs';
import { type Response } from 'express';
import { ZipFile } from 'yazl';
import { type Contents } from '@longheron/contract/api';
import { pointFormat } from '@longheron/contract/formats';
import { isPoints } from '@longheron/contract/kinds/export';
import { HttpError } from '../../http/errors';
import { type ObjectStore } from '../../storage';

/** Sends the points of an export: the file as it is, several in one ZIP with their index and table. */
export function sendPoints(response: Response, store: ObjectStore, content: Contents['export'], base: string): void {
  if (!isPoints(content)) throw new HttpError(404, 'This export holds no points.', { code: 'not-found' });
  const extension = pointFormat(content.format ?? 'las').extension;
  if (!content.pieces) {
    const sha = content.file ?? content.las;
    if (!sha || !store.has(sha)) throw new HttpError(404, 'The file of this export is gone.', { code: 'not-found' });
    response.type('application/octet-stream').attachment(`${base}.${extension}`);
    response.sendFile(store.path(sha), { dotfiles: 'allow' });
    return;
  }
  const missing = content.pieces.find((p) => !store.has(p.sha256));
  if (missing) throw new HttpError(404, `The file of ${missing.name} is gone.`, { code: 'not-found' });
  const zip = new ZipFile();
  const table = content.pieces.map((p) => `${p.name}.${extension},${p.own},${p.neighbours}\n`).join('');
  zip.addBuffer(Buffer.from(`file,points_own,points_of_neighbours\n${table}`), 'files.csv');
  if (content.index) zip.addReadStream(createReadStream(store.path(content.index)), 'tiles.geojson');
  for (const p of content.pieces)
    // points in LAZ are compressed already
    zip.addReadStream(createReadStream(store.path(p.sha256)), `${p.name}.${extension}`, { compress: false });
  zip.end();
  response.type('application/zip').attachment(`${base}.zip`);
  zip.outputStream.pipe(response);
}
