import { ecefToGeodetic, ecefToNed, GRS80 } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { antennaM, type SiteAntenna } from './antennas';
import { siteOrbit, type SiteSatellite } from './constellation';

/** 1 SD at medium noise, metres and seconds. */
export const GNSS_NOISE = {
  codeM: 0.3,
  carrierM: 0.002,
  codeMultipathM: 0.4,
  carrierMultipathM: 0.004,
  multipathTauS: 60,
  wetZenithM: 0.1,
  wetWalkMPerRootHour: 0.01,
  ionosphereM: 4,
  ionosphereGradient: 1e-6,
};

const LIGHT = 299792458;
const EARTH_RATE = 7.2921151467e-5;
const MASK_RAD = (7 * Math.PI) / 180;
const L1 = 1575.42e6;
/** Second bands: L2 of GPS, E5a of Galileo. */
const SECOND = { gps: 1227.6e6, galileo: 1176.45e6 };

/** What is observed of one satellite: code, metres; phase, cycles; strength, dB-Hz; loss of lock, for two bands. */
export interface SiteObservation {
  satellite: SiteSatellite;
  code: [number, number];
  phase: [number, number];
  strength: [number, number];
  lost: boolean;
}

export interface SiteEpoch {
  /** Time tag of the receiver, seconds of GPS week. */
  sow: number;
  observations: SiteObservation[];
}

export interface SiteReceiver {
  name: string;
  tags: Float64Array;
  /** Antenna reference point at a true time, Earth-centred metres, written to `out`. */
  place(sow: number, out: Float64Array): void;
  /** Receiver clock against GPS time at a tag, seconds. */
  clockS(tag: number): number;
  /** What receives: its phase centre; the reference point itself without one. */
  antenna?: SiteAntenna;
  /** No satellite is seen then. */
  blind?(sow: number): boolean;
  /** Satellites that lose count at a tag. */
  slips?(tag: number, satellite: string): boolean;
}

/** Noise shared by all receivers of a session: the wet zenith delay walks the same way for all. */
export interface SiteAir {
  seed: number;
  /** 1 medium, 0 for a session without any noise, multipath or slip. */
  factor: number;
  startSow: number;
}

interface Track {
  cycles: [number, number];
  multipath: Float64Array;
  lastTag: number;
}

/** Observations of a receiver: light time, Earth rotation, clocks, air, multipath, noise and cycle counts. */
export function observe(receiver: SiteReceiver, sky: SiteSatellite[], air: SiteAir): SiteEpoch[] {
  const random = new Random(air.seed, `receiver ${receiver.name}`);
  const tracks = new Map<string, Track>();
  const wet = wetWalk(air, receiver.tags[receiver.tags.length - 1]);
  const at = new Float64Array(3);
  const geo = new Float64Array(3);
  const orbit = new Float64Array(4);
  const epochs: SiteEpoch[] = [];
  for (const tag of receiver.tags) {
    const clock = receiver.clockS(tag);
    const sow = tag - clock;
    receiver.place(sow, at);
    ecefToGeodetic(GRS80, at[0], at[1], at[2], geo);
    const axes = ecefToNed(geo[0], geo[1]);
    const observations: SiteObservation[] = [];
    if (!receiver.blind?.(sow))
      for (const satellite of sky) {
        const { rangeM, unit } = flight(satellite, sow, at, orbit);
        const sinEl = -(axes[6] * unit[0] + axes[7] * unit[1] + axes[8] * unit[2]);
        if (sinEl < Math.sin(MASK_RAD)) continue;
        const north = axes[0] * unit[0] + axes[1] * unit[1] + axes[2] * unit[2];
        const base = rangeM + LIGHT * (clock - orbit[3]) + troposphereM(sinEl, geo[2], wet(sow));
        const az = Math.atan2(axes[3] * unit[0] + axes[4] * unit[1] + axes[5] * unit[2], north);
        const lean = ([0, 1] as const).map((band) =>
          receiver.antenna ? antennaM(receiver.antenna, band, Math.asin(Math.min(1, sinEl)), az) : 0,
        ) as [number, number];
        const ionosphere = air.factor * ionosphereM(sinEl, geo[0], north);
        observations.push(track(satellite, tag, base, lean, ionosphere, sinEl, random, tracks, receiver, air));
      }
    epochs.push({ sow: tag, observations });
  }
  return epochs;
}

