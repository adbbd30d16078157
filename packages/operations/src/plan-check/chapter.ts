import { type Contents } from '@longheron/contract/kinds';
import { type PlanDistance } from '@longheron/core/accuracy';
import { type Chapter } from '../computation/types';
import { facts, figure, h2, plain, right, table, value, type Node } from '../shared/pages/elements';
import { type PlotUnit } from '../shared/pages/plots';

/** The chapter on the accuracy of plan, and on what was taped and levelled. */
export const accuracyOfPlan: Chapter<Contents['plan-check']> = (
  { content: { figures: f }, cloud },
  { small, factor, symbol },
) => {
  const s = f.statistics;
  const number = figure(small);
  type Of = 'meanE' | 'meanN' | 'sdE' | 'sdN' | 'rmseE' | 'rmseN';
  const pair = (a: Of, b: Of) => `${value(s[a], small, 1)} east, ${value(s[b], small, 1)} north`;
  const placed = f.marks.filter((m) => m.dE !== null);
  const out: Node[] = [
    h2('Accuracy of plan'),
    {
      text: `Found minus given. ${plain(cloud)}: targets fitted in the brightness of the points, or picked by hand where that is said. Only check marks enter the statistics; deviations are 1 SD.`,
      style: 'soft',
    },
  ];
  if (s.count)
    out.push(
      facts([
        ['Check marks', String(s.count)],
        ['Mean', pair('meanE', 'meanN')],
        ['SD (n - 1)', pair('sdE', 'sdN')],
        ['RMSE (n)', `${pair('rmseE', 'rmseN')}, both ${value(s.rmseR, small, 1)}`],
        ['Tolerance', `${value(f.toleranceM, small)}: ${f.within ? 'kept' : 'not kept'}`],
        ['Greatest length', value(s.maxM, small, 1)],
        ['Bias', s.biasSignificant ? 'significant (two-sided, 5 %)' : 'not significant (two-sided, 5 %)'],
        ...(f.trend
          ? ([
              [
                'Scale, turn',
                `${f.trend.scalePpm.toFixed(0)} ppm (1 SD ${f.trend.sdScalePpm.toFixed(0)}), ${f.trend.scaleSignificant ? 'significant' : 'not significant'}; ${f.trend.turnArcsec.toFixed(0)} seconds of arc (1 SD ${f.trend.sdTurnArcsec.toFixed(0)}), ${f.trend.turnSignificant ? 'significant' : 'not significant'} (two-sided, 5 %)`,
              ],
            ] as Array<[string, Node]>)
          : []),
        ['95 %', `${value(s.p95M, small, 1)} (${plain(String(s.p95Note))})`],
      ]),
      ...f.statements.map((a) => ({
        text: `${a.standard}: class ${a.classCm.toFixed(1)} cm; RMSE ${(100 * a.rmseM).toFixed(2)} cm${a.caveat ? `. ${a.caveat[0].toUpperCase()}${a.caveat.slice(1)}: no verdict of conformity.` : '.'}`,
        margin: [0, 0, 0, 2],
      })),
    );
  else out.push({ text: 'No check mark has a place in the cloud: no statement on plan is made.', bold: true });
  if (placed.length)
    out.push(
      table(
        [
          'Mark',
          'Role',
          'Place by',
          `East, ${small.symbol}`,
          `North, ${small.symbol}`,
          `1 SD, ${small.symbol}`,
          `Up, ${small.symbol}`,
          't',
          'State',
        ],
        placed.map((m) => [
          plain(m.name),
          m.role,
          m.how ?? '',
          ...[m.dE, m.dN, Math.max(m.sdE ?? 0, m.sdN ?? 0), m.dH].map((v) => right(number(v))),
          right(m.testT === null ? '-' : m.testT.toFixed(1)),
          {
            text: plain(
              m.flagged
                ? 'does not agree'
                : m.used
                  ? 'in statistics'
                  : m.apart === 'role'
                    ? `${m.role}, apart`
                    : m.note,
            ),
            color: m.flagged ? '#a8402e' : '#15262c',
            fontSize: 7.5,
          },
        ]),
        [26, 34, 38, 44, 46, 46, 38, 22, '*'],
      ),
    );
  const absent = f.marks.filter((m) => m.dE === null);
  if (absent.length)
    out.push({
      text: `Without a place: ${absent.map((m) => `${m.name} (${m.note})`).join('; ')}.`,
      style: 'soft',
      margin: [0, 0, 0, 6],
    });
  out.push(...onSite(f.distances, small, factor, symbol));
  return out;
};

function onSite(distances: PlanDistance[], small: PlotUnit, factor: number, symbol: string): Node[] {
  if (distances.length === 0) return [];
  return [
    h2('Measured on site against the cloud'),
    {
      text: 'Slope distances on the ground, and levelled height differences, between the places found in the cloud. They agree within 3 times the expected SD.',
      style: 'soft',
    },
    table(
      [
        'From',
        'To',
        'Kind',
        `Measured, ${symbol}`,
        `Cloud, ${symbol}`,
        `Difference, ${small.symbol}`,
        `1 SD, ${small.symbol}`,
        'Verdict',
      ],
      distances.map((d) => [
        plain(d.from),
        plain(d.to),
        d.kind === 'height' ? 'levelled' : 'taped',
        right((d.measuredM * factor).toFixed(3)),
        right(d.foundM === null ? '-' : (d.foundM * factor).toFixed(3)),
        right(d.differenceM === null ? '-' : (d.differenceM * small.factor).toFixed(small.digits + 1)),
        right(d.expectedSdM === null ? '-' : (d.expectedSdM * small.factor).toFixed(small.digits + 1)),
        {
          text: plain(d.agrees === null ? d.note : d.agrees ? 'agrees' : 'does not agree'),
          color: d.agrees === false ? '#a8402e' : '#15262c',
          fontSize: 7.5,
        },
      ]),
      [34, 34, 40, 56, 52, 62, 46, '*'],
    ),
  ];
}
