import { type Orbits } from './orbits';
import { type Observations } from './observations';
import { pointPosition } from './pointPosition';
import { type Frequencies, type ReceiverCorrections, type Residual, ResidualMaker } from './residuals';
import { type System } from './signals';
import { SingleStore } from './singleStore';

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
  /** Mapping of the wet delay at the rover, and how much it exceeds that at the base. */
  wet: number;
  wetDifference: number;
  /** By band: changes whenever rover or base may have lost count. */
  arc: [number, number];
  /** The same as the two receivers have it, before epochs are compared. */
  rawArc: [number, number];
  /** By band: whether the rover's receiver says that it lost count. */
  told: [boolean, boolean];
  /** Whether the two phases of either receiver moved against each other since the epoch before: one has slipped. */
  apart: boolean;
}

export const keyOf = (index: number, band: number) => 2 * index + band;

/** All that the filter needs of an epoch. */
export interface SingleEpoch {
  epoch: number;
  /** True GPS time of the rover's observations: the tag less the receiver's clock. */
  sow: number;
  /** Where the residuals were formed, Earth-centred metres, and how good that is. */
  nearM: Float64Array;
  codeSdM: number;
  readonly rows: Single[];
  /** Where rows are made anew when they are asked for: keeps the arcs of these, the epoch's own. */
  renumbered?(rows: Single[]): void;
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
const MAX_BASE_STEP_S = 30.5;
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
  const baseRows = new BaseRows(base, atBase, baseM);
  const atRover = maker(rover, settings.rover);
  const numbers = new Map<string, number>();
  const store = new SingleStore();
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
        wet: wetMapping(r.sinEl),
        wetDifference: wetMapping(r.sinEl) - wetMapping(other.sinEl),
        arc: arcs(r, other),
        rawArc: arcs(r, other),
        told: r.told,
        apart: r.apart || other.apart,
      });
    }
    out.push(store.add(epoch, rover.sow[epoch] - point.clockS, point.xyzM, point.sdM, rows));
  }
  return out;
}

/** Residuals of the base by satellite: made in the order of time, of which the last two epochs are kept. */
class BaseRows {
  private made = -1;
  private last: Map<string, Residual> | undefined;
  private beforeLast: Map<string, Residual> | undefined;

  constructor(
    private readonly base: Observations,
    private readonly maker: ResidualMaker,
    private readonly baseM: ArrayLike<number>,
  ) {}

  /** Of epoch k: the last one that was asked for, that before it or a later one. */
  at(k: number): Map<string, Residual> | undefined {
    if (k >= this.base.sow.length) return undefined;
    while (this.made < k) {
      this.beforeLast = this.last;
      this.last = new Map(this.maker.at(++this.made, this.baseM).map((r) => [r.satellite, r]));
    }
    return k === this.made ? this.last : this.beforeLast;
  }
}

/** Arcs of rover and base as one number, and the rover's of it. */
const ROVER_ARC = 2 ** 20;
const jointArc = (rover: number, base: number) => rover * ROVER_ARC + base;
export const roverArcOf = (arc: number) => Math.floor(arc / ROVER_ARC);

const arcs = (r: Residual, other: Residual): [number, number] => [
  jointArc(r.arc[0], other.arc[0]),
  jointArc(r.arc[1], other.arc[1]),
];

/** How often the zenith delay lies on the way (Black & Eisner 1984). */
export const wetMapping = (sinEl: number) => 1.001 / Math.sqrt(0.002001 + sinEl * sinEl);

/** How often the vertical delay of a thin shell at 350 km lies on the way. */
export function shellMapping(sinEl: number): number {
  const cosShell2 = SHELL * SHELL * (1 - sinEl * sinEl);
  return 1 / Math.sqrt(1 - cosShell2);
}
const SHELL = 6371 / (6371 + 350);

/** The base's residual at a time, straight between its epochs; undefined where it has none or lost count. */
function baseAt(base: Observations, rows: BaseRows, b: number, tag: number, satellite: string): Residual | undefined {
  const first = rows.at(b)?.get(satellite);
  if (!first) return undefined;
  const off = tag - base.sow[b];
  if (Math.abs(off) < 1e-4) return first;
  const second = rows.at(b + 1)?.get(satellite);
  const step = base.sow[b + 1] - base.sow[b];
  if (off < 0 || !second || step > MAX_BASE_STEP_S) return undefined;
  const u = off / step;
  const between = (p: [number, number], q: [number, number]) =>
    [p[0] + u * (q[0] - p[0]), p[1] + u * (q[1] - p[1])] as [number, number];
  const phaseM = between(first.phaseM, second.phaseM);
  // a band whose count broke between the two has no phase there
  for (const k of [0, 1]) if (step > PHASE_BASE_STEP_S || first.arc[k] !== second.arc[k]) phaseM[k] = Number.NaN;
  return { ...first, codeM: between(first.codeM, second.codeM), phaseM };
}
