import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { facts, h2, plain, right, table } from '../shared/pages/elements';

/** More classes than this do not fit across a page: their rows stay, with the rates alone. */
const MAX_ACROSS = 8;

/** The chapter on classes against a reference. */
export const classChapter: Chapter<Contents['class-check']> = ({
  content: { figures: f, names, leastPercent },
  cloud,
}) => {
  const share = (v: number | null) => (v === null ? 'none' : `${(100 * v).toFixed(2)} %`);
  const wide = f.classes.length <= MAX_ACROSS;
  return [
    h2('Classes against a reference'),
    { text: `${plain(cloud)}: points of the reference in rows, as they are called in columns.`, style: 'soft' },
    facts([
      ['Points in both', `${f.matched}; ${f.without} of the reference have no partner`],
      ['Agree', share(f.overall)],
      ...(leastPercent === undefined
        ? []
        : ([
            ['Asked for', `${leastPercent} %: ${100 * (f.overall ?? 0) >= leastPercent ? 'kept' : 'not kept'}`],
          ] as Array<[string, string]>)),
      ['Ground called something else (type I)', share(f.typeI)],
      ['Something else called ground (type II)', share(f.typeII)],
      ['Both of all points', share(f.total)],
    ]),
    table(
      ['Reference', ...(wide ? f.classes.map((k) => names[k]) : []), 'Found', 'Right of called so'],
      f.classes.map((k, r) => [
        plain(`${k} ${names[k]}`),
        ...(wide ? f.counts[r].map((n) => right(String(n))) : []),
        right(share(f.recall[r])),
        right(share(f.precision[r])),
      ]),
      ['*', ...(wide ? f.classes.map(() => 'auto') : []), 46, 56],
    ),
  ];
};
