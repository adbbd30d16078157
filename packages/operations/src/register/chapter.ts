import { type Contents } from '@longheron/contract/kinds';
import { type Chapter } from '../computation/types';
import { figure, h2, right, table } from '../shared/pages/elements';

/** The chapter on scans placed as one cloud. */
export const registerChapter: Chapter<Contents['point-cloud']> = ({ content }, { small }) => {
  const f = content.registered!;
  const number = figure(small);
  const or = (m: number | null | undefined) => (m === null || m === undefined ? '' : number(m));
  const percent = (v: number | null) => (v === null ? '' : (100 * v).toFixed(0));
  const factors = [...new Set(f.scans.flatMap((s) => (s.grid_factor === null ? [] : [s.grid_factor.toFixed(6)])))];
  return [
    h2('Scans placed'),
    {
      text:
        `${f.scans.length} scans, ${f.points} points${f.local ? ', in the frame of the first scan' : ''}. ` +
        `Sigma nought ${f.sigma0 === null ? 'not known' : f.sigma0.toFixed(2)} with ${f.redundancy} observations to spare. ` +
        (f.surface_factor === null
          ? ''
          : `Pieces of surfaces differ by ${f.surface_factor.toFixed(2)} of what the scatter of their points makes of it. `) +
        (factors.length ? `The grid's factor, ${factors.join(', ')}, is applied once. ` : '') +
        'Deviations are 1 SD.',
      style: 'soft',
    },
    table(
      ['Scan', 'Points', `SD east, ${small.symbol}`, 'north', 'height', 'Turn, degrees', 'Targets', 'Pieces'],
      f.scans.map((s) => [
        s.name,
        right(String(s.points)),
        right(number(s.sd_x_m)),
        right(number(s.sd_y_m)),
        right(number(s.sd_z_m)),
        right(s.sd_rot_deg.toFixed(4)),
        right(String(s.targets)),
        right(String(s.pieces ?? 0)),
      ]),
      ['*', 55, 65, 45, 45, 65, 45, 45],
    ),
    ...(f.pairs.length
      ? [
          table(
            ['Scan', 'and', `RMS, ${small.symbol}`, 'of', `Surfaces, ${small.symbol}`, 'Overlap, %', 'Agree, %'],
            f.pairs.map((p) => [
              p.a,
              p.b,
              right(number(p.rms_m)),
              `${p.points} ${p.points === p.pieces ? 'pieces' : 'targets'}`,
              right(or(p.surface_rms_m)),
              right(percent(p.overlap)),
              right(percent(p.agreeing)),
            ]),
            ['*', '*', 60, 70, 75, 60, 55],
          ),
        ]
      : []),
    ...(f.unplaced ?? []).map((u) => ({ text: `Not placed: ${u.says}`, style: 'soft' })),
    ...f.rejected.map((r) => ({ text: `Left out: ${r.says}`, style: 'soft' })),
    ...(f.unlike ?? []).map((u) => ({
      text: `The surfaces of ${u.a} and ${u.b} overlap and do not agree; this pair does not count.`,
      style: 'soft',
    })),
  ];
};
