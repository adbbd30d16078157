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
  /** To the satellite; what the delay of the air changes with height is in it, so that the range falls along it. */
  unit: [number, number, number];
  wavelengthM: [number, number];
  /** Code and phase less range, satellite clock and troposphere; NaN where missing. */
  codeM: [number, number];
  phaseM: [number, number];
  /** By band: changes whenever the receiver may have lost count. */
  arc: [number, number];
  /** By band: whether the receiver itself says so. */
  told: [boolean, boolean];
  /** Whether the two phases moved against each other: one of them has slipped. */
  apart: boolean;
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
 * Phases of two bands may change against each other by this between epochs, metres, or by so many of a satellite's own
 * usual changes, which follow it over some twenty epochs.
 */
const MAX_CHANGE_M = 0.05;
const JUMP = 6;
const FOLLOW = 0.05;
const USUAL_CHANGE2 = 0.012 ** 2;
/** Longer without a satellite, and its count begins anew: seconds, or steps of a receiver that records more seldom. */
export const MAX_GAP_S = 1.6;
const MAX_GAP_STEPS = 1.6;
const TIDE_EVERY_S = 60;
/** Over this climb the change of the delays is taken as even, metres. */
const CLIMB_M = 20;

/**
 * Turns observations into what is left of them after the geometry, epoch by epoch in time order.
 * Watches for cycle slips: by the receiver's own indicator, gaps, and the difference of the two phases.
 */
export class ResidualMaker {
  private readonly bands = new Map<System, Array<BandColumns | undefined>>();
  private readonly last = new Map<string, Watched>();
  private readonly range = emptyRange();
  private readonly geo = new Float64Array(3);
  private readonly centres = new Map<System, Array<PhaseCentre | undefined>>();
  private readonly maxGapS: number;
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
    this.maxGapS = Math.max(MAX_GAP_S, MAX_GAP_STEPS * stepOf(obs.sow));
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
    const above = zenithDelaysM(geo[0], geo[2] + CLIMB_M);
    const dry = (above.dryM - zenith.dryM) / CLIMB_M;
    const wet = (above.wetM - zenith.wetM) / CLIMB_M;
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
        // a higher place has less air above it, too
        unit: [0, 1, 2].map((k) => range.unit[k] - (dry * map.dry + wet * map.wet) * up[k]) as Residual['unit'],
        wavelengthM: [NaN, NaN],
        codeM: [NaN, NaN],
        phaseM: [NaN, NaN],
        arc: [0, 0],
        told: [false, false],
        apart: false,
      };
      const centres = this.centres.get(system)!;
      const azimuth = centres[0] && this.corrections.pointsNorth ? azimuthOf(axes, range.unit) : NaN;
      for (let k = 0; k < 2; k++) {
        const b = bands[k];
        if (!b) continue;
        const centre = centres[k];
        const all = centre ? computed + phaseCentreM(this.corrections.antenna!, centre, sinEl, azimuth) : computed;
        r.wavelengthM[k] = b.wavelengthM;
        r.codeM[k] = obs.values[first + b.code] - all;
        r.phaseM[k] = obs.values[first + b.phase] * b.wavelengthM - all;
        r.told[k] = (obs.lost[first + b.phase] & 1) === 1;
      }
      this.watch(r, obs.sow[epoch]);
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

  /** Numbers the arcs of both bands, which a pause and the receiver's word end; looks at the difference of the phases. */
  private watch(r: Residual, sow: number): void {
    let w = this.last.get(r.satellite);
    if (!w)
      this.last.set(
        r.satellite,
        (w = { arc: [0, 0], seen: [-Infinity, -Infinity], difference: Number.NaN, both: -Infinity, change2: 0 }),
      );
    if (w.change2 === 0) w.change2 = USUAL_CHANGE2 / r.sinEl;
    const broken = [false, false];
    for (const k of [0, 1]) {
      if (Number.isNaN(r.phaseM[k])) continue;
      broken[k] = r.told[k] || sow - w.seen[k] > this.maxGapS;
      w.seen[k] = sow;
    }
    const difference = r.phaseM[0] - r.phaseM[1];
    if (!Number.isNaN(difference)) {
      if (!broken[0] && !broken[1] && sow - w.both <= this.maxGapS) {
        const change = difference - w.difference;
        if (Math.abs(change) > Math.max(MAX_CHANGE_M, JUMP * Math.sqrt(w.change2))) r.apart = true;
        else w.change2 += FOLLOW * (change * change - w.change2);
      }
      w.difference = difference;
      w.both = sow;
    }
    for (const k of [0, 1]) {
      if (broken[k]) w.arc[k]++;
      r.arc[k] = w.arc[k];
    }
  }
}

/** What is remembered of a satellite. */
interface Watched {
  arc: [number, number];
  /** When each band was seen last. */
  seen: [number, number];
  /** Difference of the phases when both were seen, and when that was. */
  difference: number;
  both: number;
  /** Mean square of its change between epochs, metres². */
  change2: number;
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
