import { frequencyHz, LIGHT_MPS, type System } from './signals';

/** Observations of one receiver, as a RINEX file holds them; a row for each satellite at each epoch. */
export interface Observations {
  marker: string;
  receiver: string;
  /** Who observed, as the header has it; empty when it does not say. */
  observer?: string;
  antenna: string;
  /** Antenna reference point from the marker: up, east, north, metres. */
  antennaDeltaM: [number, number, number];
  /** Marker as the header states it, Earth-centred metres; undefined when absent or zero. */
  approximateM?: [number, number, number];
  /** Names of observations by system as in RINEX 3 (`C1C`, `L2W`): columns of `values`. */
  types: Partial<Record<System, string[]>>;
  /** GPS week that `sow` counts from; never wraps within a file. */
  week: number;
  sow: Float64Array;
  /** First row of each epoch, and the number of rows at the end. */
  start: Uint32Array;
  /** Index into `satellites`, by row. */
  satellite: Uint16Array;
  satellites: string[];
  /** Columns in a row. */
  width: number;
  /** Code in metres, phase in cycles, signal strength in dB-Hz; NaN where missing. */
  values: Float64Array;
  /** Loss-of-lock indicator of RINEX beside each value. */
  lost: Uint8Array;
}

/** Where one band's code, phase and strength stand in a row, −1 where absent. */
export interface BandColumns {
  band: string;
  frequencyHz: number;
  wavelengthM: number;
  code: number;
  phase: number;
  strength: number;
}

/** Tracking modes by preference where a band has several. */
const MODES = 'CWPXQILSAYMNZ';

/** The columns of a band, the best tracking mode that has both code and phase. */
export function bandColumns(types: string[], system: System, band: string): BandColumns | undefined {
  const hz = frequencyHz(system, band);
  if (hz === undefined) return undefined;
  for (const mode of MODES) {
    const code = types.indexOf(`C${band}${mode}`);
    const phase = types.indexOf(`L${band}${mode}`);
    if (code < 0 || phase < 0) continue;
    return {
      band,
      frequencyHz: hz,
      wavelengthM: LIGHT_MPS / hz,
      code,
      phase,
      strength: types.indexOf(`S${band}${mode}`),
    };
  }
  return undefined;
}

export const systemOf = (satellite: string) => satellite[0] as System;
