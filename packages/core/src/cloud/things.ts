import { part, tick, type Watch } from '../shared/progress';
import { groundGrid, heightAbove } from './finders';
import { VoxelSet } from './finders/voxelSet';
import { LAS_CLASS, type PointSet } from './points';
import { NeighbourShapes } from './shape';

export interface ThingSettings {
  /** Vegetation up to these heights above ground is low and medium; above it is high, metres. */
  lowM: number;
  mediumM: number;
  /** Neighbours within this tell the shape, metres. */
  radiusM: number;
  /** Wires hang at least so high, metres. */
  wireM: number;
  /** Walls, roofs and decks are at least so long in one direction, metres. */
  longM: number;
}

export const THING_DEFAULTS: ThingSettings = { lowM: 0.5, mediumM: 2, radiusM: 0.6, wireM: 3, longM: 2 };

/** Points lower than this over the ground are left as they are: gravel, kerbs, the last grass. */
const MIN_M = 0.15;
const NEIGHBOURS = 40;
const FEWEST = 6;
/** Of eigenvalues (Weinmann 2015): how much of a line or a plane a neighbourhood must be. */
const LINE = 0.8;
const PLANE = 0.55;
/** A wire's direction rises by less than this (cosine with the vertical), a pole's by more. */
const LEVEL = 0.5;
const UPRIGHT = 0.85;
/** Share of the points of a cube that must be of a shape for all of it to be. */
const MAJORITY = 0.5;
const CUBE_M = 0.5;
/** Points are looked at this many times closer than the neighbourhood is wide. */
const THINNED = 6;
/** A pole is at least so high, and no wider than this across. */
const POLE_M = 1.5;
const POLE_ACROSS_M = 1.2;
const WIRE_LONG_M = 3;
/** Cubes of so few points beside a wire are of it, so many cubes far. */
const FEW_ON_WIRE = 8;
const WIRE_ROUNDS = 3;
const POLE_MARGIN_M = 0.1;
const POLE_TOP_M = 1;
/** Normals more upright than this are of roofs and decks. */
const FLAT = 0.85;
/** Roofs and decks lie at least so high, metres. */
const FLAT_FROM_M = 1.5;
/** A deck has ground under so much of it. */
const GROUND_UNDER = 0.4;
const DECK_M = 2.5;

const enum Shape {
  none,
  wire,
  pole,
  wall,
  flat,
  deck,
}

/**
 * Gives what stands on the ground its classes: wires and poles by lines in their neighbourhoods, buildings and decks by
 * planes, the rest by height as vegetation. Shapes are judged by cube, and by how long, high and wide what hangs
 * together is; a deck is told from a roof by the ground that is seen under it.
 * @param cls classes with the ground found; changed in place for points of no class and of classes 3–6, 14, 15, 17.
 * @param skip 1 for points to leave out (strays, rejected).
 * @returns how many points each class got.
 */
export function classifyThings(
  set: PointSet,
  cls: Uint8Array,
  skip: Uint8Array,
  settings: ThingSettings = THING_DEFAULTS,
  watch?: Watch,
): Record<number, number> {
  const counts: Record<number, number> = {};
  const ground = groundGrid(set, cls, skip);
  if (!ground) return counts;
  tick(watch, 0, 'Heights above ground');
  const high: number[] = [];
  const above: number[] = [];
  for (let i = 0; i < set.count; i++) {
    if (skip[i] || !CHANGED.has(cls[i])) continue;
    const h = heightAbove(ground, set.x[i], set.y[i], set.z[i]);
    if (!(h >= MIN_M)) {
      cls[i] = LAS_CLASS.unclassified;
      continue;
    }
    high.push(i);
    above.push(h);
  }
  const at = Int32Array.from(high);
  const things: PointSet = {
    count: at.length,
    x: Float64Array.from(at, (i) => set.x[i]),
    y: Float64Array.from(at, (i) => set.y[i]),
    z: Float64Array.from(at, (i) => set.z[i]),
    origin: set.origin,
  };
  // neighbours closer together than the noise show its shape only: one point of each small cube is looked at
  const looked = firstOfCubes(things, settings.radiusM / THINNED);
  const shape = shapes(things, looked, above, settings, part(watch, 0.1, 0.85));
  tick(watch, 0.85, 'Putting shapes together');
  const grounded = groundSeen(set, cls, skip);
  settle(things, looked, above, shape, settings, grounded);
  for (let k = 0; k < at.length; k++) {
    const c = CLASS_OF[shape[k]] ?? vegetation(above[k], settings);
    cls[at[k]] = c;
    counts[c] = (counts[c] ?? 0) + 1;
  }
  return counts;
}

