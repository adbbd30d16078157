import { type Contents } from '@longheron/contract/kinds';
import { CAUSE_WORDS } from '@longheron/contract/kinds/parts/soundings';
import { type Chapter } from '../computation/types';
import { h2, right, table } from '../shared/pages/elements';

/** The chapter on reduced soundings. */
export const soundingsChapter: Chapter<Contents['point-cloud']> = ({ content }, { small }) => {
  const f = content.sounded!;
  const little = (m: number) => right((small.factor * m).toFixed(small.digits));
  return [
    h2('Soundings reduced'),
    ...(f.heights === 'relative'
      ? [
          {
            text: `Heights are relative: they count from ${f.heights_above}. They must not be compared with heights of the project.`,
            bold: true,
          },
        ]
      : []),
    {
      text: `${f.soundings} soundings of ${f.pings} pings, ${f.doubtful} of them graded low and rejected. Place and attitude from ${f.path === 'trajectory' ? 'the trajectory' : 'real-time navigation'}, heights ${f.heights === 'trajectory' ? 'from the trajectory' : f.heights === 'gauge' ? 'from the gauge' : 'relative'}. Latency ${f.latency_s.toFixed(4)} s. Deviations are 1 SD.`,
      style: 'soft',
    },
    table(
      ['Line', 'File', 'Length, m', 'Course, °', 'Soundings', 'Lowest, m', 'Highest, m'],
      f.lines.map((l) => [
        right(String(l.id)),
        l.file,
        right(l.length_m.toFixed(0)),
        right(l.heading_deg.toFixed(0)),
        right(String(l.soundings)),
        right(l.lowest_m.toFixed(2)),
        right(l.highest_m.toFixed(2)),
      ]),
      [30, '*', 55, 50, 60, 55, 55],
    ),
    table(
      ['Cast', 'Pings', 'Age up to, min', 'Away up to, m', 'Head differs by, m/s'],
      f.casts.map((c) => [
        c.name,
        right(String(c.pings)),
        right((c.age_s / 60).toFixed(0)),
        right(c.away_m.toFixed(0)),
        right(c.surface_off_mps === null ? '' : c.surface_off_mps.toFixed(1)),
      ]),
      ['*', 60, 80, 80, 100],
    ),
    table(
      ['Uncertainty by cause', `Height, ${small.symbol}`, `Plan, ${small.symbol}`],
      f.causes.map((c) => [CAUSE_WORDS[c.cause] ?? c.cause, little(c.height_m), little(c.plan_m)]),
      ['*', 80, 80],
    ),
    table(
      ['Beam angle', 'Soundings', `Height, ${small.symbol}`, `Plan, ${small.symbol}`],
      f.by_angle.map((b) => [
        `${b.from_deg} to ${b.to_deg}°`,
        right(String(b.soundings)),
        little(b.sd_h_m),
        little(b.sd_plan_m),
      ]),
      ['*', 80, 80, 80],
    ),
  ];
};
