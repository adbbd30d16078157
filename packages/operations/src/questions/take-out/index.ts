import { randomUUID } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { join, posix } from 'node:path';
import { Problem, tick } from '@longheron/core/shared';
import { openJobFolder } from '@longheron/formats/terrestrial-job';
import { question } from '../../computation/question';

interface Asked {
  /** The archive, and what people call it. */
  object: string;
  name: string;
  /** Where files are written to. */
  folder: string;
}

/** A file that was taken out of an archive. */
interface TakenOut {
  name: string;
  path: string;
}

/** Takes out of a packed job the scans and pictures that it names. */
export default question<Asked, { files: TakenOut[] }>(async ({ object, name, folder }, store, watch) => {
  const { found, tally } = await openJobFolder(store.path(object), name);
  if (!tally)
    throw new Problem('The job is no archive: nothing is packed with it.', {
      code: 'job-zip',
      file: name,
      remedy: 'Import its scans and pictures beside it.',
    });
  const files: TakenOut[] = [];
  for (const [k, { file, from }] of found.entries()) {
    tick(watch, k / found.length, `Taking out ${file.location}`);
    if (!('entry' in from)) continue;
    const out = join(folder, `taken-out-${randomUUID()}`);
    await writeFile(out, await from.entry.bytes());
    files.push({ name: posix.basename(file.location), path: out });
  }
  return { content: { files } };
});
