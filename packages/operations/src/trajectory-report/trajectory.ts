import { formatGps } from '@longheron/core/time';
import { ALIGNED_BY, type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import { type Account } from '../shared/pages/account';
import { facts, h2, plain, right, table, type Node } from '../shared/pages/elements';
import { pages } from '../shared/pages/pages';
import { notices, referenceLine, staleWarning, trail } from '../shared/pages/sections';
import { type TrajectoryPreview } from '../shared/preview';
import { BAND_COLOURS, pathSvg, solutionSvg, timeSvg, type TimeAxis } from './timePlots';

const WIDTH = 505;
const LOOK: Record<number, { word: string; colour: string }> = {
  1: { word: 'fixed', colour: '#3f7350' },
  2: { word: 'float', colour: '#d9a441' },
  3: { word: 'codes alone', colour: '#a8402e' },
  4: { word: 'inertial alone', colour: '#7a4b8c' },
};

/** What of the plots' object is printed. */
export type Preview = TrajectoryPreview;

export interface SkyFigures {
  satellites: string[];
  residualMm: Array<Array<number | null>>;
  elevation: Array<Array<number | null>>;
  slips: Array<{ satellite: string }>;
  solution: Array<{ from: number; to: number; kind: number }>;
}

/** A trajectory as its report prints it. */
export interface Reported {
  name: string;
  /** What it is the path of: `imu`, `antenna` or a name. */
  point: string;
  /** Of the computation; undefined for one that was taken in. */
  figures?: TrajectoryFigures;
  preview: Preview;
  sky: SkyFigures | null;
}

/** The report on a trajectory: how good it is and where, how it was computed, of what. */
export function trajectoryDocument(data: Account, { name, point, figures: f, preview, sky }: Reported) {
  return pages(data, `${data.project.name}: trajectory`, [
    { text: 'Trajectory and its precision', style: 'h1' },
    { text: data.project.purpose || 'No purpose was stated.', style: 'soft', margin: [0, 0, 0, 6] },
    ...staleWarning(data),
    verdict(data, preview),
    h2('What it is'),
    facts([
      ['Trajectory', `${plain(name)}, revision ${data.revision}`],
      ['Path of', point === 'imu' ? 'the inertial reference point' : point],
      ['From', formatGps(preview.startGps, data.reference.time, 1)],
      ['To', formatGps(preview.endGps, data.reference.time, 1)],
      ['Epochs', String(preview.epochs)],
    ]),
    ...data.sheets.flatMap((s) => [
      h2(`Session sheet, ${plain(s.name)}`),
      facts(s.rows.map(([k, v]) => [k, plain(v)])),
    ]),
    ...(f
      ? computation(data, f)
      : [{ text: 'It was imported as a file; how it was computed is not known.', style: 'soft' }]),
    statistics(preview),
    ...plots(data, preview, sky),
    ...(sky ? satellites(sky) : []),
    ...referenceLine(data),
    ...notices(data),
    ...trail(data),
  ]);
}

/** Share of bins whose worst deviation, plan and height, is within the tolerance. */
export function shareWithin(preview: Preview, toleranceM: number): number {
  const down = preview.columns['SD down']?.max;
  const good = preview.worstSdM.filter((v, k) => Math.max(v, down?.[k] ?? 0) <= toleranceM).length;
  return good / Math.max(1, preview.worstSdM.length);
}

function verdict(data: Account, preview: Preview): Node {
  const share = shareWithin(preview, data.project.toleranceM);
  const all = share > 0.9995;
  const worst = Math.max(...preview.worstSdM, ...(preview.columns['SD down']?.max ?? []));
  return {
    text: [
      {
        text: all ? 'Within tolerance throughout. ' : `${(100 * share).toFixed(1)} % within tolerance. `,
        bold: true,
        color: all ? '#3f7350' : '#a8402e',
      },
      `Stated deviations (1 SD) of plan and height against ${(100 * data.project.toleranceM).toFixed(1)} cm; the largest is ${(100 * worst).toFixed(1)} cm.`,
    ],
    fontSize: 10.5,
  };
}

function computation(data: Account, f: TrajectoryFigures): Node[] {
  const s = f.settings ?? {};
  const n = f.session_noise;
  const metres = (v: unknown, digits = 4) => (typeof v === 'number' ? `${v.toFixed(digits)} m` : '-');
  const percent = (v: number | null | undefined) => (typeof v !== 'number' ? '-' : `${(100 * v).toFixed(2)} %`);
  const mm = (v: number | null | undefined) => (typeof v === 'number' ? `${(1000 * v).toFixed(1)} mm` : '-');
  const xyz = s.base_xyz_m ?? [];
  const degrees = (v: number | null | undefined) => (typeof v === 'number' ? `${v.toFixed(4)}°` : '-');
  return [
    h2('How it was computed'),
    facts([
      ['Method', f.alignment ? 'GNSS carrier phase with inertial data, smoothed' : 'GNSS carrier phase'],
      ['Rover', plain((data.sources.rover ?? []).join(', '))],
      ['Base', `${plain((data.sources.base ?? []).join(', '))}, up to ${metres(f.baseline_m, 0)} away`],
      ['Marker of the base, Earth-centred', xyz.map((v) => v.toFixed(4)).join(' ')],
      ['Antenna over the marker', metres(s.antenna_height_m)],
      ['Frame', String(s.frame ?? '')],
      [
        'Orbits, phase centres, solid tide',
        [s.orbits, s.phase_centres ? 'applied' : 'not applied', s.solid_tide ? 'taken out' : 'not needed']
          .map(String)
          .join(', '),
      ],
      ['Systems, lowest elevation, direction', `${String(s.systems)}, ${String(s.mask_deg)}°, ${String(s.direction)}`],
      ['Left out', (s.left_out ?? []).join(', ') || 'none'],
      ['Fixed, float, codes alone', [f.fixed_share, f.float_share, f.code_share].map(percent).join(', ')],
      ['Forward less reverse, RMS and most', `${mm(f.separation_rms_m)}, ${mm(f.separation_max_m)}`],
      ['Cycle slips', String(f.cycle_slips ?? '-')],
      ...(n
        ? ([
            [
              'Codes at 45° (1 SD, from the session)',
              `noise ${metres(n.code_m, 2)}, multipath ${metres(n.code_multipath_m, 2)} over ${n.multipath_s.toFixed(0)} s`,
            ],
            ['Phases at 45° (1 SD, from the session)', `noise ${mm(n.phase_m)}, multipath ${mm(n.phase_multipath_m)}`],
          ] as Array<[string, Node]>)
        : []),
      ...(f.alignment
        ? ([
            ['Alignment', `${ALIGNED_BY[f.alignment.by] ?? f.alignment.by}, ${f.alignment.seconds.toFixed(0)} s`],
            [
              'Attitude, roll, pitch, heading (1 SD, RMS)',
              [f.sd_roll_deg, f.sd_pitch_deg, f.sd_heading_deg].map(degrees).join(', '),
            ],
            ['Forward less reverse, attitude (RMS)', (f.passes_attitude_deg ?? []).map(degrees).join(', ') || '-'],
            ...unitRows(f.unit_noise),
            ['Positions not believed', percent(f.positions_refused_share)],
          ] as Array<[string, Node]>)
        : []),
    ]),
  ];
}

/** Noise of the inertial unit that was taken. */
function unitRows(u: TrajectoryFigures['unit_noise']): Array<[string, Node]> {
  if (!u) return [];
  const n = (v: number) => String(Number(v.toPrecision(2)));
  return [
    ['Grade of the inertial unit', u.from === 'data' ? `${u.grade}, as its data tell` : `${u.grade}, as chosen`],
    [
      'Gyros: walk, bias, drift (1 SD)',
      `${n(u.gyro_walk_deg_root_h)} °/√h, ${n(u.gyro_bias_deg_h)} and ${n(u.gyro_drift_deg_h)} °/h`,
    ],
    [
      'Accelerometers: walk, bias, drift (1 SD)',
      `${n(u.accel_walk_mps_root_h)} m/s/√h, ${n(u.accel_bias_mg)} and ${n(u.accel_drift_mg)} mg`,
    ],
  ];
}

function statistics(preview: Preview): Node {
  const cell = (v: number, unit: string) => right(v.toFixed(unit === '°' ? 4 : unit === '' ? 1 : 3));
  return table(
    ['Over all epochs', 'Unit', 'Mean', 'RMS', '95 %', 'Most'],
    preview.statistics.map((s) => [s.name, s.unit, ...[s.mean, s.rms, s.p95, s.max].map((v) => cell(v, s.unit))]),
    ['*', 36, 62, 62, 62, 62],
  );
}

function plots(data: Account, p: Preview, sky: SkyFigures | null): Node[] {
  const display = data.reference.time;
  const axis: TimeAxis = {
    from: p.startGps,
    to: p.endGps,
    width: WIDTH,
    text: (t) => formatGps(t, display, 0).slice(11),
  };
  const limit = data.project.toleranceM;
  const plot = (name: string, title: string, more: object = {}): Node[] => {
    const c = p.columns[name];
    return c ? [{ svg: timeSvg(axis, p.time, c.min, c.max, { title, ...more }), margin: [0, 2, 0, 2] }] : [];
  };
  return [
    { text: 'Against time', style: 'h2', pageBreak: 'before' },
    ...(sky ? [{ svg: solutionSvg(axis, sky.solution, LOOK) }] : []),
    ...plot('SD plan', 'SD of plan, m (1 SD); tolerance dashed', { limit }),
    ...plot('SD down', 'SD of height, m (1 SD)', { limit, colour: '#c97a00' }),
    ...plot('SD heading', 'SD of heading, degrees', { colour: '#7a4b8c' }),
    ...plot('Satellites', 'Satellites', { least: 10, colour: '#53666d' }),
    {
      stack: [
        h2('Where'),
        {
          columns: [
            { svg: pathSvg(p.eastingM, p.northingM, p.worstSdM, limit), width: 260 },
            {
              stack: [
                { text: 'SD of plan, worst in each piece', style: 'soft' },
                { text: `within ${(50 * limit).toFixed(1)} cm`, color: BAND_COLOURS[0] },
                { text: `within ${(100 * limit).toFixed(1)} cm, the tolerance`, color: BAND_COLOURS[1] },
                { text: 'beyond it', color: BAND_COLOURS[2] },
              ],
            },
          ],
        },
      ],
      unbreakable: true,
    },
  ];
}

function satellites(sky: SkyFigures): Node[] {
  const rows = sky.satellites.map((name, s) => {
    const r = sky.residualMm[s].filter((v): v is number => v !== null);
    const e = sky.elevation[s].filter((v): v is number => v !== null);
    return {
      name,
      n: r.length,
      low: Math.min(...e),
      high: Math.max(...e),
      rms: Math.sqrt(r.reduce((q, v) => q + v * v, 0) / Math.max(1, r.length)),
      most: Math.max(0, ...r.map(Math.abs)),
      slips: sky.slips.filter((x) => x.satellite === name).length,
    };
  });
  const cells = (r: (typeof rows)[number]): Node[] => [
    r.name,
    right(`${r.low.toFixed(0)} to ${r.high.toFixed(0)}`),
    right(r.n ? r.rms.toFixed(1) : '-'),
    right(r.n ? r.most.toFixed(0) : '-'),
    right(String(r.slips)),
  ];
  const half = Math.ceil(rows.length / 2);
  const header = ['Satellite', 'Elevation, °', 'RMS, mm', 'Most, mm', 'Slips'];
  const widths = [44, 54, 42, 46, 30];
  return [
    {
      stack: [
        h2('Satellites: phase residuals, the worse of both bands'),
        {
          columns: [rows.slice(0, half), rows.slice(half)].map((part) =>
            part.length ? table(header, part.map(cells), widths) : '',
          ),
          columnGap: 14,
        },
      ],
      unbreakable: true,
    },
  ];
}
