import { readdir, readFile, stat } from 'node:fs/promises';
import { dirname, join, posix, sep } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { type AngularUnit, type JobFile } from '@longheron/core/terrestrial';
import { filesOfArchive, IS_ARCHIVE, type ArchiveFile } from '../archive';
import { openFile } from '../bytes';
import { tallyOf, type JobTally } from './files';
import { namedInJob, readJob, type OpenJob } from './read';

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

/** The text of a job and what lies with it. */
interface JobSource {
  text: string;
  /** The job's own name in its folder, and the one that problems bear. */
  name: string;
  said: string;
  /** Names of what lies with it, from its folder on; none where nothing could. */
  there?: string[];
  /** Where one of these is: a file, or a file of the archive. */
  find(location: string): { path: string } | { entry: ArchiveFile };
}

async function sourceOf(path: string, name: string, beside: boolean): Promise<JobSource> {
  if (!(await isArchive(path, name))) {
    if ((await stat(path)).size > MOST_XML) throw tooLarge(name);
    return {
      text: (await readFile(path)).toString('utf8'),
      name: posix.basename(name.replace(/\\/g, '/')).replace(/\.zip$/i, '.xml'),
      said: name,
      ...(beside ? { there: await filesBeside(dirname(path)) } : {}),
      find: (location) => ({ path: join(dirname(path), location) }),
    };
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
  const folder = posix.dirname(own.name);
  const inside = new Map(
    all
      .filter((f) => f !== own)
      .map((f) => [folder === '.' ? f.name : posix.relative(folder, f.name), f] as const)
      .filter(([n]) => !n.startsWith('../')),
  );
  return {
    text: new TextDecoder().decode(await own.bytes()),
    name: posix.basename(own.name),
    said: `${name}, ${own.name}`,
    there: [...inside.keys()],
    find: (location) => ({ entry: inside.get(location)! }),
  };
}

/**
 * Opens a job alone, or packed with its scans and pictures.
 * @param unit of angles, where the file does not state it. @param beside also looks at the folder that the file lies in.
 */
export async function openJob(path: string, name: string, unit?: AngularUnit, beside = false): Promise<WholeJob> {
  const { text, said, there } = await sourceOf(path, name, beside);
  const job = readJob(text, said, unit);
  return { job, ...(there ? { tally: tallyOf(job.files, there) } : {}) };
}

/** A job as text, with what it names: nothing of its readings is read. */
export interface JobFolder {
  text: string;
  name: string;
  metresPer: number;
  tally?: JobTally;
  /** Scans and pictures that it names and that are there, each once. */
  found: Array<{ file: JobFile; from: { path: string } | { entry: ArchiveFile } }>;
}

/** Opens the folder of a job, packed or, with `beside`, as it lies. @throws Problem for what is no job. */
export async function openJobFolder(path: string, name: string, beside = false): Promise<JobFolder> {
  const source = await sourceOf(path, name, beside);
  const { files, metresPer } = namedInJob(source.text, source.said);
  const tally = source.there && tallyOf(files, source.there);
  const once = new Map((tally?.found ?? []).map((f) => [f.location, f]));
  return {
    text: source.text,
    name: source.name,
    metresPer,
    ...(tally ? { tally } : {}),
    found: [...once.values()].map((file) => ({ file, from: source.find(file.location) })),
  };
}

const tooLarge = (file: string) =>
  new Problem('The job is larger than any that could be read.', {
    code: 'job-xml',
    file,
    place: 'size',
    remedy: 'Write it in parts.',
  });

async function isArchive(path: string, name: string): Promise<boolean> {
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
