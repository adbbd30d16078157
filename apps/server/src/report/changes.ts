import { type ReportBase, type ReportData } from './content';
import { h2, plain, table, type Node } from './elements';

/** What of a report is kept beside its pages, for the next one to say what has changed. */
export interface ReportSummary {
  revision?: number;
  trail: Array<{ name: string; revision: number; hash: string; settings: Record<string, unknown> | null }>;
  reference: { horizontal: number; vertical: number; unit: string; epoch?: number };
  toleranceM: number;
  rmseM: number | null;
  checkMarks: number;
}

export function summaryOf(data: ReportData): ReportSummary {
  const f = data.check.figures as unknown as { rmse_m: number | null; count: number };
  const { horizontal, vertical, unit, epoch } = data.reference;
  return {
    trail: data.trail.map(({ name, revision, hash, settings }) => ({ name, revision, hash, settings })),
    reference: { horizontal, vertical, unit, ...(epoch ? { epoch } : {}) },
    ...{ toleranceM: data.project.toleranceM, rmseM: f.rmse_m ?? null, checkMarks: f.count },
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
  say('Coordinate system', code(was.reference.horizontal), code(is.reference.horizontal));
  say('Heights', code(was.reference.vertical), code(is.reference.vertical));
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
export function changesChapter(data: ReportBase & { before?: ReportSummary | null }, now: ReportSummary): Node[] {
  const { before } = data;
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
