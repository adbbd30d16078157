import { symmetricEigen } from '../numeric/eigen';
import { tick, type Watch } from '../shared/progress';
import { PlanIndex } from './planIndex';
import { type PointSet } from './points';

export interface StraySettings {
  /** Neighbours looked at. Groups of up to this many noise points are found. */
  neighbours: number;
  /** A point with its k-th neighbour nearer than this is never a stray, metres. */
  keepWithinM: number;
  /** How many times farther its neighbours must be than theirs are from each other. */
  ratio: number;
  /** With fewer than k neighbours this near, a point stands alone unless the cloud is as thin all around, metres. */
  aloneBeyondM: number;
}

export const STRAY_DEFAULTS: StraySettings = { neighbours: 6, keepWithinM: 0.6, ratio: 3, aloneBeyondM: 2.5 };

/**
 * At a thin rim neighbours are looked for this many times as far as `aloneBeyondM`; there a point is of their surface
 * when it lies on their plane, and they do, within these shares of their distance.
 */
const RIM = { reach: 2.4, on: 0.15, surface: 0.084 };
/** The same where a dense cloud ends beside a thin one: nearer, since dense neighbours would support what hangs free. */
const EDGE = { on: 0.05, surface: 0.03 };
/** So many points in plan within `aloneBeyondM` are neither rim nor thin face: what is alone there is of no surface. */
const NOT_THIN = 600;
/** Off the plane of its neighbours by more than this share of their distance, a point is not of their surface. */
const OFF = 0.5;
/** A plane whose normal rises less than this is upright: nothing is under it. */
const LEVEL = 0.4;
/** Neighbours are a surface when they lie this near to one plane, as a share of their distance. */
const SURFACE = 0.12;

/**
 * Stray points by distance to the k-th neighbour relative to the same distance at those neighbours: local spacing
 * decides, not the mean of the whole cloud, so thin wires and far, sparse points stay (after the local outlier
 * factor of Breunig et al. 2000, with the k-distance in place of the density). At the rim of a cloud, where it is thin or
 * becomes so, a point stays when it lies on the plane of its neighbours; under a surface, where nothing reflects,
 * being off the plane is enough.
 * @returns 1 for each stray, in the order of the points.
 */
export function findStrays(points: PointSet, settings: StraySettings = STRAY_DEFAULTS, watch?: Watch): Uint8Array {
  const stray = new Uint8Array(points.count);
  if (points.count === 0) return stray;
  tick(watch, 0, 'Indexing points');
  const index = new PlanIndex(points.x, points.y, points.z);
  const search = new StraySearch(index, settings);
  for (let place = 0; place < points.count; place++) {
    if ((place & 0x3fff) === 0) tick(watch, 0.3 + (0.7 * place) / points.count, 'Comparing spacing');
    if (search.isStray(place)) stray[index.order[place]] = 1;
  }
  tick(watch, 1);
  return stray;
}

class StraySearch {
  private readonly squared: Float64Array;
  private readonly near: Int32Array;
  private readonly innerSquared: Float64Array;
  private readonly innerNear: Int32Array;
  private readonly theirs: Float64Array;
  private readonly scatter = new Float64Array(9);
  /** Distances to the k-th neighbour that are known already, metres; 0: not yet. */
  private readonly known: Float32Array;

  constructor(
    private readonly index: PlanIndex,
    private readonly s: StraySettings,
  ) {
    const k = s.neighbours;
    this.squared = new Float64Array(k);
    this.near = new Int32Array(k);
    this.innerSquared = new Float64Array(k);
    this.innerNear = new Int32Array(k);
    this.theirs = new Float64Array(k);
    this.known = new Float32Array(index.order.length);
  }

  isStray(place: number): boolean {
    const { index, s, squared, near } = this;
    const k = s.neighbours;
    // most points have their neighbours in the nearest cells
    const first = this.reach(place);
    if (first < s.keepWithinM && index.hasNear(place, k, first)) return false;
    if (first < 2 * s.keepWithinM && index.hasNear(place, k, s.keepWithinM)) return false;
    let far = this.search(place, squared, near, s.aloneBeyondM);
    if (far <= s.keepWithinM) return false;
    const alone = far === Infinity;
    if (alone) {
      if (index.hasNear(place, NOT_THIN, s.aloneBeyondM, true)) return true;
      far = this.search(place, squared, near, RIM.reach * s.aloneBeyondM);
      if (far === Infinity) return true;
    } else this.known[place] = far;
    const thinner = this.neighboursAreNearer(far);
    if (!alone && !thinner && !this.lowAmongNeighbours(place, far)) return false;
    const { offM, spreadM, upright, among } = this.offPlane(place);
    if (thinner) return Math.abs(offM) > EDGE.on * far || spreadM > EDGE.surface * far;
    if (alone) return Math.abs(offM) > RIM.on * far || spreadM > RIM.surface * far;
    return among && !upright && offM < -OFF * far && spreadM < SURFACE * far;
  }

