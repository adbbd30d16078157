import { readFile } from 'node:fs/promises';
import { format } from '../format';
import about from './about';
import { readCameras } from './read';

export * from './read';

/** Cameras of photographs. */
export default format({
  about,
  sniff: (look) => (/^\s*\{/.test(look.text) && /"cameras"\s*:/.test(look.text) ? 'words' : undefined),
  async inspect({ path, name }, out) {
    const cameras = readCameras(await readFile(path), name);
    out.count = cameras.length;
    for (const c of cameras)
      out.details.push([
        c.name,
        `${c.widthPx} × ${c.heightPx}, ${c.model === 'sphere' ? 'full panorama' : `focal length ${c.focalPx.toFixed(1)} px`}`,
      ]);
  },
  open: async (path, name) => readCameras(await readFile(path), name),
});
