import { type PairFigures, type PieceFigures } from '@longheron/contract/kinds/adjustment';

/** Which pairs are looked at: all, the heads of one strip against each other, or strips against each other. */
export type Between = 'all' | 'heads' | 'strips';

export const BETWEEN: ReadonlyArray<{ key: Between; label: string }> = [
  { key: 'all', label: 'All' },
  { key: 'heads', label: 'Head against head' },
  { key: 'strips', label: 'Strip against strip' },
];

/** Heads in a list of pieces. */
export const headsOf = (pieces: readonly PieceFigures[]): string[] => [...new Set(pieces.map((p) => p.head))];

export function isBetween(between: Between, first: PieceFigures, second: PieceFigures): boolean {
  if (between === 'all') return true;
  const oneStrip = first.strip === second.strip;
  return between === 'heads' ? oneStrip && first.head !== second.head : !oneStrip;
}

/** Patches of pairs together, and the RMS of their differences, metres; null where none are known. */
export function together(pairs: readonly PairFigures[]): {
  patches: number;
  beforeM: number | null;
  afterM: number | null;
  noiseM: number | null;
} {
  const patches = pairs.reduce((sum, p) => sum + p.patches, 0);
  const rms = (of: (p: PairFigures) => number | null) => {
    let [sum, n] = [0, 0];
    for (const p of pairs) {
      const v = of(p);
      if (v === null) continue;
      sum += p.patches * v ** 2;
      n += p.patches;
    }
    return n ? Math.sqrt(sum / n) : null;
  };
  return {
    patches,
    beforeM: rms((p) => p.before_rms_m),
    afterM: rms((p) => p.after_rms_m),
    noiseM: rms((p) => p.noise_m),
  };
}
