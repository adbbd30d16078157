import { readFileSync } from 'node:fs';
import { type SettingsOf } from '@longheron/contract/declare';
import { type TrajectoryFigures } from '@longheron/contract/kinds/trajectory';
import declaration from '@longheron/contract/operations/position';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, type InternationalFrame } from '@longheron/core/frames';
import { type System } from '@longheron/core/gnss';
import { part, Problem } from '@longheron/core/shared';
import { type ColumnStatistics } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { computation, placed, type Context, type InputsOf } from '../computation/types';
import { fileFacts } from '@longheron/formats/format';
import { trajectoryContent } from '../shared/preview';
import { crsFrom, millimetres, namesOf, percent } from '../shared/words';
import { qualityCsv } from './csv';
import { diagnosticsOf } from './diagnostics';
import { fromLatLonHeight, positionRover, type BasePosition, type PositionResult } from './position';
import { skyOf } from './sky';

export * from './position';

type Settings = SettingsOf<(typeof declaration)['settings']>;
type Inputs = InputsOf<typeof declaration>;

/** The trajectory of a rover's antenna or of its inertial unit. */
export default computation(
  declaration,
  async (inputs, s, context, out, watch) => {
    const { rover, base, navigation, orbits, calibrations, inertial } = inputs;
    const pathsOf = (list: Array<{ path: string }>) => list.map((f) => f.path);
    let made!: PositionResult;
    const csv = await out.file('trajectory', 'trajectory', async (outPath) => {
      made = await positionRover(
        {
          roverPaths: pathsOf(rover),
          basePaths: pathsOf(base),
          navPaths: pathsOf(navigation),
          orbitPaths: pathsOf(orbits),
          antennaPaths: pathsOf(calibrations),
          outPath,
          names: namesOf([...rover, ...base, ...navigation, ...orbits, ...calibrations, inertial]),
          base: basePosition(inputs, s, context),
          antennaHeightM: s.antennaHeightM,
          frame: s.frame,
          baseFrame: baseFrameOf(s),
          plate: s.basePlate === 'unknown' ? undefined : s.basePlate,
          startGps: s.startGps,
          endGps: s.endGps,
          startSow: s.startSow,
          endSow: s.endSow,
          settings: {
            maskDeg: s.maskDeg,
            direction: s.direction,
            frequencies: s.frequencies,
            leftOut: s.leftOut,
            systems: [...s.systems] as System[],
          },
          inertial: inertialOf(inputs, s),
        },
        part(watch, 0, 0.95),
      );
    });
    const { report, trajectory, epochs, week } = made;
    const name = `${made.inertial ? 'Trajectory' : 'Antenna trajectory'}${made.marker ? `, ${made.marker}` : ''}`;
    const { keeps, store } = out;
    const kept = keeps
      ? {
          ...(await trajectoryContent(store, csv.sha256, name, crsFrom(context))),
          point: trajectory.point,
          sky: made.sky ? await store.json(skyOf(made.sky, trajectory, week), 'sky') : null,
          diagnostics: await store.json(diagnosticsOf(epochs, week, made.inertial), 'diagnostics'),
        }
      : { object: csv.sha256, bytes: csv.bytes, facts: fileFacts(name, csv.bytes, 'trajectory') };
    return {
      name,
      content: { ...kept, figures: { ...report, inputs: undefined, notices: undefined } },
      hash: csv.sha256,
      report: { ...report, notices: placed(report.notices) },
      log: [`${epochs.length} epochs in ${report.seconds} s.`],
      lines: linesOf(made),
    };
  },
  {
    exports: {
      quality: ({ preview, figures }, { name, path }) => {
        const kept = preview
          ? (JSON.parse(readFileSync(path(preview), 'utf8')) as { statistics: ColumnStatistics[] })
          : undefined;
        return qualityCsv(name, kept?.statistics ?? [], figures);
      },
    },
  },
);

