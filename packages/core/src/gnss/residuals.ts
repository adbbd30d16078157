import { ecefToGeodetic, ecefToNed, WGS84 } from '../frames/ellipsoid';
import { centreOf, phaseCentreM, type Antenna, type PhaseCentre } from './antennas';
import { niell, zenithDelaysM } from './atmosphere';
import { median } from '../numeric/statistics';
import { type Orbits } from './orbits';
import { bandColumns, systemOf, type BandColumns, type Observations } from './observations';
import { emptyRange, satelliteRange } from './satelliteRange';
import { solidTideM } from './solidTide';
import { BAND_ORDER, LIGHT_MPS, type System } from './signals';

/** One satellite at one epoch of one receiver: observed less computed, metres, for two bands. */
export interface Residual {
  satellite: string;
  system: System;
  sinEl: number;
  unit: [number, number, number];
  wavelengthM: [number, number];
  /** Code and phase less range, satellite clock and troposphere; NaN where missing. */
  codeM: [number, number];
  phaseM: [number, number];
  /** Changes whenever the receiver may have lost count. */
  arc: number;
}

/** Whether both bands of each system count, or the first alone. */
export type Frequencies = 'both' | 'first';

/** What a receiver's observations are corrected for besides geometry and troposphere. */
export interface ReceiverCorrections {
  /** Calibration of its antenna, which is taken to stand upright. */
  antenna?: Antenna;
  /** Whether the antenna points north: variations by azimuth then count, and offsets in plan. */
  pointsNorth?: boolean;
  /** Whether the tide of the solid Earth is taken out; only for distant bases does it matter. */
  tide?: { utcOffsetS: number };
}

/**
 * Phases of two bands may change against each other by this between epochs, metres; for low satellites by more, since
 * their noise grows: four and a half deviations of two phases on two bands, of 2 mm over the sine of the elevation each.
 */
const MOST_CHANGE_M = 0.05;
const MOST_NOISE_M = 0.018;
/** Longer without a satellite, and its count begins anew: seconds, or steps of a receiver that records more seldom. */
export const MOST_GAP_S = 1.6;
const MOST_GAP_STEPS = 1.6;
const TIDE_EVERY_S = 60;

/**
 * Turns observations into what is left of them after the geometry, epoch by epoch in time order.
 * Watches for cycle slips: by the receiver's own indicator, gaps, and the difference of the two phases.
 */
export class ResidualMaker {
  private readonly bands = new Map<System, Array<BandColumns | undefined>>();
  private readonly last = new Map<string, { sow: number; difference: number; arc: number }>();
  private readonly range = emptyRange();
  private readonly geo = new Float64Array(3);
  private readonly centres = new Map<System, Array<PhaseCentre | undefined>>();
  private readonly mostGapS: number;
  private tide: { gps: number; shiftM: Float64Array } = { gps: -Infinity, shiftM: new Float64Array(3) };

  constructor(
    private readonly obs: Observations,
    private readonly orbits: Orbits,
    private readonly maskRad: number,
    systems: readonly System[],
    private readonly leftOut: ReadonlySet<string>,
    private readonly dayOfYear: number,
    private readonly corrections: ReceiverCorrections = {},
    frequencies: Frequencies = 'both',
  ) {
    this.mostGapS = Math.max(MOST_GAP_S, MOST_GAP_STEPS * stepOf(obs.sow));
    for (const system of systems) {
      const types = obs.types[system] ?? [];
      const found = (BAND_ORDER[system] ?? []).map((b) => bandColumns(types, system, b)).filter((b) => b !== undefined);
      const used = frequencies === 'both' ? found.slice(0, 2) : found.slice(0, 1);
      this.bands.set(system, [used[0], used[1]]);
      const { antenna } = corrections;
      this.centres.set(
        system,
        [used[0], used[1]].map((b) => antenna && b && centreOf(antenna, system, b.band)),
      );
    }
  }

