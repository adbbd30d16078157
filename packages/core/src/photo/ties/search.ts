import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { quantile } from '../../numeric/statistics';
import { tick, type Watch } from '../../shared/progress';
import { meet } from '../block/meet';
import { type Camera } from '../camera';
import { chooseTracks } from './choose';
import { agreeing, type Agreement } from './epipolar';
import { featuresOf, spread, type Features } from './features';
import { FeatureGrid, matchFeatures, type Matches } from './match';
import { directionAt, overlapping, windowIn, type Placed } from './predict';
import { tracksOf, type PairMatches, type Track } from './tracks';

/** A picture among which ties are sought. */
export interface TiePicture {
  name: string;
  camera: Camera;
  features: Features;
  /** About where it was taken and how it was turned, in the axes of the block; undefined: not known. */
  pose?: { centreM: Vector3; rotation: Matrix3 };
}

export interface TiedPair {
  a: number;
  b: number;
  /** Matches of descriptions, and of them those that fit one pose of both. */
  matched: number;
  agreed: number;
}

export interface Ties {
  pairs: TiedPair[];
  /** Tracks that were chosen; their features are those of `pictures`. */
  tracks: Track[];
  /** All that were found. */
  found: number;
  /** Features by which ties are told, of each picture. */
  features: Features[];
  /** Pictures that show something else than where they are said to have been taken. */
  misplaced: number[];
  /** Between which depths points lie, metres; undefined when no two pictures tell. */
  depthM: [number, number] | undefined;
}

/** Features of a picture that are matched in predicted windows, and where nothing predicts. */
const MOST = 3000;
const MOST_BLIND = 900;
/** Half the width of a window, as a share of the focal length: angles are known to two degrees. */
const WINDOW = 0.04;
const LEAST_OVERLAP = 0.1;
const PARTNERS = 14;
/** Attitudes are known to so much. */
const ABOUT_RAD = 0.12;
/** Pairs by which depths are told. */
const DEPTH_PAIRS = 10;
/** A pair ties when so many matches agree, and such a share of them. */
const FEWEST = 10;
const LEAST_SHARE = 0.3;
/** In windows wrong matches lie near their planes anyway: there most have to agree, and to miss each other by little. */
const LEAST_IN_WINDOWS = 0.6;
const MOST_MISS_RAD = 0.002;
/** A picture that ties to fewer of its neighbours than this share is not where it is said to be. */
const MISPLACED = 0.25;
/** Where little is known, pictures are compared with so many before and after them. */
const NEIGHBOURS = 12;
const ALL_PAIRS = 40;

/**
 * Ties between pictures: pairs by what they show of the ground, descriptions compared in predicted windows, matches that
 * fit one pose of a pair, joined to tracks. Pictures of which no place is known, or a wrong one, are compared with all.
 * @throws Cancelled when the watch says so.
 */
export function searchTies(pictures: readonly TiePicture[], watch?: Watch): Ties {
  const features = pictures.map((p) =>
    featuresOf(p.features, spread(p.features, p.camera.widthPx, p.camera.heightPx, MOST)),
  );
  const grids = features.map((f, i) => new FeatureGrid(f, pictures[i].camera.widthPx, pictures[i].camera.heightPx));
  const matcher = new Matcher(pictures, features, grids);
  tick(watch, 0, 'Finding how far away things are');
  const depthM = depthOf(pictures, matcher);
  const placed = pictures.map(({ camera, pose }): Placed | undefined =>
    pose && depthM ? { camera, centreM: pose.centreM, rotation: pose.rotation, depthM } : undefined,
  );
  const planned = overlapping(placed, LEAST_OVERLAP, PARTNERS);
  const pairs: TiedPair[] = [];
  const kept: PairMatches[] = [];
  const tied = pictures.map(() => ({ asked: 0, found: 0 }));
  planned.forEach(({ a, b, share }, k) => {
    tick(watch, 0.05 + (0.6 * k) / planned.length, `Matching ${pictures[a].name} with ${pictures[b].name}`);
    const found = matcher.predicted(a, b, placed[a]!, placed[b]!);
    const strong = share > 3 * LEAST_OVERLAP;
    for (const i of [a, b]) {
      if (strong) tied[i].asked++;
      if (strong && found) tied[i].found++;
    }
    if (found) take(found, pairs, kept);
  });
  const misplaced = tied.flatMap(({ asked, found }, i) =>
    placed[i] && asked >= 2 && found < Math.max(1, MISPLACED * asked) ? [i] : [],
  );
  const lost = new Set(misplaced);
  const unknown = pictures.flatMap((_, i) => (!placed[i] || lost.has(i) ? [i] : []));
  const blind = blindPairs(pictures.length, unknown);
  blind.forEach(([a, b], k) => {
    tick(watch, 0.65 + (0.3 * k) / blind.length, `Matching ${pictures[a].name} with ${pictures[b].name}`);
    if (pairs.some((p) => p.a === a && p.b === b)) return;
    const found = matcher.blind(a, b);
    if (found) take(found, pairs, kept);
  });
  const tracks = tracksOf(
    features.map((f) => f.count),
    kept,
  );
  const chosen = chooseTracks(
    tracks,
    features.map((f, i) => ({ ...f, ...sizeOf(pictures[i].camera) })),
  );
  return { pairs, tracks: chosen.map((t) => tracks[t]), found: tracks.length, features, misplaced, depthM };
}

