import { ecefToNed, geodeticToEcef, type ReferenceSystem } from '@longheron/core/frames';
import { type Trajectory } from '@longheron/core/trajectory';
import { deliveredMounting, DRIVE_START_SOW, GPS_WEEK, outages, trueTrajectory, type TrueDrive } from '../drive';
import { attitude } from '../platform';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { antennaText, ROVER_ANTENNA, STATION_ANTENNA } from './antennas';
import { orbitText } from './orbitText';
import { constellation, type SiteSatellite } from './constellation';
import { observe, type SiteAir, type SiteEpoch, type SiteReceiver } from './receiver';
import { olderObservationText } from './rinex2Text';
import { navigationText, observationText } from './rinexText';

export * from './antennas';
export * from './constellation';
export * from './receiver';
export * from './rinexText';

/** Marker of the base BRN1 on the roof of the pump house, site coordinates and height, metres. */
export const BASE_PLACE = { x: 96, y: 300, heightM: 9.2 };
/** Marker of the station FJR1, made up like the rest, 8 km to the south-west. */
export const FAR_BASE_PLACE = { x: -6100, y: -5300, heightM: 21.4 };
export const BASE_ANTENNA_HEIGHT_M = 0.0832;
/** The air of the site's day begins this long before the drive, for every receiver alike. */
export const SESSION_AIR_BEFORE_S = 3600;
const CLOCK_STEP_S = 1e-3;

export interface VehicleSession {
  sky: SiteSatellite[];
  air: SiteAir;
  base: SiteEpoch[];
  rover: SiteEpoch[];
  /** Base marker, Earth-centred metres. */
  baseMarkerM: Float64Array;
  /** Antenna reference point of the rover at a true time. */
  antennaAt(sow: number, out: Float64Array): void;
}

export interface SessionOptions {
  seed: number;
  /** 1 medium, 0 without noise, multipath and ionosphere. */
  factor: number;
  roverRateHz: number;
  /** Where the base stands; BRN1 without it. */
  basePlace?: { x: number; y: number; heightM: number };
  /** Nothing stands in the way of the sky, and nothing slips: in the air and on the water. */
  openSky?: boolean;
  /** True lever arm to the antenna; the one delivered without it. */
  leverArmM?: ArrayLike<number>;
  fromSow?: number;
  toSow?: number;
  /** The sky of another session of the day; one of the drive's own start without it. */
  sky?: SiteSatellite[];
  /** The base goes on to here, for who else observes with it. */
  baseToSow?: number;
}

/** GNSS of the vehicle drive and of its base: 5 Hz and 1 Hz, blind under the rail bridge, slips beside the sheds. */
export function vehicleSession(drive: TrueDrive, system: ReferenceSystem, options: SessionOptions): VehicleSession {
  const truth = trueTrajectory(drive, system, 100);
  const first = options.fromSow ?? truth.sow[0];
  const last = options.toSow ?? truth.sow[truth.sow.length - 1];
  const antennaAt = antennaOf(truth, system, options.leverArmM ?? deliveredMounting().gnssLeverArmM!);
  const geo = new Float64Array(3);
  const at = options.basePlace ?? BASE_PLACE;
  system.unproject(SITE_ORIGIN_E + at.x, SITE_ORIGIN_N + at.y, at.heightM, geo);
  const baseMarkerM = geodeticToEcef(system.ellipsoid, geo[0], geo[1], geo[2]);
  const baseAntennaM = geodeticToEcef(system.ellipsoid, geo[0], geo[1], geo[2] + BASE_ANTENNA_HEIGHT_M);
  const gaps = options.openSky ? [] : outages(drive);
  const slipTimes = (options.openSky ? [] : drive.passes).map((p) => (p.startSow + p.endSow) / 2 + 14.4);
  const near = (a: number, b: number) => Math.abs(a - b) < 0.5 / options.roverRateHz;
  const rover: SiteReceiver = {
    name: 'rover',
    antenna: ROVER_ANTENNA,
    tags: every(first, last, options.roverRateHz),
    place: antennaAt,
    // a sawtooth of a millisecond, as simple clocks have it
    clockS: (tag) => {
      const run = 2.1e-4 + 8e-7 * (tag - truth.sow[0]);
      return run - CLOCK_STEP_S * Math.round(run / CLOCK_STEP_S);
    },
    blind: (sow) => gaps.some((g) => sow >= g.startSow && sow < g.endSow),
    slips: (tag, satellite) =>
      options.factor > 0 && slipTimes.some((t, k) => near(tag, t) && (satellite.charCodeAt(2) + k) % 4 === 0),
  };
  const base: SiteReceiver = {
    name: 'base',
    antenna: STATION_ANTENNA,
    tags: every(Math.floor(first) - 30, Math.max(last + 30, options.baseToSow ?? 0), 1),
    place: (_sow, out) => out.set(baseAntennaM),
    clockS: (tag) => 3e-8 * Math.sin(tag / 900),
  };
  const sky = options.sky ?? constellation(options.seed, drive.startSow);
  const air = { seed: options.seed, factor: options.factor, startSow: DRIVE_START_SOW - SESSION_AIR_BEFORE_S };
  return { sky, air, base: observe(base, sky, air), rover: observe(rover, sky, air), baseMarkerM, antennaAt };
}

