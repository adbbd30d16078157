import { ecefToGeodetic, WGS84 } from '../frames/ellipsoid';
import { niell, zenithDelaysM } from './atmosphere';
import { type BroadcastOrbits } from './broadcast';
import { bandColumns, systemOf, type BandColumns, type Observations } from './observations';
import { emptyRange, satelliteRange } from './satelliteRange';
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

/** Phase of two bands against each other may change by this between epochs, metres. */
const MOST_CHANGE_M = 0.05;
/** Longer without a satellite, and its count begins anew, seconds. */
export const MOST_GAP_S = 1.6;

/**
 * Turns observations into what is left of them after the geometry, epoch by epoch in time order.
 * Watches for cycle slips: by the receiver's own indicator, gaps, and the difference of the two phases.
 */
export class ResidualMaker {
  private readonly bands = new Map<System, Array<BandColumns | undefined>>();
  private readonly last = new Map<string, { sow: number; difference: number; arc: number }>();
  private readonly range = emptyRange();
  private readonly geo = new Float64Array(3);

  constructor(
    private readonly obs: Observations,
    private readonly orbits: BroadcastOrbits,
    private readonly maskRad: number,
    systems: readonly System[],
    private readonly leftOut: ReadonlySet<string>,
    private readonly dayOfYear: number,
  ) {
    for (const system of systems) {
      const types = obs.types[system] ?? [];
      const found = (BAND_ORDER[system] ?? []).map((b) => bandColumns(types, system, b)).filter((b) => b !== undefined);
      this.bands.set(system, [found[0], found[1]]);
    }
  }

  /** @param at receiver's antenna, Earth-centred metres. Epochs must come in time order. */
  at(epoch: number, at: ArrayLike<number>): Residual[] {
    const { obs, geo, range } = this;
    const out: Residual[] = [];
    ecefToGeodetic(WGS84, at[0], at[1], at[2], geo);
    const up = [Math.cos(geo[0]) * Math.cos(geo[1]), Math.cos(geo[0]) * Math.sin(geo[1]), Math.sin(geo[0])];
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
      let flagged = false;
      for (let k = 0; k < 2; k++) {
        const b = bands[k];
        if (!b) continue;
        r.wavelengthM[k] = b.wavelengthM;
        r.codeM[k] = obs.values[first + b.code] - computed;
        r.phaseM[k] = obs.values[first + b.phase] * b.wavelengthM - computed;
        flagged ||= (obs.lost[first + b.phase] & 1) === 1;
      }
      r.arc = this.watch(satellite, obs.sow[epoch], r.phaseM[0] - r.phaseM[1], flagged);
      out.push(r);
    }
    return out;
  }

  private watch(satellite: string, sow: number, difference: number, flagged: boolean): number {
    const before = this.last.get(satellite);
    const broken =
      !before || flagged || sow - before.sow > MOST_GAP_S || Math.abs(difference - before.difference) > MOST_CHANGE_M;
    const arc = (before?.arc ?? 0) + (broken ? 1 : 0);
    this.last.set(satellite, { sow, difference, arc });
    return arc;
  }
}