/** Distance that the signal flew, in the axes of its arrival, and the direction it came from. */
function flight(s: SiteSatellite, sow: number, at: Float64Array, orbit: Float64Array) {
  let seconds = 0.075;
  let rangeM = 0;
  const unit = [0, 0, 0];
  for (let k = 0; k < 6; k++) {
    siteOrbit(s, sow - seconds, orbit);
    const turn = EARTH_RATE * seconds;
    const x = orbit[0] * Math.cos(turn) + orbit[1] * Math.sin(turn) - at[0];
    const y = orbit[1] * Math.cos(turn) - orbit[0] * Math.sin(turn) - at[1];
    const z = orbit[2] - at[2];
    rangeM = Math.sqrt(x * x + y * y + z * z);
    seconds = rangeM / LIGHT;
    unit[0] = x / rangeM;
    unit[1] = y / rangeM;
    unit[2] = z / rangeM;
  }
  return { rangeM, unit };
}

/**
 * Zenith delay by height (scale heights of dry air at 15 °C and of vapour), mapped after Black and Eisner (1984): not
 * the solver's formulas.
 */
function troposphereM(sinEl: number, heightM: number, wetM: number): number {
  return (
    ((2.306 * Math.exp(-heightM / 8434) + wetM * Math.exp(-heightM / 2000)) * 1.001) /
    Math.sqrt(0.002001 + sinEl * sinEl)
  );
}

/** Slant delay through a thin shell at 350 km, with a gradient to the north. */
function ionosphereM(sinEl: number, latRad: number, north: number): number {
  const cosShell = (6371 * Math.sqrt(1 - sinEl * sinEl)) / (6371 + 350);
  const reach = north * 350e3 * (1 / Math.max(0.15, sinEl)) + (latRad - 0.979) * 6371e3;
  const vertical = GNSS_NOISE.ionosphereM + GNSS_NOISE.ionosphereGradient * reach;
  return vertical / Math.sqrt(1 - cosShell * cosShell);
}

function wetWalk(air: SiteAir, end: number): (sow: number) => number {
  const random = new Random(air.seed, 'wet delay');
  const perMinute = GNSS_NOISE.wetWalkMPerRootHour / Math.sqrt(60);
  const steps = [GNSS_NOISE.wetZenithM];
  for (let t = air.startSow; t < end + 120; t += 60) steps.push(steps[steps.length - 1] + perMinute * random.normal());
  return (sow) => {
    const at = Math.max(0, (sow - air.startSow) / 60);
    const k = Math.min(steps.length - 2, Math.floor(at));
    return steps[k] + (at - k) * (steps[k + 1] - steps[k]);
  };
}

function track(
  satellite: SiteSatellite,
  tag: number,
  base: number,
  lean: [number, number],
  ionosphere: number,
  sinEl: number,
  random: Random,
  tracks: Map<string, Track>,
  receiver: SiteReceiver,
  air: SiteAir,
): SiteObservation {
  const noise = GNSS_NOISE;
  let t = tracks.get(satellite.name);
  const slip = receiver.slips?.(tag, satellite.name) ?? false;
  const fresh = !t || tag - t.lastTag > 1.5;
  if (!t) {
    t = { cycles: [0, 0], multipath: Float64Array.from({ length: 4 }, () => random.normal()), lastTag: tag };
    tracks.set(satellite.name, t);
  }
  if (fresh) t.cycles = [Math.round(random.between(-3e6, 3e6)), Math.round(random.between(-3e6, 3e6))];
  else if (slip)
    t.cycles = [t.cycles[0] + Math.round(random.between(1, 40)), t.cycles[1] + Math.round(random.between(-40, 40))];
  const keep = Math.exp(-Math.abs(tag - t.lastTag) / noise.multipathTauS);
  for (let k = 0; k < 4; k++) t.multipath[k] = keep * t.multipath[k] + Math.sqrt(1 - keep * keep) * random.normal();
  t.lastTag = tag;
  const out: SiteObservation = { satellite, code: [0, 0], phase: [0, 0], strength: [0, 0], lost: fresh || slip };
  for (const band of [0, 1] as const) {
    const hz = band === 0 ? L1 : satellite.galileo ? SECOND.galileo : SECOND.gps;
    const delay = ionosphere * (L1 / hz) ** 2;
    const group = LIGHT * satellite.groupDelayS * (L1 / hz) ** 2;
    const error = (plain: number, path: number, k: number) =>
      air.factor * ((plain / sinEl) * random.normal() + path * t.multipath[k]);
    out.code[band] = base + lean[band] + delay + group + error(noise.codeM, noise.codeMultipathM, band);
    out.phase[band] =
      ((base + lean[band] - delay + error(noise.carrierM, noise.carrierMultipathM, 2 + band)) * hz) / LIGHT +
      t.cycles[band];
    out.strength[band] = 50 + 20 * Math.log10(sinEl) + (band ? -3 : 0) + 0.4 * random.normal();
  }
  return out;
}
