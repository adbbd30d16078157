import { type Motion, type Navigation, type Pings } from '@longheron/core/sonar';
import { writeHdf5Groups, type Hdf5Attributes, type Hdf5Column } from '../hdf5';
import { type SidescanChannel, type SonarInfo } from './describe';

const DEG = Math.PI / 180;

/** A recording to write. */
export interface SonarRecording {
  info: Pick<
    SonarInfo,
    | 'week'
    | 'sonar'
    | 'frequencyHz'
    | 'beamwidthAcrossDeg'
    | 'beamwidthAlongDeg'
    | 'pulseS'
    | 'binned'
    | 'rangeSdM'
    | 'angleSdDeg'
    | 'surfaceSpeedSdMps'
  >;
  navigation?: Navigation;
  motion?: Motion;
  pings?: Pings;
  channels?: Array<Omit<SidescanChannel, 'pings'> & { sow: Float64Array; port: Uint16Array; starboard: Uint16Array }>;
}

/** Writes a sonar file: chunked, deflated. */
export async function writeSonarFile(path: string, r: SonarRecording): Promise<void> {
  const d = (value: number) => ({ value, dtype: '<d' });
  const { info } = r;
  const root: Hdf5Attributes = {
    gps_week: { value: info.week, dtype: '<i' },
    sonar: { value: info.sonar },
    frequency_hz: d(info.frequencyHz),
    beamwidth_across_deg: d(info.beamwidthAcrossDeg),
    beamwidth_along_deg: d(info.beamwidthAlongDeg),
    pulse_s: d(info.pulseS),
    binned: { value: info.binned ? 1 : 0, dtype: '<i' },
    range_sd_m: d(info.rangeSdM),
    angle_sd_deg: d(info.angleSdDeg),
    surface_speed_sd_mps: d(info.surfaceSpeedSdMps),
  };
  const groups: Record<string, { columns?: Record<string, Hdf5Column>; attributes?: Hdf5Attributes }> = {
    '/': { attributes: root },
  };
  const f64 = (data: ArrayLike<number>): Hdf5Column => ({ data, dtype: '<d' });
  const degrees = (data: Float64Array) => f64(data.map((v) => v / DEG));
  const { navigation: nav, motion, pings } = r;
  if (nav)
    groups.nav = {
      columns: {
        gps_sow: f64(nav.sow),
        lat_deg: degrees(nav.latRad),
        lon_deg: degrees(nav.lonRad),
        h_ell_m: f64(nav.hEllM),
        heading_deg: degrees(nav.headingRad),
      },
      attributes: { plan_sd_m: d(nav.planSdM), height_sd_m: d(nav.heightSdM) },
    };
  if (motion)
    groups.motion = {
      columns: {
        gps_sow: f64(motion.sow),
        roll_deg: degrees(motion.rollRad),
        pitch_deg: degrees(motion.pitchRad),
        heading_deg: degrees(motion.headingRad),
        heave_m: f64(motion.heaveM),
      },
      attributes: {
        roll_sd_deg: d(motion.rollSdRad / DEG),
        pitch_sd_deg: d(motion.pitchSdRad / DEG),
        heading_sd_deg: d(motion.headingSdRad / DEG),
        heave_sd_m: d(motion.heaveSdM),
      },
    };
  if (pings) {
    const width = pings.beams;
    groups.bathy = {
      columns: {
        gps_sow: f64(pings.sow),
        tilt_deg: f64(pings.tiltDeg),
        surface_speed_mps: f64(pings.surfaceMps),
        angle_deg: { data: pings.angleDeg, dtype: '<f', width },
        travel_s: { data: pings.travelS, dtype: '<d', width },
        quality: { data: pings.quality, dtype: '<B', width },
        ...(pings.intensityDb ? { intensity_db: { data: pings.intensityDb, dtype: '<f', width } } : {}),
      },
    };
  }
  if (r.channels?.length) groups.sidescan = {};
  for (const c of r.channels ?? [])
    groups[`sidescan/${c.name}`] = {
      columns: {
        gps_sow: f64(c.sow),
        port: { data: c.port, dtype: '<H', width: c.samples },
        starboard: { data: c.starboard, dtype: '<H', width: c.samples },
      },
      attributes: { sample_s: d(c.sampleS), first_s: d(c.firstS), frequency_hz: d(c.frequencyHz) },
    };
  await writeHdf5Groups(path, groups);
}