const sizeOf = ({ widthPx, heightPx }: Camera) => ({ widthPx, heightPx });

interface Found {
  pair: TiedPair;
  matches: PairMatches;
}

function take({ pair, matches }: Found, pairs: TiedPair[], kept: PairMatches[]): void {
  pairs.push(pair);
  kept.push(matches);
}

/** Pairs that are compared without knowing where to look: unknown pictures with all others, or their neighbours of many. */
function blindPairs(count: number, unknown: readonly number[]): Array<[number, number]> {
  const near = unknown.length > ALL_PAIRS ? NEIGHBOURS : count;
  const own = new Set(unknown);
  const out: Array<[number, number]> = [];
  for (let a = 0; a < count; a++)
    for (let b = a + 1; b < count && b <= a + near; b++) if (own.has(a) || own.has(b)) out.push([a, b]);
  return out;
}

class Matcher {
  private readonly pictures: readonly TiePicture[];
  private readonly features: readonly Features[];
  private readonly grids: readonly FeatureGrid[];
  private readonly few: Array<{ features: Features; grid: FeatureGrid } | undefined> = [];

  constructor(pictures: readonly TiePicture[], features: readonly Features[], grids: readonly FeatureGrid[]) {
    this.pictures = pictures;
    this.features = features;
    this.grids = grids;
  }

  private fewOf(i: number): { features: Features; grid: FeatureGrid } {
    const there = this.few[i];
    if (there) return there;
    const f = this.features[i];
    const features = featuresOf(
      f,
      Array.from({ length: Math.min(MOST_BLIND, f.count) }, (_, k) => k),
    );
    const { widthPx, heightPx } = this.pictures[i].camera;
    return (this.few[i] = { features, grid: new FeatureGrid(features, widthPx, heightPx) });
  }

  /** Unit directions of features in the axes of their camera. */
  directions(i: number, list: Int32Array): Float64Array {
    const { uPx, vPx } = this.features[i];
    const out = new Float64Array(3 * list.length);
    list.forEach((f, k) => {
      const [x, y] = directionAt(this.pictures[i].camera, uPx[f], vPx[f]);
      const length = Math.sqrt(x * x + y * y + 1);
      out.set([x / length, y / length, 1 / length], 3 * k);
    });
    return out;
  }

  private judged(a: number, b: number, m: Matches, known?: { rotation: Matrix3; direction: Vector3 }) {
    const agreement = agreeing(this.directions(a, m.first), this.directions(b, m.second), known);
    if (!agreement || agreement.count < FEWEST || agreement.count < LEAST_SHARE * m.first.length) return undefined;
    return { m, agreement };
  }

  predicted(a: number, b: number, from: Placed, to: Placed): Found | undefined {
    const { uPx, vPx } = this.features[a];
    const withinPx = WINDOW * to.camera.focalPx;
    const m = matchFeatures(this.features[a], this.grids[b], (i) => windowIn(from, uPx[i], vPx[i], to, withinPx));
    const found = this.judged(a, b, m, betweenOf(from, to));
    if (!found || found.agreement.count < LEAST_IN_WINDOWS * m.first.length) return undefined;
    return found.agreement.relative.missRad < MOST_MISS_RAD ? foundOf(a, b, found.m, found.agreement) : undefined;
  }