function every(from: number, to: number, rateHz: number): Float64Array {
  const start = Math.ceil(from * rateHz - 1e-9);
  return Float64Array.from(
    { length: Math.max(0, Math.floor(to * rateHz) - start + 1) },
    (_, k) => (start + k) / rateHz,
  );
}

/** Antenna reference point at any time: straight between the 100 Hz epochs of the truth. */
function antennaOf(
  truth: Trajectory,
  system: ReferenceSystem,
  lever: ArrayLike<number>,
): (sow: number, out: Float64Array) => void {
  const n = truth.sow.length;
  const all = new Float64Array(3 * n);
  const one = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    geodeticToEcef(system.ellipsoid, truth.latRad[i], truth.lonRad[i], truth.hEllM[i], one);
    const r = attitude(truth.rollRad![i], truth.pitchRad![i], truth.headingRad![i]);
    const axes = ecefToNed(truth.latRad[i], truth.lonRad[i]);
    const ned = [0, 1, 2].map((k) => r[3 * k] * lever[0] + r[3 * k + 1] * lever[1] + r[3 * k + 2] * lever[2]);
    for (let k = 0; k < 3; k++)
      all[3 * i + k] = one[k] + axes[k] * ned[0] + axes[3 + k] * ned[1] + axes[6 + k] * ned[2];
  }
  const step = truth.sow[1] - truth.sow[0];
  return (sow, out) => {
    const at = Math.max(0, Math.min(n - 1.000001, (sow - truth.sow[0]) / step));
    const i = Math.floor(at);
    for (let k = 0; k < 3; k++) out[k] = all[3 * i + k] + (at - i) * (all[3 * i + 3 + k] - all[3 * i + k]);
  };
}

/** The older pair of receivers begins to record like the others; its base stops this long before the rover. */
export const OLDER_BASE_MISSES_S = 120;

/** Precise orbits reach this far beyond the session: enough to interpolate within it. */
const ORBITS_AROUND_S = 3600;

export interface SessionTexts {
  base: string;
  rover: string;
  navigation: string;
  /** Calibrations of the antennas, and precise orbits around the drive. */
  antennas: string;
  orbits: string;
  /** The same antennas once a second through older receivers, RINEX 2.11; its base lacks the end. */
  olderRover: string;
  olderBase: string;
}

/** The session as RINEX texts: 3.04, and 2.11 for the older pair. */
export function sessionFiles(s: VehicleSession): SessionTexts {
  const common = { receiver: 'DEMO', week: GPS_WEEK };
  const at = new Float64Array(3);
  s.antennaAt(s.rover[0].sow, at);
  // a receiver on the move knows its place to some metres
  const rough = Float64Array.from(at, (v, k) => Math.round(v) + [2, -3, 1][k]);
  const base = {
    ...common,
    antenna: STATION_ANTENNA.type,
    marker: 'BRN1',
    xyzM: s.baseMarkerM,
    antennaHeightM: BASE_ANTENNA_HEIGHT_M,
    intervalS: 1,
  };
  const rover = { ...common, antenna: ROVER_ANTENNA.type, marker: 'VEHICLE', xyzM: rough, antennaHeightM: 0 };
  const last = s.rover[s.rover.length - 1].sow;
  const end = s.base[s.base.length - 1].sow;
  return {
    base: observationText(base, s.base),
    rover: observationText({ ...rover, intervalS: 0.2 }, s.rover),
    olderRover: olderObservationText(
      { ...rover, receiver: 'DEMO OLDER', intervalS: 1 },
      s.rover.filter((e) => Math.abs(e.sow - Math.round(e.sow)) < 1e-6 && e.observations.length > 0),
    ),
    olderBase: olderObservationText(
      { ...base, receiver: 'DEMO OLDER' },
      s.base.filter((e) => e.sow <= last - OLDER_BASE_MISSES_S),
    ),
    navigation: navigationText(s.sky, GPS_WEEK),
    antennas: antennaText(s.sky),
    orbits: orbitText(s.sky, GPS_WEEK, s.base[0].sow - ORBITS_AROUND_S, end + ORBITS_AROUND_S),
  };
}
