import { createReadStream, type ReadStream } from 'node:fs';
import { pipeline } from 'node:stream';
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
  // each is opened when its turn comes, and closed when the reader goes away
  let open: ReadStream | undefined;
  const add = (sha: string, name: string, compress: boolean) =>
    zip.addReadStreamLazy(name, { compress }, (give) => {
      open = createReadStream(store.path(sha));
      give(null, open);
    });
  if (content.index) add(content.index, 'tiles.geojson', true);
  // points in LAZ are compressed already
  for (const p of content.pieces) add(p.sha256, `${p.name}.${extension}`, false);
  zip.end();
  response.type('application/zip').attachment(`${base}.zip`);
  zip.on('error', (error: Error) => response.destroy(error));
  pipeline(zip.outputStream, response, () => open?.destroy());
}
