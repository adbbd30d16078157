import { gridText } from '@longheron/core/frames';
import { type Contents } from '@longheron/contract/kinds';
import { type CheckFigures } from '@longheron/contract/kinds/residuals';
import { type Account } from '../shared/pages/account';
import { h2, plain, table, type Node } from '../shared/pages/elements';

/** What of a report is kept beside its pages, for the next one to say what has changed. */
export type ReportSummary = NonNullable<Contents['report']['summary']>;

export function summaryOf(account: Account, figures: CheckFigures): ReportSummary {
  const { horizontal, vertical, unit, epoch, geoid, plan } = account.reference;
  return {
    trail: account.trail.map(({ name, revision, hash, settings }) => ({ name, revision, hash, settings })),
    reference: {
      horizontal,
      vertical,
      unit,
      ...(epoch ? { epoch } : {}),
      ...(geoid ? { geoid: gridText(geoid) } : {}),
      ...(plan ? { plan: gridText(plan) } : {}),
    },
    toleranceM: account.project.toleranceM,
    rmseM: figures.rmse_m ?? null,
    checkMarks: figures.count,
  };
}

/** A change between two reports: what, as it was, as it is. */
export type Change = [what: string, was: string, is: string];

/** What has changed between two reports, in the order of weight: the reference line, the figures, what they rest on. */
export function changesBetween(was: ReportSummary, is: ReportSummary): Change[] {
  const out: Change[] = [];
  const say = (what: string, a: string, b: string) => {
    if (a !== b) out.push([what, a, b]);
  };
  const code = (v: number) => (v ? `EPSG:${v}` : 'ellipsoidal');
  const plan = (r: ReportSummary['reference']) => r.plan ?? code(r.horizontal);
  say('Coordinate system', plan(was.reference), plan(is.reference));
  const heights = (r: ReportSummary['reference']) => r.geoid ?? code(r.vertical);
  say('Heights', heights(was.reference), heights(is.reference));
  say('Length unit of the report', was.reference.unit, is.reference.unit);
  say('Epoch of coordinates', String(was.reference.epoch ?? 'undefined'), String(is.reference.epoch ?? 'undefined'));
  const metres = (v: number | null) => (v === null ? 'none' : `${v.toFixed(4)} m`);
  say('Tolerance', metres(was.toleranceM), metres(is.toleranceM));
  say('Check marks of height', String(was.checkMarks), String(is.checkMarks));
  say('RMSE of height', metres(was.rmseM), metres(is.rmseM));
  const before = new Map(was.trail.map((t) => [t.name, t]));
  for (const t of is.trail) {
    const b = before.get(t.name);
    before.delete(t.name);
    if (!b) {
      out.push([t.name, 'not part of it', `revision ${t.revision}`]);
      continue;
    }
    for (const key of new Set([...Object.keys(b.settings ?? {}), ...Object.keys(t.settings ?? {})])) {
      const text = (s: typeof t.settings) => JSON.stringify(s?.[key] ?? null).slice(0, 60);
      say(`${t.name}, setting ${key}`, text(b.settings), text(t.settings));
    }
    if (b.hash !== t.hash)
      say(t.name, `revision ${b.revision}`, `revision ${t.revision}${b.revision === t.revision ? ', made anew' : ''}`);
  }
  for (const b of before.values()) out.push([b.name, `revision ${b.revision}`, 'no longer part of it']);
  return out;
}

/** The chapter on what has changed since the report before this one; none in a first report. */
export function changesChapter(before: ReportSummary | null, now: ReportSummary): Node[] {
  if (!before) return [];
  const changes = changesBetween(before, now);
  const title = h2(`Changed since revision ${before.revision ?? 'before'} of this report`);
  if (changes.length === 0) return [title, { text: 'Nothing that this report rests on has changed.', style: 'soft' }];
  return [
    title,
    table(
      ['What', 'Was', 'Is'],
      changes.map((c) => c.map((text) => plain(text))),
      ['*', 130, 130],
    ),
  ];
}
