import { ecefToGeodetic, WGS84 } from '../frames/ellipsoid';
import { niell, zenithDelaysM } from './atmosphere';
import { type Orbits } from './orbits';
import { addObservation, solveNormal } from '../numeric/leastSquares';
import { bandColumns, systemOf, type BandColumns, type Observations } from './observations';
import { emptyRange, satelliteRange, type SatelliteRange } from './satelliteRange';
import { BAND_ORDER, LIGHT_MPS, type System } from './signals';

/** Standing of a receiver found from one epoch's codes alone. */
export interface PointPosition {
  xyzM: Float64Array;
  /** Receiver clock against GPS time, seconds. */
  clockS: number;
  /** 1 SD of each axis from the scatter assumed, metres. */
  sdM: number;
  satellites: number;
}

const CODE_SD_M = 1.5;
const MASK_RAD = (8 * Math.PI) / 180;
/** A code off by this many deviations is left out. */
const GROSS = 5;

interface Code {
  satellite: string;
  galileo: boolean;
  rangeM: number;
  /** Pseudorange of the first band, which times the signal. */
  firstM: number;
  /** One band alone: the ionosphere is in it, and the group delay. */
  single?: boolean;
  /** Codes of E1 and E5b together, whose clock is another than that of the record. */
  ofE5b?: boolean;
}

const bandsCache = new WeakMap<Observations, Map<System, BandColumns[]>>();

/** The first two bands of a system in a file. */
function bandsOf(obs: Observations, system: System): BandColumns[] {
  let known = bandsCache.get(obs);
  if (!known) bandsCache.set(obs, (known = new Map()));
  let bands = known.get(system);
  if (!bands) {
    const found = (BAND_ORDER[system] ?? []).map((b) => bandColumns(obs.types[system] ?? [], system, b));
    known.set(system, (bands = found.filter((b) => b !== undefined).slice(0, 2)));
  }
  return bands;
}

/** Codes of an epoch free of the ionosphere's first order (two bands combined). */
function codesOf(obs: Observations, epoch: number): Code[] {
  const out: Code[] = [];
  for (let row = obs.start[epoch]; row < obs.start[epoch + 1]; row++) {
    const satellite = obs.satellites[obs.satellite[row]];
    const system = systemOf(satellite);
    const bands = bandsOf(obs, system);
    if (bands.length === 0) continue;
    const a = obs.values[row * obs.width + bands[0].code];
    if (!(a > 1e7 && a < 6e7)) continue;
    if (bands.length < 2) {
      out.push({ satellite, galileo: system === 'E', rangeM: a, firstM: a, single: true });
      continue;
    }
    const b = obs.values[row * obs.width + bands[1].code];
    if (!(b > 1e7 && b < 6e7)) continue;
    const g = (bands[0].frequencyHz / bands[1].frequencyHz) ** 2;
    const galileo = system === 'E';
    out.push({ satellite, galileo, rangeM: (g * a - b) / (g - 1), firstM: a, ofE5b: galileo && bands[1].band === '7' });
  }
  return out;
}

/** Seconds that a code is later than the record's clock says. */
function delayOf(code: Code, range: SatelliteRange): number {
  if (code.single) return range.groupDelayS;
  return code.ofE5b && range.groupDelayE5bS !== undefined ? range.groupDelayS - range.groupDelayE5bS : 0;
}

/**
 * Position of one epoch by least squares on pseudoranges, free of the ionosphere where there are two bands, with a clock for each system and the standard
 * troposphere. @param near where to begin, metres; the Earth's centre does. @returns undefined with too few satellites.
 */
export function pointPosition(
  obs: Observations,
  epoch: number,
  orbits: Orbits,
  near: ArrayLike<number> = [0, 0, 0],
): PointPosition | undefined {
  const codes = codesOf(obs, epoch);
  const x = Float64Array.of(near[0], near[1], near[2], 0, 0);
  const range = emptyRange();
  const geo = new Float64Array(3);
  const row = new Float64Array(5);
  const left = new Set<string>();
  for (let round = 0; round < 14; round++) {
    const known = Math.hypot(x[0], x[1], x[2]) > 6e6;
    if (known) ecefToGeodetic(WGS84, x[0], x[1], x[2], geo);
    const normal = new Float64Array(25);
    const b = new Float64Array(5);
    let count = 0;
    let worst = 0;
    let worstName = '';
    const seen = [false, false];
    for (const code of codes) {
      if (left.has(code.satellite)) continue;
      if (!satelliteRange(orbits, code.satellite, obs.week, obs.sow[epoch], code.firstM, x, range)) continue;
      let delay = 0;
      let sinEl = 1;
      if (known) {
        const up = [Math.cos(geo[0]) * Math.cos(geo[1]), Math.cos(geo[0]) * Math.sin(geo[1]), Math.sin(geo[0])];
        sinEl = up[0] * range.unit[0] + up[1] * range.unit[1] + up[2] * range.unit[2];
        if (sinEl < Math.sin(MASK_RAD)) continue;
        const zenith = zenithDelaysM(geo[0], geo[2]);
        const map = niell(Math.asin(sinEl), geo[0], geo[2], 180);
        delay = zenith.dryM * map.dry + zenith.wetM * map.wet;
      }
      row.set([-range.unit[0], -range.unit[1], -range.unit[2], code.galileo ? 0 : 1, code.galileo ? 1 : 0]);
      const clock = code.galileo ? x[4] : x[3];
      const group = LIGHT_MPS * delayOf(code, range);
      const y = code.rangeM - group - range.rangeM - clock + LIGHT_MPS * range.clockS - delay;
      const w = (sinEl / CODE_SD_M) ** 2;
      addObservation(normal, b, 5, row, y, w);
      seen[code.galileo ? 1 : 0] = true;
      count++;
      const off = Math.abs(y) * Math.sqrt(w);
      if (off > worst) [worst, worstName] = [off, code.satellite];
    }
    if (count < 3 + Number(seen[0]) + Number(seen[1])) return undefined;
    // a system without satellites keeps its clock
    for (const k of [0, 1]) if (!seen[k]) normal[(3 + k) * 6] = 1;
    const inverse = solveNormal(normal, b, 5);
    if (!inverse) return undefined;
    for (let k = 0; k < 5; k++) x[k] += b[k];
    if (Math.hypot(b[0], b[1], b[2]) > 1e-3) continue;
    if (known && worst > GROSS && count > 6) {
      left.add(worstName);
      continue;
    }
    if (!known) continue;
    const sdM = Math.sqrt((inverse[0] + inverse[6] + inverse[12]) / 3);
    const clockS = (seen[0] ? x[3] : x[4]) / LIGHT_MPS;
    return { xyzM: x.slice(0, 3), clockS, sdM, satellites: count };
  }
  return undefined;
}
