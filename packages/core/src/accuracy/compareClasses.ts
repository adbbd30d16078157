import { type Watch, tick } from '../shared/progress';

/** Places and classes of a cloud: whole numbers of a common step about a common zero, three a point. */
export interface ClassedPlaces {
  xyz: Int32Array;
  cls: Uint8Array;
  /** 1 for points that do not count. */
  skip: Uint8Array;
}

/** Points of two clouds that are the same points, by their classes. */
export interface MatchedClasses {
  /** Points by class of the reference and class found: 256 rows of 256. */
  counts: Float64Array;
  matched: number;
  /** Points of the reference without a partner, and of several in one place. */
  without: number;
  ambiguous: number;
}

/** A classification against a reference, as it is kept. */
export interface ClassCheck {
  /** Classes that one of them has, ascending: rows are of the reference, columns what was found. */
  classes: number[];
  counts: number[][];
  /** Share of each reference class that was found as it (producer's), and of what is called so that is (user's). */
  recall: Array<number | null>;
  precision: Array<number | null>;
  overall: number | null;
  /** Ground called something else, something else called ground, and both of all; null without ground. */
  typeI: number | null;
  typeII: number | null;
  total: number | null;
  matched: number;
  without: number;
  ambiguous: number;
  points: { reference: number; found: number };
}

const EMPTY = -1;
const TWICE = 256;

/**
 * Matches points by their place, to a step: classes of a reference against those of another classification of the same
 * points. Places that a cloud holds twice with different classes decide nothing.
 */
export function matchClasses(reference: ClassedPlaces, found: ClassedPlaces, watch?: Watch): MatchedClasses {
  const n = reference.cls.length;
  let size = 1024;
  while (size < 2 * n) size *= 2;
  const slots = new Int32Array(size).fill(EMPTY);
  const code = Uint16Array.from(reference.cls);
  const hit = new Uint8Array(n);
  const at = (xyz: Int32Array, i: number): number => {
    let h = Math.imul(xyz[3 * i], 73856093) ^ Math.imul(xyz[3 * i + 1], 19349663) ^ Math.imul(xyz[3 * i + 2], 83492791);
    h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
    let s = (h ^ (h >>> 13)) & (size - 1);
    while (slots[s] !== EMPTY) {
      const j = 3 * slots[s];
      const r = reference.xyz;
      if (r[j] === xyz[3 * i] && r[j + 1] === xyz[3 * i + 1] && r[j + 2] === xyz[3 * i + 2]) break;
      s = (s + 1) & (size - 1);
    }
    return s;
  };
  for (let i = 0; i < n; i++) {
    if ((i & 0xfffff) === 0) tick(watch, (0.4 * i) / n, 'Sorting the reference');
    if (reference.skip[i]) continue;
    const s = at(reference.xyz, i);
    const known = slots[s];
    if (known === EMPTY) slots[s] = i;
    else if (code[known] !== reference.cls[i]) code[known] = TWICE;
  }
  const counts = new Float64Array(256 * 256);
  let [matched, ambiguous] = [0, 0];
  for (let i = 0; i < found.cls.length; i++) {
    if ((i & 0xfffff) === 0) tick(watch, 0.4 + (0.6 * i) / found.cls.length, 'Comparing classes');
    if (found.skip[i]) continue;
    const known = slots[at(found.xyz, i)];
    if (known === EMPTY) continue;
    hit[known] = 1;
    if (code[known] === TWICE) ambiguous++;
    else {
      counts[256 * code[known] + found.cls[i]]++;
      matched++;
    }
  }
  let without = 0;
  for (const i of slots) if (i !== EMPTY && !hit[i]) without++;
  return { counts, matched, without, ambiguous };
}