const CHANGED = new Set<number>([
  LAS_CLASS.never,
  LAS_CLASS.unclassified,
  LAS_CLASS.lowVegetation,
  LAS_CLASS.mediumVegetation,
  LAS_CLASS.highVegetation,
  LAS_CLASS.building,
  LAS_CLASS.wireConductor,
  LAS_CLASS.pole,
  LAS_CLASS.bridgeDeck,
]);
const CLASS_OF: Record<number, number> = {
  [Shape.wire]: LAS_CLASS.wireConductor,
  [Shape.pole]: LAS_CLASS.pole,
  [Shape.wall]: LAS_CLASS.building,
  [Shape.flat]: LAS_CLASS.building,
  [Shape.deck]: LAS_CLASS.bridgeDeck,
};

const vegetation = (h: number, s: ThingSettings) =>
  h <= s.lowM ? LAS_CLASS.lowVegetation : h <= s.mediumM ? LAS_CLASS.mediumVegetation : LAS_CLASS.highVegetation;

/** The first point of each cube. */
function firstOfCubes(p: PointSet, edgeM: number): Int32Array {
  if (p.count === 0) return new Int32Array(0);
  const cubes = new VoxelSet(p, new Uint8Array(p.count), edgeM);
  const seen = new Uint8Array(cubes.count);
  const out: number[] = [];
  for (let k = 0; k < p.count; k++) {
    if (seen[cubes.of[k]]) continue;
    seen[cubes.of[k]] = 1;
    out.push(k);
  }
  return Int32Array.from(out);
}

/** The shape of the neighbourhood of each point looked at. */
function shapes(
  all: PointSet,
  looked: Int32Array,
  heights: number[],
  s: ThingSettings,
  watch: Watch | undefined,
): Uint8Array {
  const out = new Uint8Array(all.count);
  const take = (a: Float64Array) => Float64Array.from(looked, (i) => a[i]);
  const p = { count: looked.length, x: take(all.x), y: take(all.y), z: take(all.z) };
  if (p.count === 0) return out;
  const neighbours = new NeighbourShapes(p, s.radiusM, NEIGHBOURS, FEWEST);
  for (let k = 0; k < p.count; k++) {
    if ((k & 0x3fff) === 0) tick(watch, k / p.count, 'Looking at shapes');
    const found = neighbours.at(k);
    if (!found) continue;
    const { values, vectors } = found;
    const [l1, l2, l3] = values;
    if ((l1 - l2) / l1 >= LINE) {
      const rise = Math.abs(vectors[0][2]);
      if (rise < LEVEL && heights[looked[k]] >= s.wireM) out[looked[k]] = Shape.wire;
      else if (rise > UPRIGHT) out[looked[k]] = Shape.pole;
    } else if ((l2 - l3) / l1 >= PLANE) {
      // low and flat is what grows low
      if (Math.abs(vectors[2][2]) < FLAT) out[looked[k]] = Shape.wall;
      else if (heights[looked[k]] >= FLAT_FROM_M) out[looked[k]] = Shape.flat;
    }
  }
  return out;
}

/** What of a cloud's plan has ground points of its own, in cells of a metre. */
function groundSeen(set: PointSet, cls: Uint8Array, skip: Uint8Array): (x: number, y: number) => boolean {
  const seen = new Set<number>();
  const key = (x: number, y: number) => Math.floor(x) * 16777216 + Math.floor(y);
  for (let i = 0; i < set.count; i++) if (!skip[i] && cls[i] === LAS_CLASS.ground) seen.add(key(set.x[i], set.y[i]));
  return (x, y) => seen.has(key(x, y));
}

/** Cubes take the shape that most of their points have; what hangs together keeps it when it is large enough. */
function settle(
  p: PointSet,
  looked: Int32Array,
  above: number[],
  shape: Uint8Array,
  s: ThingSettings,
  grounded: (x: number, y: number) => boolean,
): void {
  if (p.count === 0) return;
  const cubes = new VoxelSet(p, new Uint8Array(p.count), CUBE_M);
  const votes = [Shape.wire, Shape.pole, Shape.wall, Shape.flat].map(() => new Int32Array(cubes.count));
  const totals = new Int32Array(cubes.count);
  for (const k of looked) {
    totals[cubes.of[k]]++;
    if (shape[k]) votes[shape[k] - 1][cubes.of[k]]++;
  }
  const of = new Uint8Array(cubes.count);
  for (let v = 0; v < cubes.count; v++) {
    const [wire, pole, wall, flat] = votes.map((x) => x[v]);
    const total = totals[v];
    if (wire + pole >= MAJORITY * total && wire + pole > 0) of[v] = wire >= pole ? Shape.wire : Shape.pole;
    else if (wall + flat >= MAJORITY * total && wall + flat > 0) of[v] = wall >= flat ? Shape.wall : Shape.flat;
  }
  // walls and roofs hang together as one thing, wires and poles each by themselves
  const kind = (v: number) => (of[v] === Shape.flat ? Shape.wall : of[v]);
  const label = components(cubes, kind);
  const boxes = new Map<number, Box>();
  const kindOf = new Map<number, number>();
  for (let k = 0; k < p.count; k++) {
    const l = label[cubes.of[k]];
    if (l < 0) continue;
    kindOf.set(l, kind(cubes.of[k]));
    const box = boxes.get(l) ?? newBox();
    boxes.set(l, box);
    box.count++;
    for (const [d, value] of [p.x[k], p.y[k], p.z[k]].entries()) {
      box.low[d] = Math.min(box.low[d], value);
      box.high[d] = Math.max(box.high[d], value);
    }
    if (of[cubes.of[k]] === Shape.flat) {
      box.flat++;
      if (grounded(p.x[k], p.y[k])) box.grounded++;
    }
    box.height += above[k];
  }
  for (let k = 0; k < p.count; k++) {
    const v = cubes.of[k];
    const box = label[v] < 0 ? undefined : boxes.get(label[v]);
    shape[k] = box && keeps(kind(v), box, s) ? of[v] : Shape.none;
    const deck =
      box &&
      shape[k] &&
      kind(v) === Shape.wall &&
      box.flat > 0.5 * box.count &&
      box.grounded > GROUND_UNDER * box.flat &&
      box.height / box.count > DECK_M;
    if (deck) shape[k] = Shape.deck;
  }
  extendWires(cubes, p.count, shape, totals);
  extendPoles(
    p,
    shape,
    [...boxes].filter(([l, box]) => kindOf.get(l) === Shape.pole && keeps(Shape.pole, box, s)),
  );
}

