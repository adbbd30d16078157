import { SURFACE_SPEED_SD_MPS, type SonarNoise } from '@longheron/core/sonar';
import { type Hdf5Layout } from '../hdf5';

/** What a sonar file holds, docs/formats/sonar.md. */
export interface SonarInfo extends SonarNoise {
  week: number;
  /** Name of the instrument; empty when the file does not say. */
  sonar: string;
  frequencyHz: number;
  beamwidthAcrossDeg: number;
  beamwidthAlongDeg: number;
  pulseS: number;
  /** Whether beams were put into cells already. */
  binned: boolean;
  /** Rows of each; 0 where the file has none. */
  fixes: number;
  motions: number;
  pings: number;
  beams: number;
  hasIntensity: boolean;
  channels: SidescanChannel[];
}

/** One pair of side-scan channels. */
export interface SidescanChannel {
  name: string;
  pings: number;
  samples: number;
  sampleS: number;
  firstS: number;
  frequencyHz: number;
}

/** Deviations where a file states none: satellite navigation without corrections, a motion sensor of the middle class. */
export const USUAL_SD = { planM: 0.5, heightM: 1, rollDeg: 0.03, pitchDeg: 0.03, headingDeg: 0.1, heaveM: 0.05 };

/** More beams, or samples on a side, than any instrument has. */
const MOST_BEAMS = 4096;
const MOST_SAMPLES = 1 << 17;

const f64 = { width: 1, bytes: 8 };

/** Looks through a file and refuses what does not fit together, by place. */
export function describeSonar(layout: Hdf5Layout): SonarInfo {
  const week = layout.number('/', 'gps_week');
  const number = (key: string, usual: number) => {
    const value = Number(layout.attribute('/', key) ?? Number.NaN);
    return Number.isFinite(value) ? value : usual;
  };
  const groups = ['bathy', 'sidescan'].filter((g) => layout.has(g));
  if (!groups.length) throw layout.bad('/', 'There is neither a group "bathy" nor a group "sidescan" in the file.');
  const fixes = layout.has('nav') ? layout.rows('nav', { gps_sow: f64, lat_deg: f64, lon_deg: f64 }) : 0;
  const motions = layout.has('motion')
    ? layout.rows('motion', { gps_sow: f64, roll_deg: f64, pitch_deg: f64, heading_deg: f64 })
    : 0;
  let [pings, beams] = [0, 0];
  let hasIntensity = false;
  if (layout.has('bathy')) {
    beams = layout.shape('bathy/travel_s')?.[1] ?? 0;
    if (!(beams > 0 && beams <= MOST_BEAMS))
      throw layout.bad('/bathy/travel_s', beams ? `${beams} beams are more than there are.` : 'The column is missing.');
    const wide = { width: beams, bytes: 4 };
    pings = layout.rows('bathy', { gps_sow: f64, angle_deg: wide, travel_s: wide });
    for (const name of ['quality', 'intensity_db'])
      if (layout.has(`bathy/${name}`)) layout.rows('bathy', { gps_sow: f64, [name]: { width: beams, bytes: 1 } });
    for (const name of ['tilt_deg', 'surface_speed_mps'])
      if (layout.has(`bathy/${name}`)) layout.rows('bathy', { gps_sow: f64, [name]: f64 });
    hasIntensity = layout.has('bathy/intensity_db');
  }
  return {
    week,
    sonar: String(layout.attribute('/', 'sonar') ?? ''),
    frequencyHz: number('frequency_hz', Number.NaN),
    beamwidthAcrossDeg: number('beamwidth_across_deg', Number.NaN),
    beamwidthAlongDeg: number('beamwidth_along_deg', Number.NaN),
    pulseS: number('pulse_s', Number.NaN),
    binned: number('binned', 0) === 1,
    rangeSdM: layout.has('bathy') ? positive(layout, 'range_sd_m') : Number.NaN,
    angleSdDeg: layout.has('bathy') ? positive(layout, 'angle_sd_deg') : Number.NaN,
    surfaceSpeedSdMps: number('surface_speed_sd_mps', SURFACE_SPEED_SD_MPS),
    fixes,
    motions,
    pings,
    beams,
    hasIntensity,
    channels: layout.has('sidescan') ? layout.members('sidescan').map((name) => channelOf(layout, name)) : [],
  };
}

function positive(layout: Hdf5Layout, key: string): number {
  const value = layout.number('/', key);
  if (value > 0) return value;
  throw layout.bad(`/, attribute ${key}`, `The attribute ${key} is ${value}: a deviation is above zero.`);
}

function channelOf(layout: Hdf5Layout, name: string): SidescanChannel {
  const group = `sidescan/${name}`;
  const samples = layout.shape(`${group}/port`)?.[1] ?? 0;
  if (!(samples > 1 && samples <= MOST_SAMPLES))
    throw layout.bad(
      `/${group}/port`,
      samples ? `${samples} samples a side are not believed.` : 'The column is missing.',
    );
  const side = { width: samples, bytes: 2 };
  const pings = layout.rows(group, { gps_sow: f64, port: side, starboard: side });
  const sampleS = layout.number(group, 'sample_s');
  const firstS = Number(layout.attribute(group, 'first_s') ?? 0);
  if (!(sampleS > 0 && sampleS < 0.1)) throw layout.bad(`/${group}, attribute sample_s`, `sample_s is ${sampleS}.`);
  if (!(Math.abs(firstS) < 10)) throw layout.bad(`/${group}, attribute first_s`, `first_s is ${firstS}.`);
  const frequencyHz = Number(layout.attribute(group, 'frequency_hz') ?? Number.NaN);
  return { name, pings, samples, sampleS, firstS, frequencyHz };
}
