import { readdir, readFile, stat } from 'node:fs/promises';
import { dirname, posix, sep } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { type AngularUnit } from '@longheron/core/terrestrial';
import { filesOfArchive, IS_ARCHIVE, type ArchiveFile } from '../archive';
import { openFile } from '../bytes';
import { tallyOf, type JobTally } from './files';
import { readJob, type OpenJob } from './read';

/** A job with what lies beside it. */
export interface WholeJob {
  job: OpenJob;
  /** What it names against what is there; none where nothing could lie beside it. */
  tally?: JobTally;
}

const MOST_XML = 4e8;
const MOST_DEPTH = 4;
const MOST_BESIDE = 20_000;
const IS_JOB = /<(\w+:)?LandXML\b/;

/** Whether the beginning of a text is that of a job: LandXML that is not a surface alone. */
export const looksLikeJob = (head: string): boolean =>
  IS_JOB.test(head) && (/<(\w+:)?(Survey|InstrumentSetup|CgPoints)\b/.test(head) || !/<(\w+:)?Surfaces\b/.test(head));

/** Names of the entries of an archive that hold a job. */
export async function jobsOfArchive(path: string, name: string): Promise<{ jobs: ArchiveFile[]; all: ArchiveFile[] }> {
  const all = await filesOfArchive(path, name, {
    wanted: () => true,
    mostOfOne: 2e11,
    code: 'job-zip',
    remedy: 'Make the archive again from the folder of the job.',
  });
  const jobs: ArchiveFile[] = [];
  for (const f of all.filter((e) => /\.xml$/i.test(e.name)))
    if (IS_JOB.test(new TextDecoder().decode(await f.head(2048)))) jobs.push(f);
  return { jobs, all };
}

/**
 * Opens a job alone, or packed with its scans and pictures.
 * @param unit of angles, where the file does not state it. @param beside also looks at the folder that the file lies in.
 */
export async function openJob(path: string, name: string, unit?: AngularUnit, beside = false): Promise<WholeJob> {
  if (!(await isArchive(path, name))) {
    const { size } = await stat(path);
    if (size > MOST_XML) throw tooLarge(name);
    const job = readJob((await readFile(path)).toString('utf8'), name, unit);
    return { job, ...(beside ? { tally: tallyOf(job.files, await filesBeside(dirname(path))) } : {}) };
  }
  const { jobs, all } = await jobsOfArchive(path, name);
  const [own] = jobs;
  if (jobs.length !== 1)
    throw new Problem(jobs.length ? `The archive holds ${jobs.length} jobs.` : 'The archive holds no job.', {
      code: 'job-zip',
      file: name,
      place: jobs.map((j) => j.name).join(', ') || 'directory at its end',
      remedy: 'Pack one job (LandXML) with the scans and pictures that it names.',
    });
  if (own.size > MOST_XML) throw tooLarge(name);
  const job = readJob(new TextDecoder().decode(await own.bytes()), `${name}, ${own.name}`, unit);
  const folder = posix.dirname(own.name);
  const inside = all
    .filter((f) => f !== own)
    .map((f) => (folder === '.' ? f.name : posix.relative(folder, f.name)))
    .filter((n) => !n.startsWith('../'));
  return { job, tally: tallyOf(job.files, inside) };
}

const tooLarge = (file: string) =>
  new Problem('The job is larger than any that could be read.', {
    code: 'job-xml',
    file,
    place: 'size',
    remedy: 'Write it in parts.',
  });

/** Whether a file is an archive by how it begins. */
export async function isArchive(path: string, name: string): Promise<boolean> {
  const source = await openFile(path, name);
  try {
    const head = await source.read(0, Math.min(4, source.size));
    return IS_ARCHIVE.every((v, i) => head[i] === v);
  } finally {
    await source.close();
  }
}

async function filesBeside(folder: string): Promise<string[]> {
  const out: string[] = [];
  const walk = async (at: string, name: string, depth: number): Promise<void> => {
    for (const e of await readdir(at, { withFileTypes: true })) {
      if (out.length >= MOST_BESIDE || e.name.startsWith('.')) continue;
      if (e.isDirectory() && depth < MOST_DEPTH) await walk(`${at}${sep}${e.name}`, `${name}${e.name}/`, depth + 1);
      else if (e.isFile()) out.push(`${name}${e.name}`);
    }
  };
  await walk(folder, '', 0);
  return out;
}