/** A wire's thin places: cubes of few points beside it. */
function extendWires(cubes: VoxelSet, count: number, shape: Uint8Array, totals: Int32Array): void {
  const wire = new Uint8Array(cubes.count);
  const other = new Uint8Array(cubes.count);
  for (let k = 0; k < count; k++)
    if (shape[k] === Shape.wire) wire[cubes.of[k]] = 1;
    else if (shape[k]) other[cubes.of[k]] = 1;
  let edge: number[] = [];
  for (let v = 0; v < cubes.count; v++) if (wire[v]) edge.push(v);
  for (let round = 0; round < WIRE_ROUNDS; round++) {
    const next: number[] = [];
    for (const v of edge)
      for (let n = 0; n < 27; n++) {
        const [dx, dy, dz] = [(n % 3) - 1, (Math.floor(n / 3) % 3) - 1, Math.floor(n / 9) - 1];
        const w = cubes.find(cubes.at[3 * v] + dx, cubes.at[3 * v + 1] + dy, cubes.at[3 * v + 2] + dz);
        if (w < 0 || wire[w] || other[w] || totals[w] > FEW_ON_WIRE) continue;
        wire[w] = 1;
        next.push(w);
      }
    edge = next;
  }
  for (let k = 0; k < count; k++) if (!shape[k] && wire[cubes.of[k]]) shape[k] = Shape.wire;
}

/** What lies within the plan of a pole, up to its top and a little over it, is of the pole. */
function extendPoles(p: PointSet, shape: Uint8Array, poles: [number, Box][]): void {
  for (const [, { low, high }] of poles)
    for (let k = 0; k < p.count; k++)
      if (
        !shape[k] &&
        p.x[k] >= low[0] - POLE_MARGIN_M &&
        p.x[k] <= high[0] + POLE_MARGIN_M &&
        p.y[k] >= low[1] - POLE_MARGIN_M &&
        p.y[k] <= high[1] + POLE_MARGIN_M &&
        p.z[k] <= high[2] + POLE_TOP_M
      )
        shape[k] = Shape.pole;
}

interface Box {
  low: number[];
  high: number[];
  count: number;
  flat: number;
  grounded: number;
  height: number;
}
const newBox = (): Box => ({
  low: [Infinity, Infinity, Infinity],
  high: [-Infinity, -Infinity, -Infinity],
  count: 0,
  flat: 0,
  grounded: 0,
  height: 0,
});

function keeps(kind: number, { low, high }: Box, s: ThingSettings): boolean {
  const across = Math.hypot(high[0] - low[0], high[1] - low[1]);
  const up = high[2] - low[2];
  if (kind === Shape.wire) return across >= WIRE_LONG_M;
  if (kind === Shape.pole) return up >= POLE_M && across <= POLE_ACROSS_M;
  return Math.max(across, up) >= s.longM;
}

/** Numbers of what hangs together: neighbouring cubes of the same kind; −1 for those of none. */
function components(cubes: VoxelSet, kind: (v: number) => number): Int32Array {
  const label = new Int32Array(cubes.count).fill(-1);
  let next = 0;
  const stack: number[] = [];
  for (let v = 0; v < cubes.count; v++) {
    if (label[v] >= 0 || !kind(v)) continue;
    label[v] = next;
    stack.push(v);
    while (stack.length) {
      const u = stack.pop()!;
      const [x, y, z] = [cubes.at[3 * u], cubes.at[3 * u + 1], cubes.at[3 * u + 2]];
      for (let n = 0; n < 27; n++) {
        const w = cubes.find(x + (n % 3) - 1, y + (Math.floor(n / 3) % 3) - 1, z + Math.floor(n / 9) - 1);
        if (w < 0 || label[w] >= 0 || kind(w) !== kind(v)) continue;
        label[w] = next;
        stack.push(w);
      }
    }
    next++;
  }
  return label;
}
