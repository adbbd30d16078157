import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseSystem } from '@longheron/formats/crs';
import { airEvents, airSensors, DRIFT, PLANTED_BORESIGHT_DEG } from '@longheron/site/airborne';
import {
  JOURNEY_FILES,
  makeFlightFiles,
  makeFlightPhotos,
  SITE_DEFAULTS,
  siteFlight,
  siteWriters,
} from '@longheron/site/files';
import { surveyedMarks } from '@longheron/site/marks';
import { exposureText } from '@longheron/site/occupations';
import { SITE_SYSTEM } from '@longheron/site/terrain';
import { command } from './command';

type Line = (what: string, value: string, target: string, good: boolean) => void;
type Angle = keyof typeof PLANTED_BORESIGHT_DEG;

interface Strips {
  before_m: number;
  after_m: number;
  noise_m: number;
  mount: { boresight_deg: Record<Angle, number>; sd: Record<Angle, number> };
  strips: Array<{ id: number; start_sow: number; end_sow: number; points: number }>;
  overlaps: Array<{ first: number; second: number; patches: number; before_rms_m: number; after_rms_m: number }>;
}

/** The demo's flight by its commands, from the given trajectory that drifts to the coloured cloud. */
export async function demoFlight(line: Line): Promise<void> {
  console.log('The flight of the demo, its returns and photographs …');
  const folder = mkdtempSync(join(tmpdir(), 'longheron-flight-'));
  try {
    const system = parseSystem(SITE_SYSTEM);
    await makeFlightFiles(folder, system, siteWriters, SITE_DEFAULTS);
    await makeFlightPhotos(folder, system, siteWriters, SITE_DEFAULTS);
    const flight = siteFlight(system);
    writeFileSync(
      join(folder, 'mount.json'),
      siteWriters.mounting({ gnssLeverArmM: [0.15, 0, -0.92], gnssLeverArmSdM: 0.003, sensors: airSensors() }),
    );
    writeFileSync(join(folder, 'events.csv'), exposureText(airEvents(flight)));
    writeFileSync(join(folder, 'marks.csv'), siteWriters.marks(surveyedMarks(SITE_DEFAULTS.seed), SITE_SYSTEM));
    const { flightTrajectory, flightReturns, flightPhotos, flightPhotoList, flightCameras } = JOURNEY_FILES;
    const from = [
      '--trajectory',
      flightTrajectory,
      '--returns',
      flightReturns,
      '--mount',
      'mount.json',
      '--crs',
      SITE_SYSTEM,
    ];
    command(folder, 'place', ...from, '--out', 'before.las');
    const made = ['--mount-out', 'new.json', '--trajectory-out', 'new.csv', '--out', 'after.las'];
    const f = command<Strips>(folder, 'strips', ...from, ...made);
    for (const angle of Object.keys(PLANTED_BORESIGHT_DEG) as Angle[]) {
      const off = f.mount.boresight_deg[angle] - PLANTED_BORESIGHT_DEG[angle];
      const sd = f.mount.sd[angle];
      const most = angle === 'heading' ? 0.011 : 0.004;
      const value = `off by ${off.toFixed(4)}°, 1 SD ${sd.toFixed(4)}°`;
      line(`Demo flight: ${angle}`, value, `within 2.5 SD, SD <= ${most}°`, Math.abs(off) <= 2.5 * sd && sd <= most);
    }
    const ratio = f.after_m / f.noise_m;
    line('Demo flight: disagreement after, over its noise', ratio.toFixed(3), '<= 1.2', ratio <= 1.2);
    const pass = flight.passes[DRIFT.line - 1];
    const middle = (pass.startSow + pass.endSow) / 2;
    const drifting = f.strips.find((s) => s.start_sow <= middle && s.end_sow >= middle)!;
    const own = f.overlaps.filter((p) => p.first === drifting.id || p.second === drifting.id);
    const rms = (key: 'before_rms_m' | 'after_rms_m') =>
      Math.sqrt(own.reduce((s, p) => s + p.patches * p[key] ** 2, 0) / own.reduce((s, p) => s + p.patches, 0));
    const better = 1 - rms('after_rms_m') / rms('before_rms_m');
    line('Demo flight: the drifting line', `${(100 * better).toFixed(0)} % better`, '>= 80 %', better >= 0.8);
    const check = (cloud: string) =>
      command<{ rmse_m: number }>(folder, 'check', '--cloud', cloud, '--marks', 'marks.csv').rmse_m;
    const [was, now] = [check('before.las'), check('after.las')];
    line(
      'Demo flight: check marks, RMSE',
      `${(1000 * was).toFixed(1)} to ${(1000 * now).toFixed(1)} mm`,
      'better',
      now < was,
    );
    const at = ['--photos', flightPhotoList, '--mount', 'new.json', '--sensor', 'camera', '--leave-out-strays'];
    command(folder, 'events', '--trajectory', 'new.csv', '--events', 'events.csv', ...at, '--out', 'positions.csv');
    const with_ = [
      '--photos',
      flightPhotos,
      '--positions',
      'positions.csv',
      '--cameras',
      flightCameras,
      '--mount',
      'new.json',
    ];
    const colour = command<{ coloured_share: number; shift_px: number | null }>(
      folder,
      'colour',
      '--cloud',
      'after.las',
      ...with_,
      '--out',
      'coloured.las',
    );
    const share = colour.coloured_share;
    line('Demo flight: points coloured', `${(100 * share).toFixed(1)} %`, '>= 99 %', share >= 0.99);
    const px = colour.shift_px ?? Infinity;
    line('Demo flight: edges of colours, median shift', `${px.toFixed(2)} px`, '<= 1 px', px <= 1);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