  /** Compares the clearest features of two pictures of which nothing is known. */
  compare(a: number, b: number): { m: Matches; agreement: Agreement } | undefined {
    const m = matchFeatures(this.fewOf(a).features, this.fewOf(b).grid);
    return this.judged(a, b, m);
  }

  blind(a: number, b: number): Found | undefined {
    const found = this.compare(a, b);
    return found && foundOf(a, b, found.m, found.agreement);
  }
}

/** How a second picture lies from a first one, by their poses: its axes and its direction in those of the first. */
function betweenOf(
  from: Pick<Placed, 'centreM' | 'rotation'>,
  to: Pick<Placed, 'centreM' | 'rotation'>,
): { rotation: Matrix3; direction: Vector3 } {
  const turn = transpose3(Float64Array.from(from.rotation));
  const base = apply3(
    turn,
    [0, 1, 2].map((k) => to.centreM[k] - from.centreM[k]),
  );
  const size = Math.hypot(...base);
  return {
    rotation: multiply3(turn, Float64Array.from(to.rotation)),
    direction: base.map((v) => v / size) as Vector3,
  };
}

/** Whether a pose that matches tell is about the one that is known: another one is that of a misplaced picture. */
function isAbout(found: Agreement['relative'], known: { rotation: Matrix3; direction: Vector3 }): boolean {
  let trace = 0;
  for (let k = 0; k < 9; k++) trace += found.rotation[k] * known.rotation[k];
  const along = found.direction.reduce((s, v, k) => s + v * known.direction[k], 0);
  return trace > 1 + 2 * Math.cos(ABOUT_RAD) && along > Math.cos(3 * ABOUT_RAD);
}

function foundOf(a: number, b: number, m: Matches, { agrees, count }: Agreement): Found {
  const kept = [...agrees.keys()].filter((k) => agrees[k]);
  return {
    pair: { a, b, matched: m.first.length, agreed: count },
    matches: {
      a,
      b,
      first: Int32Array.from(kept, (k) => m.first[k]),
      second: Int32Array.from(kept, (k) => m.second[k]),
    },
  };
}

/** Between which depths things lie, by neighbours whose poses are known: their common features meet there. */
function depthOf(pictures: readonly TiePicture[], matcher: Matcher): [number, number] | undefined {
  const known = pictures.flatMap((p, i) => (p.pose ? [i] : []));
  const every = Math.max(1, Math.floor(known.length / DEPTH_PAIRS));
  const depths: number[] = [];
  for (let k = 0; k < known.length; k += every) {
    const a = known[k];
    const own = pictures[a].pose!;
    const away = (i: number) => {
      const { centreM, rotation } = pictures[i].pose!;
      const size = Math.hypot(...centreM.map((v, j) => v - own.centreM[j]));
      const along = [2, 5, 8].reduce((s, j) => s + rotation[j] * own.rotation[j], 0);
      return i === a || along < 0.7 || size === 0 ? Number.POSITIVE_INFINITY : size;
    };
    const b = known.reduce((best, i) => (away(i) < away(best) ? i : best), a);
    if (a === b) continue;
    const found = matcher.compare(a, b);
    if (!found) continue;
    const { m, agreement } = found;
    if (!isAbout(agreement.relative, betweenOf(own, pictures[b].pose!))) continue;
    const kept = [...agreement.agrees.keys()].filter((i) => agreement.agrees[i]);
    const first = matcher.directions(
      a,
      Int32Array.from(kept, (i) => m.first[i]),
    );
    const second = matcher.directions(
      b,
      Int32Array.from(kept, (i) => m.second[i]),
    );
    const other = pictures[b].pose!;
    const turned = (r: Matrix3, d: Float64Array, i: number) =>
      [0, 1, 2].map((j) => r[3 * j] * d[3 * i] + r[3 * j + 1] * d[3 * i + 1] + r[3 * j + 2] * d[3 * i + 2]);
    kept.forEach((_, i) => {
      const at = meet(
        [...own.centreM, ...other.centreM],
        [...turned(own.rotation, first, i), ...turned(other.rotation, second, i)],
        2,
      );
      if (!at) return;
      const d = [at.x, at.y, at.z].map((v, j) => v - own.centreM[j]);
      const depth = own.rotation[2] * d[0] + own.rotation[5] * d[1] + own.rotation[8] * d[2];
      if (depth > 0) depths.push(depth);
    });
  }
  if (depths.length < FEWEST) return undefined;
  return [0.8 * quantile(depths, 0.05), 1.25 * quantile(depths, 0.95)];
}
