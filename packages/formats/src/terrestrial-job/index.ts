import { againstManifest, IS_ARCHIVE, type Differing } from '../archive';
import { format } from '../format';
import { noteIn } from '../format/facts';
import about from './about';
import { jobsOfArchive, looksLikeJob, openJob } from './open';
import { unitSaid } from './read';

export * from './files';
export * from './open';
export * from './read';
export * from './rewrite';

/** Bytes at the end of an archive in which its directory stands, of those that are looked at. */
const DIRECTORY_BYTES = 1 << 16;

/** A total station's job, alone or packed with what it names. */
export default format({
  about,
  async sniff(look) {
    if (!IS_ARCHIVE.every((v, i) => look.head[i] === v)) return looksLikeJob(look.text) ? 'words' : undefined;
    const from = Math.max(0, look.size - DIRECTORY_BYTES);
    const end = Buffer.from(await look.source.read(from, look.size - from)).toString('latin1');
    // names stand in the directory behind the mark of each entry
    return /PK\x01\x02[\s\S]{42}[^\x00]*?\.xml/i.test(end) ? 'signature' : undefined;
  },
  async inspect({ path, name }, out) {
    const { job, tally } = await openJob(path, name);
    out.count = job.readings.length;
    const note = noteIn(out);
    const targets = new Set(job.readings.map((r) => r.target));
    out.details.push(
      ['Set-ups', String(job.setUps.length)],
      ['Points sighted', String(targets.size)],
      ['Readings in face two', String(job.readings.filter((r) => r.face === 2).length)],
      ['Points with coordinates', String(job.points.length)],
      ['Angles in', unitSaid(job.angularUnit)],
      ['Lengths in', job.linearUnit],
      ['Scans named', String(job.files.filter((f) => f.what === 'scan').length)],
      ['Pictures named', String(job.files.filter((f) => f.what === 'image').length)],
    );
    if (tally) out.details.push(['Of these in the archive', String(tally.found.length)]);
    if (job.example)
      out.details.push(
        [`${job.example.setUp} to ${job.example.target}, as written`, job.example.written],
        ['and as understood', job.example.understood],
      );
    const list = (names: readonly string[]) => `${names.slice(0, 6).join(', ')}${names.length > 6 ? ', …' : ''}`;
    if (job.aside.length)
      note(
        'job-aside',
        'warning',
        `${job.aside.length} readings name no target.`,
        'They are not used.',
        undefined,
        job.aside[0].place,
      );
    const missing = tally ? tally.missing : job.files;
    if (missing.length)
      note(
        'job-missing',
        'warning',
        `${missing.length} scans and pictures that the job names are not ${tally ? 'in the archive' : 'with it'}: ${list(missing.map((f) => f.location))}.`,
        'Its readings can be adjusted; what is missing cannot be placed.',
        'Import the whole folder as one archive (ZIP).',
      );
    if (tally?.outside.length)
      note(
        'job-outside',
        'warning',
        `${tally.outside.length} names lead outside the folder of the job: ${list(tally.outside.map((f) => f.location))}.`,
        'They are not looked for.',
        'Put the files into the folder, and name them from there.',
      );
    const differing = tally && (await againstManifest((await jobsOfArchive(path, name)).all));
    if (differing?.length)
      note(
        'job-manifest',
        'error',
        `${differing.length} files are not as the archive’s list has them: ${list(differing.map(differenceSaid))}.`,
        'What they hold is not what was packed.',
        'Ask for the archive again.',
      );
    else if (differing) out.details.push(['Files as listed', 'all, by their hashes']);
    if (tally?.unnamed.length)
      note(
        'job-unnamed',
        'info',
        `${tally.unnamed.length} scans and pictures lie in the archive that the job does not name: ${list(tally.unnamed)}.`,
        'They belong to no set-up.',
      );
  },
  open: (path, name) => openJob(path, name),
});

const differenceSaid = ({ name, why }: Differing) => `${name} (${why})`;
