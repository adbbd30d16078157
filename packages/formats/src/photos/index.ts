import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { inspectPhotos } from './inspect';
import { readPhotoList } from './read';

export * from './read';

export default format({
  about,
  sniff: (look) => (look.has('name', 'taken') ? 'columns' : undefined),
  inspect: inspectPhotos,
  open: async (path, name) => readPhotoList(await readFile(path), name),
});
