import { randomUUID } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import { join, posix } from 'node:path';
import { Problem, tick } from '@longheron/core/shared';
import { isArchive, jobsOfArchive, openJob } from '@longheron/formats/terrestrial-job';
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
  const path = store.path(object);
  if (!(await isArchive(path, name)))
    throw new Problem('The job is no archive: nothing is packed with it.', {
      code: 'job-zip',
      file: name,
      remedy: 'Import its scans and pictures beside it.',
    });
  // the unit of angles does not matter here, and may not be stated
  const { tally } = await openJob(path, name, 'degrees').catch(() => openJob(path, name));
  const { jobs, all } = await jobsOfArchive(path, name);
  const home = posix.dirname(jobs[0].name);
  const found = [...new Map((tally?.found ?? []).map((f) => [f.location, f])).values()];
  const files: TakenOut[] = [];
  for (const [k, f] of found.entries()) {
    tick(watch, k / found.length, `Taking out ${f.location}`);
    const entry = all.find((e) => e.name === (home === '.' ? f.location : posix.join(home, f.location)));
    if (!entry) continue;
    const out = join(folder, `taken-out-${randomUUID()}`);
    await writeFile(out, await entry.bytes());
    files.push({ name: posix.basename(f.location), path: out });
  }
  return { content: { files } };
});