/** Marker of the base: a mark of the project, as typed, the mean of its codes; undefined: its header's. */
function basePosition({ baseMarks }: Inputs, s: Settings, context: Context): BasePosition | 'mean' | undefined {
  if (baseMarks) {
    const mark = baseMarks.marks.find((m) => m.name === s.baseMark);
    if (mark) return markPosition(mark, crsFrom(context));
    throw new Problem(`There is no mark ${String(s.baseMark)} in "${baseMarks.name}".`, {
      code: 'input',
      place: 'baseMarks',
      remedy: 'Choose the mark that the base stands on.',
    });
  }
  if (s.baseXyzM.length) return { xyzM: [s.baseXyzM[0], s.baseXyzM[1], s.baseXyzM[2]], source: 'given' };
  const { baseLatDeg, baseLonDeg, baseHEllM } = s;
  if (baseLatDeg !== undefined && baseLonDeg !== undefined && baseHEllM !== undefined) {
    // a height of the project's system is carried to the ellipsoid
    const up =
      s.baseHeightKind === 'project'
        ? parseSystem(crsFrom(context)).geoid.undulation(baseLatDeg * DEG, baseLonDeg * DEG)
        : 0;
    return fromLatLonHeight(baseLatDeg, baseLonDeg, baseHEllM + up);
  }
  return s.baseMean ? 'mean' : undefined;
}

function markPosition(mark: Mark, crs: string): BasePosition {
  const geo = new Float64Array(3);
  parseSystem(crs).unproject(mark.eastingM, mark.northingM, mark.heightM, geo);
  return fromLatLonHeight(geo[0] / DEG, geo[1] / DEG, geo[2]);
}

function baseFrameOf({ baseFrame, baseEpoch }: Settings): { frame: InternationalFrame; epoch: number } | undefined {
  if (baseFrame === 'ETRS89') return undefined;
  if (baseEpoch === undefined)
    throw new Problem(`Coordinates in ${baseFrame} need the epoch they belong to.`, {
      code: 'base-epoch',
      remedy: 'Type it as a year with decimals.',
      command: 'Give it with --base-epoch, a year with decimals.',
    });
  return { frame: baseFrame, epoch: baseEpoch };
}

function inertialOf({ inertial, antenna }: Inputs, s: Settings) {
  if (!inertial) return undefined;
  if (!antenna)
    throw new Problem('Inertial data need a mounting with the lever arm to the antenna.', {
      code: 'input',
      place: 'antenna',
      remedy: 'Choose it in the sheet.',
      command: 'Give it with --mount.',
    });
  const { platform, headingDeg, leverArmSdM, standstill, noSlip, rateHz } = s;
  return {
    path: inertial.path,
    mounting: antenna.mounting,
    platform,
    headingDeg,
    leverArmSdM,
    rateHz,
    standstill,
    noSlip,
    grade: s.grade === 'told' ? undefined : s.grade,
    ...(s.reverseCheck ? {} : { reverse: false }),
  };
}

/** The unit as it was taken: "tactical grade, as 480 s of its data tell (gyro walk 0.05 °/√h, bias 0.5 °/h)". */
function unitWords(u: TrajectoryFigures['unit_noise']): string {
  if (!u) return 'unknown grade';
  const told = u.from === 'data' ? `, as ${u.seconds?.toFixed(0)} s of its data tell` : '';
  const [walk, bias] = [u.gyro_walk_deg_root_h, u.gyro_bias_deg_h].map((v) => Number(v.toPrecision(2)));
  return `${u.grade} grade${told} (gyro walk ${walk} °/√h, bias ${bias} °/h)`;
}

function linesOf({ report: r, inertial }: PositionResult): string[] {
  const degrees = (v: unknown) => `${Number(v).toFixed(4)}°`;
  return [
    `${r.epochs} epochs: ${percent(r.fixed_share)} fixed, ${percent(r.float_share)} float; ${Number(r.satellites_mean).toFixed(1)} satellites, up to ${Number(r.baseline_m).toFixed(0)} m from the base.`,
    `Stated precision (1 SD, RMS): N ${millimetres(r.sd_n_m)}, E ${millimetres(r.sd_e_m)}, D ${millimetres(r.sd_d_m)}; forward less reverse ${millimetres(r.separation_rms_m)} RMS, ${millimetres(r.separation_max_m)} at most.`,
    ...(inertial
      ? [
          `The inertial unit is taken to be of ${unitWords(inertial.figures.unit_noise)}.`,
          `With inertial data: ${r.rows} rows, ${percent(r.inertial_share)} on the unit alone; attitude (1 SD, RMS) roll ${degrees(r.sd_roll_deg)}, pitch ${degrees(r.sd_pitch_deg)}, heading ${degrees(r.sd_heading_deg)}.`,
        ]
      : []),
  ];
}
