import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { type System } from '@longheron/core/gnss';
import { INTERNATIONAL_FRAMES, type InternationalFrame } from '@longheron/core/frames';
import { PLATFORMS, type Platform } from '@longheron/core/inertial';
import { Problem } from '@longheron/core/shared';
import { readMounting } from '@longheron/formats/mounting';
import {
  fromLatLonHeight,
  positionRover,
  type BasePosition,
  type InertialRequest,
} from '@longheron/operations/position';
import { type Options } from '../options';
import { type Command } from './command';

const mm = (v: unknown) => (typeof v === 'number' ? `${(1000 * v).toFixed(0)} mm` : '–');
const percent = (v: unknown) => `${(100 * Number(v)).toFixed(1)} %`;

/** Three numbers between commas. */
function three(o: Options, name: string): [number, number, number] | undefined {
  if (o.text(name) === undefined) return undefined;
  const values = o.list(name).map(Number);
  if (values.length !== 3 || values.some((v) => !Number.isFinite(v)))
    throw new Problem(`--${name} is "${o.text(name)}"; three numbers between commas are needed.`, {
      code: 'option',
      remedy: 'See --help.',
    });
  return values as [number, number, number];
}

function baseOf(o: Options): BasePosition | 'mean' | undefined {
  const llh = three(o, 'base-llh');
  const xyz = three(o, 'base-xyz');
  const mean = o.flag('base-mean');
  if (Number(Boolean(llh)) + Number(Boolean(xyz)) + Number(mean) > 1)
    throw new Problem('More than one of --base-llh, --base-xyz and --base-mean is given.', {
      code: 'option',
      remedy: 'Give one of them.',
    });
  if (llh) {
    if (Math.abs(llh[0]) > 90 || Math.abs(llh[1]) > 360)
      throw new Problem('--base-llh is latitude, longitude, height, in degrees and metres.', {
        code: 'option',
        remedy: 'Check the order and the signs.',
      });
    return fromLatLonHeight(...llh);
  }
  return mean ? 'mean' : xyz && { xyzM: xyz, source: 'given' };
}

function baseFrameOf(o: Options): { frame: InternationalFrame; epoch: number } | undefined {
  const frame = o.text('base-frame');
  if (frame === undefined || frame === 'ETRS89') return undefined;
  if (!INTERNATIONAL_FRAMES.includes(frame as InternationalFrame))
    throw new Problem(`--base-frame is "${frame}"; ETRS89, ${INTERNATIONAL_FRAMES.join(', ')} are known.`, {
      code: 'option',
      remedy: 'See --help.',
    });
  o.must('base-epoch');
  return { frame: frame as InternationalFrame, epoch: o.number('base-epoch', 1980, 2100)! };
}

async function inertialOf(o: Options, path: string): Promise<InertialRequest> {
  const mount = o.must('mount');
  const platform = (o.text('platform') ?? 'vehicle') as Platform;
  if (!PLATFORMS.includes(platform))
    throw new Problem(`--platform is "${platform}"; ${PLATFORMS.join(', ')} are known.`, {
      code: 'option',
      remedy: 'See --help.',
    });
  return {
    path,
    platform,
    mounting: readMounting(await readFile(mount), basename(mount)),
    headingDeg: o.number('heading', -360, 360),
    rateHz: o.number('rate', 0.1, 10000),
    ...(o.flag('no-reverse-check') ? { reverse: false } : {}),
    ...(o.flag('no-standstill') ? { standstill: false } : {}),
    ...(o.flag('wheels-may-slip') ? { noSlip: false } : {}),
  };
}

export const position: Command = {
  options: {
    ...{
      rover: 'string',
      base: 'string',
      nav: 'string',
      antex: 'string',
      sp3: 'string',
      'base-llh': 'string',
      'base-xyz': 'string',
    },
    ...{
      'antenna-height': 'string',
      frame: 'string',
      'base-frame': 'string',
      'base-epoch': 'string',
      'one-band': 'boolean',
      start: 'string',
      end: 'string',
      out: 'string',
    },
    ...{ imu: 'string', mount: 'string', platform: 'string', heading: 'string', rate: 'string' },
    ...{
      'no-standstill': 'boolean',
      'no-reverse-check': 'boolean',
      'base-mean': 'boolean',
      'wheels-may-slip': 'boolean',
      mask: 'string',
      systems: 'string',
      'leave-out': 'string',
      direction: 'string',
    },
  },
  async run(o, watch) {
    const imu = o.text('imu');
    const listed = (name: string) => (o.text(name) === undefined ? [] : o.list(name));
    const orbits = listed('sp3');
    const antennas = listed('antex');
    const nav = orbits.length ? listed('nav') : o.list('nav');
    const rovers = o.list('rover');
    const bases = o.list('base');
    const inputs = [...rovers, ...bases, ...nav, ...orbits, ...antennas, ...(imu ? [imu, o.must('mount')] : [])];
    const direction = o.text('direction') ?? 'both';
    const systems = [...(o.text('systems') ?? 'GE')] as System[];
    if (!['both', 'forward', 'reverse'].includes(direction) || systems.some((s) => s !== 'G' && s !== 'E'))
      throw new Problem('--direction is both, forward or reverse; --systems is G, E or GE.', {
        code: 'option',
        remedy: 'See --help.',
      });
    o.must('out');
    const { report } = await positionRover(
      {
        roverPaths: rovers,
        basePaths: bases,
        navPaths: nav,
        orbitPaths: orbits,
        antennaPaths: antennas,
        base: baseOf(o),
        antennaHeightM: o.number('antenna-height', -10, 100),
        frame: o.text('frame'),
        baseFrame: baseFrameOf(o),
        startSow: o.number('start'),
        endSow: o.number('end'),
        settings: {
          systems,
          frequencies: o.flag('one-band') ? 'first' : 'both',
          maskDeg: o.number('mask', 0, 60) ?? 10,
          leftOut: o.text('leave-out') ? o.list('leave-out') : [],
          direction: direction as 'both',
        },
        inertial: imu ? await inertialOf(o, imu) : undefined,
        outPath: o.output('out', inputs)!,
      },
      watch,
    );
    const degrees = (v: unknown) => `${Number(v).toFixed(4)}°`;
    const lines = [
      `${report.epochs} epochs: ${percent(report.fixed_share)} fixed, ${percent(report.float_share)} float; ${Number(report.satellites_mean).toFixed(1)} satellites, up to ${Number(report.baseline_m).toFixed(0)} m from the base.`,
      `Stated precision (1 SD, RMS): N ${mm(report.sd_n_m)}, E ${mm(report.sd_e_m)}, D ${mm(report.sd_d_m)}; forward less reverse ${mm(report.separation_rms_m)} RMS, ${mm(report.separation_max_m)} at most.`,
      ...(imu
        ? [
            `With inertial data: ${report.rows} rows, ${percent(report.inertial_share)} on the unit alone; attitude (1 SD, RMS) roll ${degrees(report.sd_roll_deg)}, pitch ${degrees(report.sd_pitch_deg)}, heading ${degrees(report.sd_heading_deg)}.`,
          ]
        : []),
    ];
    return { report, lines };
  },
};
