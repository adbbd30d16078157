import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { type JobTally, type OpenJob } from '@longheron/formats/terrestrial-job';
import { type ReportBuilder } from '../shared/report';

/** Check marks that differ by more of their deviations than this are said. */
const CHECKED = 3.5;

const list = (names: readonly string[]) => `${names.slice(0, 8).join(', ')}${names.length > 8 ? ', …' : ''}`;

/** What a job names against what lies beside it. */
export function tallyNotices(builder: ReportBuilder, job: OpenJob, tally: JobTally | undefined, file: string): void {
  if (job.aside.length)
    builder.notice({
      code: 'job-aside',
      severity: 'warning',
      file,
      place: job.aside[0].place,
      text: `${job.aside.length} readings name no target and are not used.`,
    });
  if (tally?.missing.length)
    builder.notice({
      code: 'job-missing',
      severity: 'warning',
      file,
      text: `${tally.missing.length} scans and pictures that the job names are not beside it: ${list(tally.missing.map((f) => f.location))}.`,
      effect: 'Its readings are adjusted; what is missing cannot be placed.',
    });
  if (tally?.outside.length)
    builder.notice({
      code: 'job-outside',
      severity: 'warning',
      file,
      text: `${tally.outside.length} names lead outside the folder of the job: ${list(tally.outside.map((f) => f.location))}.`,
      effect: 'They are not looked for.',
    });
}

/** What speaks against an adjusted job, most telling first. */
export function noticesOf(builder: ReportBuilder, f: TraverseFigures): void {
  for (const r of f.rejected)
    builder.notice({
      code: 'traverse-rejected',
      severity: 'warning',
      place: [r.set_up, r.target].filter(Boolean).join(', '),
      text: r.says,
      effect: 'It is left out; the others fit without it.',
      remedy: 'Look into the field book; correct it in the job and adjust again.',
    });
  const open = f.closures.filter((c) => c.kind === 'open');
  for (const c of open)
    builder.notice({
      code: 'traverse-open',
      severity: 'warning',
      place: c.stations.join(', '),
      text: `The traverse ${c.stations.join(' – ')} closes on nothing known.`,
      effect: 'An error of a bearing or a distance in it does not show.',
      remedy: 'Close it on a known mark, or back on its beginning.',
    });
  for (const c of f.closures.filter((x) => x.ok === false))
    builder.notice({
      code: 'traverse-closure',
      severity: 'warning',
      place: c.stations.join(', '),
      text: `The traverse ${c.stations.join(' – ')} leaves over more than three times what the instrument states.`,
      remedy: 'See what is named as contradicting; it explains the most of it.',
    });
  const lonely = f.points.filter((p) => !p.checked && p.kind !== 'check');
  if (lonely.length)
    builder.notice({
      code: 'traverse-unchecked',
      severity: 'warning',
      place: list(lonely.map((p) => p.name)),
      text: `Nothing checks ${list(lonely.map((p) => p.name))}: a single ray leads to each.`,
      effect: 'A wrong target height or a wrong prism would not be seen.',
      remedy: 'Sight them from a second set-up, or tape a distance.',
    });
  if (f.unplaced.length)
    builder.notice({
      code: 'traverse-unplaced',
      severity: 'warning',
      place: list(f.unplaced),
      text: `${list(f.unplaced)} cannot be placed: too few known or measured points lead there.`,
      effect: 'They are left out.',
    });
  if (f.sigma0_expected && f.sigma0! > f.sigma0_expected[1])
    builder.notice({
      code: 'traverse-sigma',
      severity: 'warning',
      text: `Residuals are larger than the stated deviations allow: sigma nought ${f.sigma0!.toFixed(2)}, at most ${f.sigma0_expected[1].toFixed(2)} expected.`,
      effect: `Deviations of the points are multiplied with ${f.scale.toFixed(2)}.`,
      remedy: 'Leave the deviation of angles empty, so that it is taken from both faces, or look at the control.',
    });
  for (const p of f.points.filter((q) => q.kind === 'check' && q.moved_m)) {
    const sd = [p.sd_e_m, p.sd_n_m, p.sd_h_m];
    const k = [0, 1, 2].find((i) => Math.abs(p.moved_m![i]) > CHECKED * Math.hypot(sd[i], 0.01));
    if (k !== undefined)
      builder.notice({
        code: 'traverse-check',
        severity: 'warning',
        place: p.name,
        text: `The check mark ${p.name} is found ${(1000 * p.moved_m![k]).toFixed(0)} mm ${['east', 'north', 'above'][k]} of where it is given.`,
      });
  }
  if (f.instrument.pairs === 0)
    builder.notice({
      code: 'traverse-one-face',
      severity: 'info',
      text: 'All readings are in one face: collimation and index error stay in them.',
      remedy: 'Read some targets in both faces.',
    });
}
