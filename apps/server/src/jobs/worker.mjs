// Bootstrap of a worker thread: built code when it is there and newer, else the sources.
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = process.env.LONGHERON_ROOT ?? join(dirname(fileURLToPath(import.meta.url)), '../../../..');
const { runEntry } = await import(pathToFileURL(join(root, 'scripts/run-entry.mjs')).href);
const { perform } = await runEntry('worker');
export default perform;
