import { csvCell } from '@longheron/formats/csv';
import { type ClassCheck } from '@longheron/core/accuracy';

/** A confusion table as CSV: points, rates as shares. */
export function classesCsv(f: ClassCheck, names: { [cls: string]: string }): string {
  const named = (c: number) => csvCell(`${c} ${names[c]}`);
  const share = (v: number | null) => (v === null ? '' : v.toFixed(5));
  return [
    `# points in both ${f.matched}, unpaired ${f.without}, undecided ${f.ambiguous}`,
    `# agree ${share(f.overall)}; ground: type I ${share(f.typeI)}, type II ${share(f.typeII)}, total ${share(f.total)}`,
    ['reference', ...f.classes.map(named), 'found_share', 'right_share'].join(','),
    ...f.classes.map((c, r) =>
      [named(c), ...f.counts[r].map(String), share(f.recall[r]), share(f.precision[r])].join(','),
    ),
    '',
  ].join('\n');
}