  /** @param at receiver's antenna, Earth-centred metres. Epochs must come in time order. */
  at(epoch: number, place: ArrayLike<number>): Residual[] {
    const { obs, geo, range } = this;
    const out: Residual[] = [];
    ecefToGeodetic(WGS84, place[0], place[1], place[2], geo);
    const at = this.withTide(place, obs.week * 604800 + obs.sow[epoch]);
    const axes = ecefToNed(geo[0], geo[1]);
    const up = [-axes[6], -axes[7], -axes[8]];
    const zenith = zenithDelaysM(geo[0], geo[2]);
    for (let row = obs.start[epoch]; row < obs.start[epoch + 1]; row++) {
      const satellite = obs.satellites[obs.satellite[row]];
      const system = systemOf(satellite);
      const bands = this.bands.get(system);
      if (!bands?.[0] || this.leftOut.has(satellite)) continue;
      const first = row * obs.width;
      const code = obs.values[first + bands[0].code];
      if (!(code > 1e7 && code < 6e7)) continue;
      if (!satelliteRange(this.orbits, satellite, obs.week, obs.sow[epoch], code, at, range)) continue;
      const sinEl = up[0] * range.unit[0] + up[1] * range.unit[1] + up[2] * range.unit[2];
      if (sinEl < Math.sin(this.maskRad)) continue;
      const map = niell(Math.asin(Math.min(1, sinEl)), geo[0], geo[2], this.dayOfYear);
      const computed = range.rangeM - LIGHT_MPS * range.clockS + zenith.dryM * map.dry + zenith.wetM * map.wet;
      const r: Residual = {
        satellite,
        system,
        sinEl,
        unit: [range.unit[0], range.unit[1], range.unit[2]],
        wavelengthM: [NaN, NaN],
        codeM: [NaN, NaN],
        phaseM: [NaN, NaN],
        arc: 0,
      };
      const centres = this.centres.get(system)!;
      const azimuth = centres[0] && this.corrections.pointsNorth ? azimuthOf(axes, range.unit) : NaN;
      let flagged = false;
      for (let k = 0; k < 2; k++) {
        const b = bands[k];
        if (!b) continue;
        const centre = centres[k];
        const all = centre ? computed + phaseCentreM(this.corrections.antenna!, centre, sinEl, azimuth) : computed;
        r.wavelengthM[k] = b.wavelengthM;
        r.codeM[k] = obs.values[first + b.code] - all;
        r.phaseM[k] = obs.values[first + b.phase] * b.wavelengthM - all;
        flagged ||= (obs.lost[first + b.phase] & 1) === 1;
      }
      r.arc = this.watch(satellite, obs.sow[epoch], r.phaseM[0] - r.phaseM[1], flagged, sinEl);
      out.push(r);
    }
    return out;
  }

  /** The place as the tide has moved it, reckoned anew each minute. */
  private withTide(place: ArrayLike<number>, gps: number): ArrayLike<number> {
    const { tide } = this.corrections;
    if (!tide) return place;
    if (Math.abs(gps - this.tide.gps) > TIDE_EVERY_S)
      this.tide = { gps, shiftM: solidTideM(place, gps, tide.utcOffsetS) };
    const { shiftM } = this.tide;
    return [place[0] + shiftM[0], place[1] + shiftM[1], place[2] + shiftM[2]];
  }

  private watch(satellite: string, sow: number, difference: number, flagged: boolean, sinEl: number): number {
    const before = this.last.get(satellite);
    const limit = Math.max(MOST_CHANGE_M, MOST_NOISE_M / sinEl);
    const broken =
      !before || flagged || sow - before.sow > this.mostGapS || Math.abs(difference - before.difference) > limit;
    const arc = (before?.arc ?? 0) + (broken ? 1 : 0);
    this.last.set(satellite, { sow, difference, arc });
    return arc;
  }
}

/** Time between epochs as most of the first ones have it, seconds. */
function stepOf(sow: Float64Array): number {
  const steps = Array.from(sow.subarray(1, 60), (t, k) => t - sow[k]);
  return steps.length ? median(steps) : 1;
}

/** Azimuth of a direction, radians from north; rows of `axes` are north, east, down. */
export function azimuthOf(axes: ArrayLike<number>, unit: ArrayLike<number>): number {
  const along = (k: number) => axes[k] * unit[0] + axes[k + 1] * unit[1] + axes[k + 2] * unit[2];
  return Math.atan2(along(3), along(0));
}
