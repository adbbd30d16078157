import {
  classifyThings,
  findGround,
  findGroundByCloth,
  findStrays,
  GROUND_DEFAULTS,
  LAS_CLASS,
  STRAY_DEFAULTS,
  type ClothSettings,
  type GroundSettings,
  type PointSet,
  type StraySettings,
  type TellGround,
  type ThingSettings,
} from '@longheron/core/cloud';
import { part, type Watch } from '@longheron/core/shared';

/** What is looked for in a cloud, and how. */
export interface ClassifyHow {
  ground: boolean;
  noise: boolean;
  groundSettings?: GroundSettings;
  /** Finds the ground by a cloth instead of triangles. */
  cloth?: ClothSettings;
  straySettings?: StraySettings;
  /** Also gives what stands on the ground its classes. */
  things?: ThingSettings;
}

export interface ClassifiedColumns {
  classification: Uint8Array;
  withheld: Uint8Array;
  strays: number;
  ground: number;
  /** Noise of the points and how near to the surface ground was looked for, metres; when ground was asked for. */
  surface?: { noiseM: number; withinM: number };
}

/**
 * Finds strays and ground in a cloud in memory. Strays get class low or high noise (below or above the level of the good
 * points around them) and are withheld; ground gets class 2, the
 * rest of what was never classified class 1.
 */
export function classifyPoints(
  set: PointSet,
  before: { classification: Uint8Array; withheld: Uint8Array },
  settings: ClassifyHow,
  watch?: Watch,
): ClassifiedColumns {
  const classification = before.classification.slice();
  const withheld = before.withheld.slice();
  let strayCount = 0;
  if (settings.noise) {
    const strays = findStrays(set, settings.straySettings ?? STRAY_DEFAULTS, part(watch, 0, settings.ground ? 0.4 : 1));
    const level = levelsAround(set, strays);
    for (let i = 0; i < strays.length; i++) {
      if (!strays[i]) continue;
      strayCount++;
      withheld[i] = 1;
      classification[i] = set.z[i] < level(i) ? LAS_CLASS.lowNoise : LAS_CLASS.highNoise;
    }
  }
  let groundCount = 0;
  let surface: ClassifiedColumns['surface'];
  if (settings.ground) {
    const tell: TellGround = (figures) => (surface = figures);
    const skip = new Uint8Array(set.count);
    for (let i = 0; i < skip.length; i++)
      skip[i] =
        withheld[i] || classification[i] === LAS_CLASS.lowNoise || classification[i] === LAS_CLASS.highNoise ? 1 : 0;
    const watchGround = part(watch, settings.noise ? 0.4 : 0, settings.things ? 0.85 : 1);
    const ground = settings.cloth
      ? findGroundByCloth(set, settings.cloth, skip, watchGround, tell)
      : findGround(set, settings.groundSettings ?? GROUND_DEFAULTS, skip, watchGround, tell);
    for (let i = 0; i < ground.length; i++) {
      if (ground[i]) {
        classification[i] = LAS_CLASS.ground;
        groundCount++;
      } else if (classification[i] === LAS_CLASS.never || classification[i] === LAS_CLASS.ground)
        classification[i] = LAS_CLASS.unclassified;
    }
    if (settings.things) classifyThings(set, classification, skip, settings.things, part(watch, 0.85, 1));
  }
  return { classification, withheld, strays: strayCount, ground: groundCount, surface };
}

/** Squares in which the level of the good points is taken, metres. */
const LEVEL_SQUARE_M = 5;

/** The mean height of the good points in the square of a point; where there are none, of all good points. */
function levelsAround(set: PointSet, strays: Uint8Array): (i: number) => number {
  const key = (i: number) => Math.floor(set.x[i] / LEVEL_SQUARE_M) * 8388608 + Math.floor(set.y[i] / LEVEL_SQUARE_M);
  const wanted = new Map<number, [number, number]>();
  for (let i = 0; i < set.count; i++) if (strays[i]) wanted.set(key(i), [0, 0]);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < set.count; i++) {
    if (strays[i]) continue;
    sum += set.z[i];
    count++;
    const cell = wanted.get(key(i));
    if (cell) {
      cell[0] += set.z[i];
      cell[1]++;
    }
  }
  const whole = count ? sum / count : 0;
  return (i) => {
    const [s, n] = wanted.get(key(i)) ?? [0, 0];
    return n ? s / n : whole;
  };
}

export function countsByClass(classification: Uint8Array): Record<string, number> {
  const counts = new Float64Array(256);
  for (const c of classification) counts[c]++;
  return Object.fromEntries([...counts].map((n, c) => [String(c), n] as const).filter(([, n]) => n > 0));
}
