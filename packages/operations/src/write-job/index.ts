import { createHash } from 'node:crypto';
import declaration from '@longheron/contract/operations/write-job';
import { part, tick } from '@longheron/core/shared';
import { type JobFile } from '@longheron/core/terrestrial';
import { packArchive, type ToPack } from '@longheron/formats/archive';
import { writeFileWhole } from '@longheron/formats/bytes';
import {
  JOB_KINDS,
  openJobFolder,
  rewriteJob,
  type JobFolder,
  type JobKind,
  type Rewritten,
} from '@longheron/formats/terrestrial-job';
import { computation } from '../computation/types';
import { factsOf } from '../shared/inspect';
import { fileFacts } from '@longheron/formats/format';
import { ReportBuilder } from '../shared/report';

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
  const whole = await openJobFolder(file.path, file.name, !out.keeps);
  const { text, name, metresPer } = whole;
  const points = (adjusted?.marks ?? []).map((m) => ({
    name: m.name,
    northingM: m.northingM,
    eastingM: m.eastingM,
    heightM: m.heightM,
    ...(m.sdNM !== undefined && m.sdEM !== undefined && m.sdHM !== undefined
      ? { sdM: [m.sdNM, m.sdEM, m.sdHM] as const }
      : {}),
  }));
  const written = rewriteJob(text, name, wanted, points, metresPer);
  const beside = settings.as === 'archive' ? filesWith(whole, wanted) : [];
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
    kinds: JOB_KINDS.map((k) => ({ kind: k, ...written.tally[k] })),
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

const kindOf = ({ what }: JobFile): JobKind => (what === 'scan' ? 'scans' : 'pictures');

/** Files that the job names and that are there, of the wanted kinds, under the names by which it names them. */
const filesWith = ({ found }: JobFolder, wanted: ReadonlySet<JobKind>): ToPack[] =>
  found.filter(({ file }) => wanted.has(kindOf(file))).map(({ file, from }) => ({ name: file.location, from }));

function noticesOf(
  builder: ReportBuilder,
  { tally }: Rewritten,
  { tally: beside }: JobFolder,
  wanted: ReadonlySet<JobKind>,
  packed: boolean,
): void {
  const dropped = JOB_KINDS.filter((k) => tally[k].held > tally[k].written);
  if (dropped.length)
    builder.notice({
      code: 'job-left-out',
      severity: 'info',
      text: `Left out as asked: ${dropped.map((k) => `${tally[k].held} ${k}`).join(', ')}.`,
      effect: 'Whoever opens the job does not see them.',
    });
  const absent = packed
    ? [...(beside?.missing ?? []), ...(beside?.outside ?? [])].filter((f) => wanted.has(kindOf(f)))
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
