import { LAS_CLASS } from '../points';
import { type Runs } from './runs';

/** What an act does with points. A rejected point keeps its class. */
export type EditAct = { kind: 'class'; to: number } | { kind: 'reject' } | { kind: 'restore' };

/** An act on some rows of a stored cloud. */
export interface CloudEdit {
  act: EditAct;
  runs: Runs;
}

/** Bit of a point's flags: it is rejected. */
export const REJECTED = 1;

/** Strays that are taken back are points like any other, not yet classified. */
const restored = (cls: number) =>
  cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise ? LAS_CLASS.unclassified : cls;

/**
 * Does acts, in their order, to the classes and flags of rows [from, from + classes.length), in place.
 * @param touched set to 1 where an act said something of the rejection, for who keeps that elsewhere.
 */
export function applyEdits(
  edits: readonly CloudEdit[],
  from: number,
  classes: Uint8Array,
  flags: Uint8Array,
  touched?: Uint8Array,
): void {
  const to = from + classes.length;
  for (const { act, runs } of edits) {
    const { first, length } = runs;
    for (let r = runAt(runs, from); r < first.length && first[r] < to; r++) {
      const a = Math.max(first[r], from) - from;
      const b = Math.min(first[r] + length[r], to) - from;
      if (b <= a) continue;
      if (act.kind === 'class') classes.fill(act.to, a, b);
      else {
        touched?.fill(1, a, b);
        if (act.kind === 'reject') for (let i = a; i < b; i++) flags[i] |= REJECTED;
        else
          for (let i = a; i < b; i++) {
            flags[i] &= ~REJECTED;
            classes[i] = restored(classes[i]);
          }
      }
    }
  }
}

/** The first run that may reach to a row or beyond. */
function runAt({ first, length }: Runs, row: number): number {
  let [low, high] = [0, first.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (first[middle] + length[middle] <= row) low = middle + 1;
    else high = middle;
  }
  return low;
}
