import { UNIT_NAME } from '@longheron/core/frames';
import { kindWords } from '@longheron/contract/kinds';
import { pastOf, settingWords } from '@longheron/contract/operations';
import { type Account } from './account';
import { facts, h2, mono, plain, right, table, type Node } from './elements';

export function staleWarning(data: Account): Node[] {
  const stale = data.trail.filter((t) => t.outOfDate);
  if (stale.length === 0) return [];
  return [
    {
      text: `Out of date when this report was written: ${stale.map((t) => `${t.name} (${t.outOfDate})`).join('; ')}.`,
      color: '#a8402e',
      bold: true,
      margin: [0, 0, 0, 6],
    },
  ];
}

export function referenceLine(data: Account): Node[] {
  const r = data.reference;
  return [
    h2('Reference line'),
    facts([
      ['Coordinate system', planLine(r)],
      ['Heights', heightsLine(r)],
      ['Length unit of this report', `${UNIT_NAME[r.unit]}; files keep the unit of the coordinate system`],
      ['Time', r.time === 'gps' ? 'GPS time' : r.time === 'utc' ? 'UTC' : 'local time'],
      ['Epoch of coordinates', r.epoch ? String(r.epoch) : 'undefined'],
    ]),
  ];
}

const planLine = ({ horizontal, horizontalName, plan }: Account['reference']) =>
  plan
    ? `${plain(horizontalName)}, defined by ${plan.name}, whose SHA-256 begins with ${plan.sha12}`
    : `${horizontalName} (EPSG:${horizontal})`;

function heightsLine(r: Account['reference']): string {
  const { geoid, vertical, verticalName, statement, fileHeights, depths } = r;
  const good = r.surfaceSdM
    ? `; accuracy of the surface ± ${Number((1000 * r.surfaceSdM).toPrecision(3))} mm as stated`
    : '';
  const counted =
    good + (depths ? '; depths in what is delivered, positive down; heights in this report, positive up' : '');
  if (fileHeights === 'used') return `${plain(verticalName)}: ${plain(statement)}${counted}`;
  if (geoid && !/^height above the geoid/.test(verticalName))
    return `${plain(verticalName)}: ${plain(statement)}${counted}. SHA-256 of the file begins with ${geoid.sha12}`;
  if (geoid) return `${verticalName}: ${plain(statement)}${good}. SHA-256 of the grid begins with ${geoid.sha12}`;
  return vertical ? `${verticalName} (EPSG:${vertical}): ${plain(statement)}` : 'above the ellipsoid';
}

export function notices(data: Account): Node[] {
  const word: Record<string, string> = { error: 'blocks', warning: 'degrades', info: 'harmless' };
  return [
    h2('Notices and their answers'),
    data.notices.length === 0
      ? { text: 'None.', style: 'soft' }
      : table(
          ['On', 'Weight', 'What was found', 'Answer'],
          data.notices.map((n) => [
            plain(n.dataset),
            word[n.severity] ?? n.severity,
            plain([n.text, n.effect].filter(Boolean).join(' ')),
            n.state === 'accepted' ? plain(`accepted: ${n.reason ?? ''}`) : n.severity === 'info' ? '' : 'open',
          ]),
          [100, 46, '*', 120],
        ),
  ];
}

export function trail(data: Account): Node[] {
  const raw = data.trail.filter((t) => t.from.length === 0);
  const made = data.trail.filter((t) => t.from.length > 0);
  return [
    h2('Inputs'),
    table(
      ['Name', 'Kind', 'Revision', 'Bytes', 'SHA-256'],
      raw.map((t) => [
        plain(t.name),
        kindWords(t.kind),
        right(String(t.revision)),
        right(t.bytes === null ? '-' : String(t.bytes)),
        mono(t.hash, { fontSize: 5.6 }),
      ]),
      [120, 58, 36, 46, '*'],
    ),
    h2('Trail: what was made from what, with which settings'),
    ...made.map((t) => ({
      stack: [
        {
          text: [{ text: plain(t.name), bold: true }, `, revision ${t.revision}, ${pastOf(t.madeBy)} ${t.madeAt}`],
        },
        { text: `from ${plain(t.from.join('; '))}`, style: 'soft' },
        ...settingNodes(t.madeBy, t.settings),
        mono(t.hash, { fontSize: 6, color: '#53666d' }),
      ],
      margin: [0, 0, 0, 6],
      unbreakable: true,
    })),
  ];
}

/** Settings by their labels and units, as the trail holds them. */
function settingNodes(madeBy: string, settings: Account['trail'][number]['settings']): Node[] {
  const words = settingWords(madeBy, settings ?? {});
  return words.length ? [mono(plain(words.join(', ')), { fontSize: 7, color: '#53666d' })] : [];
}
