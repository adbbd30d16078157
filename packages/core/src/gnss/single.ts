import { type Orbits } from './orbits';
import { type Observations } from './observations';
import { shellMapping } from './fixedPosition';
import { pointPosition } from './pointPosition';
import { type Frequencies, type ReceiverCorrections, type Residual, ResidualMaker } from './residuals';
import { type System } from './signals';

/** One satellite at one rover epoch, rover less base. */
export interface Single {
  satellite: string;
  /** Number of the satellite, and of its system, for the filter. */
  index: number;
  group: number;
  sinEl: number;
  /** How much more often the ionosphere lies on the rover's way than on the base's. */
  shellDifference: number;
  unit: [number, number, number];
  wavelengthM: [number, number];
  codeM: [number, number];
  phaseM: [number, number];
  /** Changes whenever rover or base may have lost count. */
  arc: number;
}

/** All that the filter needs of an epoch. */
export interface SingleEpoch {
  epoch: number;
  /** True GPS time of the rover's observations: the tag less the receiver's clock. */
  sow: number;
  /** Where the residuals were formed, Earth-centred metres, and how good that is. */
  nearM: Float64Array;
  codeSdM: number;
  rows: Single[];
}

export interface BaselineSettings {
  systems: readonly System[];
  maskRad: number;
  leftOut: ReadonlySet<string>;
  dayOfYear: number;
  frequencies?: Frequencies;
  rover?: ReceiverCorrections;
  base?: ReceiverCorrections;
}

/** Base epochs further apart than this are not interpolated between, seconds. */
const MOST_BASE_STEP_S = 30.5;
/** From this rate on the base's phases follow a straight line well enough between epochs, seconds. */
const PHASE_BASE_STEP_S = 5.1;

/**
 * Differences rover less base at every rover epoch that both cover. The base's residuals, free of its geometry, are
 * interpolated to the rover's times.
 * @param baseM antenna reference point of the base, Earth-centred metres.
 */
export function singleDifferences(
  rover: Observations,
  base: Observations,
  baseM: ArrayLike<number>,
  orbits: Orbits,
  settings: BaselineSettings,
  from = 0,
  to = rover.sow.length,
): SingleEpoch[] {
  const maker = (obs: Observations, corrections?: ReceiverCorrections) =>
    new ResidualMaker(
      obs,
      orbits,
      settings.maskRad,
      settings.systems,
      settings.leftOut,
      settings.dayOfYear,
      corrections,
      settings.frequencies,
    );
  const weeks = (base.week - rover.week) * 604800;
  const atBase = maker(base, settings.base);
  const baseRows: Array<Map<string, Residual>> = [];
  for (let k = 0; k < base.sow.length; k++) baseRows.push(new Map(atBase.at(k, baseM).map((r) => [r.satellite, r])));
  const atRover = maker(rover, settings.rover);
  const numbers = new Map<string, number>();
  const out: SingleEpoch[] = [];
  let near: ArrayLike<number> = baseM;
  let b = 0;
  for (let epoch = from; epoch < to; epoch++) {
    const tag = rover.sow[epoch] - weeks;
    while (b + 1 < base.sow.length && base.sow[b + 1] <= tag + 1e-4) b++;
    const point = pointPosition(rover, epoch, orbits, near);
    if (!point) continue;
    near = point.xyzM;
    const rows: Single[] = [];
    for (const r of atRover.at(epoch, point.xyzM)) {
      const other = baseAt(base, baseRows, b, tag, r.satellite);
      if (!other) continue;
      let index = numbers.get(r.satellite);
      if (index === undefined) numbers.set(r.satellite, (index = numbers.size));
      rows.push({
        satellite: r.satellite,
        index,
        group: settings.systems.indexOf(r.system),
        sinEl: r.sinEl,
        shellDifference: shellMapping(r.sinEl) - shellMapping(other.sinEl),
        unit: r.unit,
        wavelengthM: r.wavelengthM,
        codeM: [r.codeM[0] - other.codeM[0], r.codeM[1] - other.codeM[1]],
        phaseM: [r.phaseM[0] - other.phaseM[0], r.phaseM[1] - other.phaseM[1]],
        arc: r.arc * 4096 + other.arc,
      });
    }
    out.push({ epoch, sow: rover.sow[epoch] - point.clockS, nearM: point.xyzM, codeSdM: point.sdM, rows });
  }
  return out;
}

/** The base's residual at a time, straight between its epochs; undefined where it has none or lost count. */
function baseAt(
  base: Observations,
  rows: Array<Map<string, Residual>>,
  b: number,
  tag: number,
  satellite: string,
): Residual | undefined {
  const first = rows[b]?.get(satellite);
  if (!first) return undefined;
  const off = tag - base.sow[b];
  if (Math.abs(off) < 1e-4) return first;
  const second = rows[b + 1]?.get(satellite);
  const step = base.sow[b + 1] - base.sow[b];
  if (off < 0 || !second || second.arc !== first.arc || step > MOST_BASE_STEP_S) return undefined;
  const u = off / step;
  const between = (p: [number, number], q: [number, number]) =>
    [p[0] + u * (q[0] - p[0]), p[1] + u * (q[1] - p[1])] as [number, number];
  const phaseM: [number, number] =
    step > PHASE_BASE_STEP_S ? [Number.NaN, Number.NaN] : between(first.phaseM, second.phaseM);
  return { ...first, codeM: between(first.codeM, second.codeM), phaseM };
}
