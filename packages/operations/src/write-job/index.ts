import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { dirname, join, posix } from 'node:path';
import declaration from '@longheron/contract/operations/write-job';
import { part, Problem, tick } from '@longheron/core/shared';
import { packArchive, type ToPack } from '@longheron/formats/archive';
import { writeFileWhole } from '@longheron/formats/bytes';
import {
  isArchive,
  JOB_KINDS,
  jobsOfArchive,
  openJob,
  rewriteJob,
  type JobKind,
  type Rewritten,
  type WholeJob,
} from '@longheron/formats/terrestrial-job';
import { computation } from '../computation/types';
import { factsOf } from '../shared/inspect';
import { fileFacts } from '@longheron/formats/format';
import { ReportBuilder } from '../shared/report';

const ZIP = /\.zip$/i;
const NAMES: { readonly [K in JobKind]: string } = {
  points: 'points',
  lines: 'lines',
  areas: 'areas',
  surfaces: 'surfaces',
  observations: 'observations',
  scans: 'scans',
  pictures: 'pictures',
};

/** A job with the kinds that are wanted, its adjusted points, and what it names beside it, as one file. */
export default computation(declaration, async ({ job: file, adjusted }, settings, context, out, watch) => {
  const builder = new ReportBuilder('write-job', settings);
  const left: { readonly [K in JobKind]: boolean } = {
    points: settings.noPoints,
    lines: settings.noLines,
    areas: settings.noAreas,
    surfaces: settings.noSurfaces,
    observations: settings.noObservations,
    scans: settings.noScans,
    pictures: settings.noPictures,
  };
  const wanted = new Set(JOB_KINDS.filter((k) => !left[k]));
  const unit = settings.angularUnit === 'stated' ? undefined : settings.angularUnit;
  const whole = await openJob(file.path, file.name, unit, !out.keeps);
  const { text, name } = await jobText(file.path, file.name);
  const points = (adjusted?.marks ?? []).map((m) => ({
    name: m.name,
    northingM: m.northingM,
    eastingM: m.eastingM,
    heightM: m.heightM,
    ...(m.sdNM !== undefined && m.sdEM !== undefined && m.sdHM !== undefined
      ? { sdM: [m.sdNM, m.sdEM, m.sdHM] as const }
      : {}),
  }));
  const written = rewriteJob(text, name, wanted, points, whole.job.metresPer);
  const beside = settings.as === 'archive' ? await filesWith(file.path, file.name, whole, wanted) : [];
  noticesOf(builder, written, whole, wanted, settings.as === 'archive');
  const xml = new TextEncoder().encode(written.xml);
  let manifest: { files: number; bytes: number } | null = null;
  const made = await out.file('job', 'terrestrial-job', async (path) => {
    if (settings.as === 'xml') {
      await writeFileWhole(path, (o) => o.write(written.xml));
      return;
    }
    const files: ToPack[] = [{ name, from: { bytes: xml } }, ...beside];
    const list = await packArchive(path, files, new Date(), part(watch, 0.1, 0.9));
    manifest = { files: list.files.length, bytes: list.files.reduce((s, f) => s + f.bytes, 0) };
  });
  tick(watch, 0.95, 'Reading it back');
  const title = `${declaration.resultName}${settings.as === 'archive' ? '.zip' : '.xml'}`;
  const figures = {
    kinds: JOB_KINDS.map((k) => ({ kind: NAMES[k], ...written.tally[k] })),
    adjusted: written.adjusted,
    packed: manifest,
    sha256: createHash('sha256').update(xml).digest('hex'),
  };
  return {
    content: {
      object: made.sha256,
      bytes: made.bytes,
      facts: out.keeps
        ? await factsOf(out.store.path(made.sha256), title)
        : fileFacts(title, made.bytes, 'terrestrial-job'),
    },
    hash: made.sha256,
    report: builder.finish(context.crs ?? null, figures),
    log: [
      `Written: ${figures.kinds
        .filter((k) => k.held || k.written)
        .map((k) => `${k.written} of ${k.held} ${k.kind}`)
        .join(', ')}.`,
      ...(points.length ? [`${written.adjusted} points with adjusted coordinates.`] : []),
      ...(beside.length ? [`${beside.length} files packed beside it.`] : []),
    ],
  };
});

/** The job's text, and the name that it has in its folder. */
async function jobText(path: string, name: string): Promise<{ text: string; name: string }> {
  if (!(await isArchive(path, name))) {
    const own = ZIP.test(name) ? name.replace(ZIP, '.xml') : name;
    return { text: (await readFile(path)).toString('utf8'), name: posix.basename(own.replace(/\\/g, '/')) };
  }
  const { jobs } = await jobsOfArchive(path, name);
  return { text: new TextDecoder().decode(await jobs[0].bytes()), name: posix.basename(jobs[0].name) };
}

/** Files that the job names and that are there, of the wanted kinds, under the names by which it names them. */
async function filesWith(
  path: string,
  name: string,
  { tally }: WholeJob,
  wanted: ReadonlySet<JobKind>,
): Promise<ToPack[]> {
  const found = (tally?.found ?? []).filter((f) => wanted.has(f.what === 'scan' ? 'scans' : 'pictures'));
  if (!found.length) return [];
  const once = [...new Map(found.map((f) => [f.location, f])).values()];
  if (!(await isArchive(path, name)))
    return once.map((f) => ({ name: f.location, from: { path: join(dirname(path), f.location) } }));
  const { jobs, all } = await jobsOfArchive(path, name);
  const folder = posix.dirname(jobs[0].name);
  return once.map((f) => {
    const entry = all.find((e) => e.name === (folder === '.' ? f.location : posix.join(folder, f.location)));
    if (!entry)
      throw new Problem(`${f.location} is no longer in the archive.`, {
        code: 'job-zip',
        file: name,
        place: f.location,
        remedy: 'Take the archive in again.',
      });
    return { name: f.location, from: { entry } };
  });
}

function noticesOf(
  builder: ReportBuilder,
  { tally }: Rewritten,
  { tally: beside }: WholeJob,
  wanted: ReadonlySet<JobKind>,
  packed: boolean,
): void {
  const dropped = JOB_KINDS.filter((k) => tally[k].held > tally[k].written);
  if (dropped.length)
    builder.notice({
      code: 'job-left-out',
      severity: 'info',
      text: `Left out as asked: ${dropped.map((k) => `${tally[k].held} ${NAMES[k]}`).join(', ')}.`,
      effect: 'Whoever opens the job does not see them.',
    });
  const absent = packed
    ? [...(beside?.missing ?? []), ...(beside?.outside ?? [])].filter((f) =>
        wanted.has(f.what === 'scan' ? 'scans' : 'pictures'),
      )
    : [];
  if (absent.length)
    builder.notice({
      code: 'job-missing',
      severity: 'warning',
      place: absent.map((f) => f.location).join(', '),
      text: `${absent.length} scans and pictures that the job names are not there: they are not packed.`,
      effect: 'The job names what the archive does not hold.',
      remedy: 'Take the job in with its whole folder.',
    });
}
