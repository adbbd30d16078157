import { Random } from '@longheron/core/numeric';
import { landHeight, landNormal } from './land';
import { drive, fly } from './platforms';
import { FROM, Found, Scene } from './scan';
import { addStrays } from './strays';
import { drawScene, type SceneKind, type SceneStrengths } from './strengths';
import { drawThings } from './things';

export { FROM } from './scan';
export { drawScene, SCENE_KINDS, type SceneKind, type SceneStrengths } from './strengths';

/** A scanned scene with its truth, point by point. Coordinates are metres about `strengths.originM`. */
export interface DrawnScene {
  strengths: SceneStrengths;
  points: { count: number; x: Float64Array; y: Float64Array; z: Float64Array; origin: [number, number, number] };
  /** What each point came from (`FROM`). */
  from: Uint8Array;
  /** 1 for returns off the land and within 5 cm above it, whatever they came from; strays are never. */
  ground: Uint8Array;
  /** Height of the land and its direction outwards at a place about the origin. */
  heightAt(x: number, y: number): number;
  normalAt(x: number, y: number): [number, number, number];
}

/** A return this near above the land counts as ground, metres. */
const GROUND_WITHIN_M = 0.05;

/**
 * A scene drawn at random and scanned by a caster of its own: land, things, plants and beams share no code with what is
 * tested on them. @param size 1: some hundred thousand points.
 */
export function scanScene(kind: SceneKind, seed: number, size = 1): DrawnScene {
  const strengths = drawScene(kind, seed, size);
  const { land, halfM, scanner, clearM } = strengths;
  const r = new Random(seed, `scan ${kind}`);
  const things = drawThings(new Random(seed, `things ${kind}`), land, halfM, strengths.things, clearM);
  const scene = new Scene(land, things, halfM, r);
  const found = new Found();
  if (strengths.drive) drive(scene, halfM[0], strengths.drive, scanner, found, r);
  if (strengths.flight) fly(scene, halfM, strengths.flight, scanner, found, r);
  scene.wires(found, scanner);
  const height = strengths.drive?.heightM ?? strengths.flight!.heightM;
  const eyes = [-1, -0.5, 0, 0.5, 1].map((u) => [u * halfM[0], 0, landHeight(land, u * halfM[0], 0) + height]);
  addStrays(scene, found, strengths.strays, halfM, eyes, new Random(seed, `strays ${kind}`));
  const count = found.x.length;
  const noisy = (values: number[], axis: number) => Float64Array.from(values, (v, i) => v + found.noise[i][axis]);
  return {
    strengths,
    points: { count, x: noisy(found.x, 0), y: noisy(found.y, 1), z: noisy(found.z, 2), origin: strengths.originM },
    from: Uint8Array.from(found.from),
    ground: Uint8Array.from(found.from, (from, i) => {
      if (from === FROM.loneStray || from === FROM.groupStray) return 0;
      const above = found.z[i] - landHeight(land, found.x[i], found.y[i]);
      return above <= GROUND_WITHIN_M && (from === FROM.land || above >= 0) ? 1 : 0;
    }),
    heightAt: (x, y) => landHeight(land, x, y),
    normalAt: (x, y) => landNormal(land, x, y),
  };
}
