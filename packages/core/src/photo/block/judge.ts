import { type Covariances } from './covariance';
import { CAMERA_TERMS, TERMS, type CameraTerm } from './model';
import { placeResidual } from './normals';
import { type Solver } from './solve';

export interface HeldTerm {
  camera: number;
  term: CameraTerm;
  reason: 'not asked' | 'not determined' | 'not significant';
}

/** Something given that the block contradicts. */
export interface Contradiction {
  index: number;
  /** By how much, along the axes of the block, metres; given less found. */
  offM: [number, number, number];
  /** In deviations of that difference. */
  test: number;
}

/** Terms known after the adjustment hardly better than before are not determined by it. */
const DETERMINED = 0.8;
/** Terms that differ from nominal by less than so many deviations do not matter, where no other hangs on them by more than this. */
const SIGNIFICANT = 1;
const APART = 0.3;
/** Given places and control beyond so many deviations are left out. */
const CONTRADICTED = 3.5;
/** Places beyond so many deviations are let go before anything is judged, unless they are more than this share. */
const GROSS = 12;
const MOST_GROSS = 0.2;

/**
 * Lets go of places that are so far off that they would tear their pictures away; not when they are many: then something
 * else is wrong, and it will be said of each.
 */
export function grossPlaces({ block, state, weights }: Solver): Contradiction[] {
  const out: Contradiction[] = [];
  const off = new Float64Array(3);
  block.images.forEach(({ given }, index) => {
    if (!given) return;
    placeResidual(block, state, index, off);
    const test = Math.max(...given.sdM.map((sd, k) => Math.abs(off[k]) / sd));
    if (test > GROSS) out.push({ index, test, offM: [off[0], off[1], off[2]] });
  });
  if (out.length > MOST_GROSS * block.images.length) return [];
  for (const { index } of out) weights.place[index] = 0;
  return out;
}

/** Leaves out the worst given place or control mark that the block contradicts. @returns whether there was one. */
export function leaveOut(
  solver: Solver,
  covariances: Covariances,
  placesOut: Contradiction[],
  controlOut: Contradiction[],
  loose: boolean,
): boolean {
  if (loose) return false;
  const { block, weights, state, layout } = solver;
  let worst: (Contradiction & { place: boolean }) | undefined;
  const look = (
    index: number,
    place: boolean,
    off: ArrayLike<number>,
    given: readonly number[],
    found: (k: number) => number,
  ) => {
    let test = 0;
    for (let k = 0; k < 3; k++) {
      // what a residual may be: the deviation of what is given less that of what is found with it
      const shown = Math.max(0.01 * given[k] ** 2, given[k] ** 2 - found(k));
      test = Math.max(test, Math.abs(off[k]) / Math.sqrt(shown));
    }
    if (test > CONTRADICTED && test > (worst?.test ?? 0))
      worst = { index, place, test, offM: [off[0], off[1], off[2]] };
  };
  const off = new Float64Array(3);
  block.images.forEach(({ given }, i) => {
    if (!given || weights.place[i] === 0) return;
    placeResidual(block, state, i, off);
    const at = layout.imageAt[i];
    look(i, true, off, given.sdM, (k) => (given.session === undefined ? covariances.of(at + k, at + k) : 0));
  });
  block.points.forEach(({ kind, givenM, sdM }, p) => {
    if (kind !== 'control' || !givenM || !sdM || weights.point[p] === 0) return;
    const own = covariances.point(p);
    if (!own) return;
    const diagonal = [own[0], own[3], own[5]];
    look(
      p,
      false,
      givenM.map((v, k) => v - state.points[3 * p + k]),
      sdM,
      (k) => diagonal[k],
    );
  });
  if (!worst) return false;
  const { place, ...found } = worst;
  if (place) {
    weights.place[found.index] = 0;
    placesOut.push(found);
  } else {
    weights.point[found.index] = 0;
    controlOut.push(found);
  }
  return true;
}

/**
 * Terms to be held at nominal: all of which the block tells next to nothing; when there are none, the one whose difference
 * from nominal matters least.
 */
export function termsToHold(
  { block, state, layout }: Solver,
  { of }: Covariances,
  held: ReadonlyMap<number, unknown>,
): Array<{ at: number; reason: HeldTerm['reason'] }> {
  const loose: number[] = [];
  let least: { at: number; off: number } | undefined;
  layout.termAt.forEach((column, at) => {
    if (column < 0 || held.has(at)) return;
    const [c, t] = [Math.floor(at / TERMS), CAMERA_TERMS[at % TERMS]];
    const sd = Math.sqrt(of(column, column));
    if (sd > DETERMINED * block.cameras[c].sd[t]) {
      loose.push(at);
      return;
    }
    const off = Math.abs(state.cameras[c][t] - block.cameras[c].camera[t]) / sd;
    const tied = layout.termAt.some(
      (o) => o >= 0 && o !== column && Math.abs(of(column, o)) > APART * sd * Math.sqrt(of(o, o)),
    );
    if (off < SIGNIFICANT && !tied && off < (least?.off ?? SIGNIFICANT)) least = { at, off };
  });
  if (loose.length) return loose.map((at) => ({ at, reason: 'not determined' }));
  return least ? [{ at: least.at, reason: 'not significant' }] : [];
}
