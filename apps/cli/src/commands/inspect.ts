import { isKind, KINDS } from '@longheron/contract/kinds';
import { suspectMarks } from '@longheron/core/accuracy';
import { Problem } from '@longheron/core/shared';
import { formatGps } from '@longheron/core/time';
import { openAs } from '@longheron/formats/registry';
import { crossFindings } from '@longheron/operations/shared/inspect';
import { inspectFile } from '@longheron/formats/registry';
import { type FileFacts } from '@longheron/formats/format';
import { ReportBuilder } from '@longheron/operations/shared/report';
import { type Command } from './command';

const countNoun = (kind: string) => (isKind(kind) && KINDS[kind].counts) || 'points';

/** What each file is by its content. */
export const inspect: Command = {
  options: {},
  async run(o, watch) {
    if (o.files.length === 0) throw new Problem('No file was named.', { code: 'option', remedy: 'See --help.' });
    const builder = new ReportBuilder('inspect', {});
    const all: FileFacts[] = [];
    const lines: string[] = [];
    let failed = false;
    for (const path of o.files) {
      try {
        await builder.input(path);
        all.push(await inspectFile(path, undefined, {}, watch));
      } catch (error) {
        if (!(error instanceof Problem)) throw error;
        failed = true;
        builder.notice({
          code: error.code,
          severity: 'error',
          text: error.message,
          file: error.file ?? path,
          place: error.place,
          remedy: error.command ?? error.remedy,
        });
        lines.push(
          `${path}: ${error.message}${error.place ? ` (${error.place})` : ''} ${error.command ?? error.remedy ?? ''}`,
        );
      }
    }
    await againstEachOther(all);
    const cross = crossFindings(all);
    for (const f of all) {
      f.findings.push(...(cross.get(f.name) ?? []));
      lines.push(
        `${f.path}: ${f.kind}, ${f.count} ${countNoun(f.kind)}${f.startGps !== null ? `, ${formatGps(f.startGps)} to ${formatGps(f.endGps!)} GPS time` : ''}`,
      );
      for (const n of f.findings) {
        lines.push(`  ${n.severity}: ${n.text}${n.remedy ? ` ${n.remedy}` : ''}`);
        if (n.severity === 'error') failed = true;
        builder.notice(n);
      }
    }
    const files = all.map((f) => ({
      path: f.path,
      kind: f.kind,
      start_gps: f.startGps,
      end_gps: f.endGps,
      extent: f.extent,
      count: f.count,
      rate_hz: f.rateHz,
      gaps: f.gaps.map((g) => ({ start_gps: g.startGps, end_gps: g.endGps, length_s: g.lengthS })),
      findings: f.findings,
    }));
    return { report: builder.finish(null, { files }), lines, failed };
  },
};

/** Lists of marks are looked at again with the marks of the other lists beside them. */
async function againstEachOther(all: FileFacts[]): Promise<void> {
  const lists = all.filter((f) => f.kind === 'marks');
  if (lists.length < 2) return;
  const marks = new Map(
    await Promise.all(lists.map(async (f) => [f, (await openAs('marks', f.path, f.name)).marks] as const)),
  );
  for (const f of lists) {
    const others = lists.filter((g) => g !== f).flatMap((g) => marks.get(g)!);
    const again = suspectMarks(marks.get(f)!, f.name, { marks: others });
    f.findings = [...f.findings.filter((n) => !n.code.startsWith('mark-')), ...again];
  }
}