  /** Whether the middle one of the neighbours has its own so much nearer than `far`. */
  private neighboursAreNearer(far: number): boolean {
    const { s, near, theirs } = this;
    const k = s.neighbours;
    const least = s.keepWithinM / s.ratio;
    const limit = far / s.ratio;
    let wide = 0;
    for (let m = 0; m < k; m++) {
      theirs[m] = this.kth(near[m]);
      if (theirs[m] >= limit && ++wide > k / 2) return false;
    }
    theirs.sort();
    return Math.max((theirs[(k - 1) >> 1] + theirs[k >> 1]) / 2, least) < limit;
  }

  /** Off a plane that is not upright by `OFF` means lower than the mean by this much: asked first, since it is quick. */
  private lowAmongNeighbours(place: number, far: number): boolean {
    const { index, near } = this;
    let sum = 0;
    for (const p of near) sum += index.z[p] - index.z[place];
    return sum / near.length > 0.5 * LEVEL * OFF * far;
  }

  /** Within this distance about twice the neighbours asked for are expected, metres. */
  private reach(place: number): number {
    return Math.sqrt((2 * this.s.neighbours) / (Math.PI * Math.max(1e-9, this.index.densityAt(place))));
  }

  /** Distance of a place's k-th neighbour; those too near to matter count as what is the least that does. */
  private kth(place: number): number {
    const { index, s, known } = this;
    if (known[place] > 0) return known[place];
    const least = s.keepWithinM / s.ratio;
    const most = RIM.reach * s.aloneBeyondM;
    const far =
      this.reach(place) < 3 * least && index.hasNear(place, s.neighbours, least)
        ? least
        : Math.min(this.search(place, this.innerSquared, this.innerNear, most), most);
    return (known[place] = Math.max(least, far));
  }

  /** Looks wider until k neighbours are found. @returns distance of the k-th, Infinity when there are fewer. */
  private search(place: number, squared: Float64Array, near: Int32Array, maxM: number): number {
    const k = this.s.neighbours;
    const first = Math.max(this.s.keepWithinM, this.reach(place));
    for (let farM = Math.min(maxM, first); ; farM = Math.min(maxM, 2 * farM)) {
      if (this.index.nearest(place, k, farM, squared, near) === k) return Math.sqrt(squared[k - 1]);
      if (farM >= maxM) return Infinity;
    }
  }

  /**
   * How far a place lies above the plane through its neighbours, along the normal, the deviation of these from it,
   * metres, and whether they lie around the place rather than to one side (as at the foot of a cliff). Neighbours on
   * one line have no plane: nothing is off it.
   */
  private offPlane(place: number): { offM: number; spreadM: number; upright: boolean; among: boolean } {
    const { index, near, scatter } = this;
    const n = near.length;
    let [mx, my, mz] = [0, 0, 0];
    for (const p of near) {
      mx += index.x[p] / n;
      my += index.y[p] / n;
      mz += index.z[p] / n;
    }
    scatter.fill(0);
    for (const p of near) {
      const d = [index.x[p] - mx, index.y[p] - my, index.z[p] - mz];
      for (let a = 0; a < 3; a++) for (let b = 0; b < 3; b++) scatter[3 * a + b] += d[a] * d[b];
    }
    const { values, vectors } = symmetricEigen(scatter, 3);
    if (values[1] < 0.01 * values[0]) return { offM: 0, spreadM: Infinity, upright: false, among: false };
    const normal = vectors[2];
    const away = [index.x[place] - mx, index.y[place] - my, index.z[place] - mz];
    const off = normal[0] * away[0] + normal[1] * away[1] + normal[2] * away[2];
    const along = away[0] ** 2 + away[1] ** 2 + away[2] ** 2 - off * off;
    return {
      offM: normal[2] < 0 ? -off : off,
      spreadM: Math.sqrt(Math.max(0, values[2]) / Math.max(1, n - 3)),
      upright: Math.abs(normal[2]) < LEVEL,
      among: along < (1.5 * (values[0] + values[1])) / n,
    };
  }
}
