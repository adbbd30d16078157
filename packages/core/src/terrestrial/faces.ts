import { type Reading, type TerrestrialJob } from './job';

/** All that was read to one target from one set-up, brought to face one and averaged. */
export interface Sighting {
  setUp: string;
  target: string;
  targetHeightM: number;
  /** Of the circle, 0 to 2π. */
  directionRad?: number;
  zenithRad?: number;
  slopeM?: number;
  /** Readings that made each; none: it was not read. */
  directions: number;
  zeniths: number;
  slopes: number;
  /** Pairs of both faces among them. */
  pairs: number;
  /** Largest less smallest of the pairs' means, or of single readings; NaN of a single one. */
  spreadRad: { direction: number; zenith: number };
  spreadM: number;
  code?: string;
}

/** Errors of the instrument as both faces show them. */
export interface InstrumentErrors {
  /** Of the line of sight, as in face one at the horizon, and of the zero of the vertical circle. */
  collimationRad: number;
  indexRad: number;
  /** 1 SD of one pair about them; NaN below two pairs. */
  sdCollimationRad: number;
  sdIndexRad: number;
  /** Deviation of one pointing in one face that pairs of repeated targets show: direction at the horizon, zenith angle. */
  pointingRad: { direction: number; zenith: number };
  pairs: number;
}

export interface ReducedJob {
  sightings: Sighting[];
  instrument: InstrumentErrors;
  /** Sightings in one face only, from which the instrument's errors were taken. */
  single: number;
}

const wrapped = (rad: number) => rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI));
const turned = (rad: number) => ((rad % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);

interface Own {
  key: string;
  one: Reading[];
  two: Reading[];
}

/**
 * Brings readings of both faces together: their mean is free of collimation and index error, which are found from the pairs
 * and taken from readings in one face alone (Kahmen & Faig 1988, 3.3).
 */
export function reduceFaces({ readings }: Pick<TerrestrialJob, 'readings'>): ReducedJob {
  const by = new Map<string, Own>();
  for (const r of readings) {
    const key = `${r.setUp}\u0000${r.target}\u0000${r.targetHeightM}`;
    const own = by.get(key) ?? { key, one: [], two: [] };
    (r.face === 1 ? own.one : own.two).push(r);
    by.set(key, own);
  }
  const all = [...by.values()];
  const instrument = errorsOf(all);
  return {
    sightings: all.map((own) => sightingOf(own, instrument)),
    instrument,
    single: all.filter(({ one, two }) => !one.length || !two.length).length,
  };
}

/** Pairs of both faces in the order in which they were read. */
function pairsOf({ one, two }: Own): Array<[Reading, Reading]> {
  return one.slice(0, two.length).map((r, k) => [r, two[k]]);
}

function errorsOf(all: Own[]): InstrumentErrors {
  const collimation: number[] = [];
  const index: number[] = [];
  let pairs = 0;
  const [apart, apartZenith]: [number[][], number[][]] = [[], []];
  for (const own of all) {
    const [c, i]: [number[], number[]] = [[], []];
    for (const [a, b] of pairsOf(own)) {
      pairs++;
      const sin = a.zenithRad === undefined ? 1 : Math.sin(a.zenithRad);
      if (a.horizontalRad !== undefined && b.horizontalRad !== undefined)
        c.push((wrapped(a.horizontalRad - b.horizontalRad + Math.PI) / 2) * sin);
      if (a.zenithRad !== undefined && b.zenithRad !== undefined) i.push((a.zenithRad + b.zenithRad - 2 * Math.PI) / 2);
    }
    collimation.push(...c);
    index.push(...i);
    apart.push(c);
    apartZenith.push(i);
  }
  const mean = (v: number[]) => (v.length ? v.reduce((s, x) => s + x, 0) / v.length : 0);
  const sd = (v: number[]) =>
    v.length > 1 ? Math.sqrt(v.reduce((s, x) => s + (x - mean(v)) ** 2, 0) / (v.length - 1)) : Number.NaN;
  return {
    collimationRad: mean(collimation),
    indexRad: mean(index),
    sdCollimationRad: sd(collimation),
    sdIndexRad: sd(index),
    // half the difference of two readings has 1/√2 of their deviation
    pointingRad: {
      direction: Math.SQRT2 * within(apart, sd(collimation)),
      zenith: Math.SQRT2 * within(apartZenith, sd(index)),
    },
    pairs,
  };
}

/** Deviation of values about the mean of their own list; of all about their mean where no list has two. */
function within(lists: readonly number[][], otherwise: number): number {
  let [sum, freedom] = [0, 0];
  for (const list of lists) {
    if (list.length < 2) continue;
    const mean = list.reduce((s, x) => s + x, 0) / list.length;
    sum += list.reduce((s, x) => s + (x - mean) ** 2, 0);
    freedom += list.length - 1;
  }
  return freedom > 3 ? Math.sqrt(sum / freedom) : otherwise;
}

function sightingOf(own: Own, { collimationRad, indexRad }: InstrumentErrors): Sighting {
  const { one, two } = own;
  const first = one[0] ?? two[0];
  const zeniths = [
    ...one.flatMap((r) => (r.zenithRad === undefined ? [] : [r.zenithRad - indexRad])),
    ...two.flatMap((r) => (r.zenithRad === undefined ? [] : [2 * Math.PI - (r.zenithRad - indexRad)])),
  ];
  const mean = (v: number[]) => v.reduce((s, x) => s + x, 0) / v.length;
  const zenith = zeniths.length ? mean(zeniths) : undefined;
  const c = collimationRad / Math.sin(zenith ?? Math.PI / 2);
  const directions = [
    ...one.flatMap((r) => (r.horizontalRad === undefined ? [] : [r.horizontalRad - c])),
    ...two.flatMap((r) => (r.horizontalRad === undefined ? [] : [r.horizontalRad - Math.PI + c])),
  ];
  // about the first, so that a mean over north is no trouble
  const about = directions.map((d) => wrapped(d - directions[0]));
  const slopes = [...one, ...two].flatMap((r) => (r.slopeM === undefined ? [] : [r.slopeM]));
  const pairs = pairsOf(own);
  const range = (v: number[]) => (v.length > 1 ? Math.max(...v) - Math.min(...v) : Number.NaN);
  const inPairs = pairs.length > 1 && [about, zeniths].every((v) => v.length === one.length + two.length);
  return {
    setUp: first.setUp,
    target: first.target,
    targetHeightM: first.targetHeightM,
    directionRad: directions.length ? turned(directions[0] + mean(about)) : undefined,
    zenithRad: zenith,
    slopeM: slopes.length ? mean(slopes) : undefined,
    directions: directions.length,
    zeniths: zeniths.length,
    slopes: slopes.length,
    pairs: pairs.length,
    spreadRad: {
      direction: range(inPairs ? pairs.map((_, k) => (about[k] + about[one.length + k]) / 2) : about),
      zenith: range(inPairs ? pairs.map((_, k) => (zeniths[k] + zeniths[one.length + k]) / 2) : zeniths),
    },
    spreadM: range(slopes),
    ...(first.code ? { code: first.code } : {}),
  };
}
