/** Matches of all pairs: which feature of which picture is which of another. */
export interface PairMatches {
  a: number;
  b: number;
  first: Int32Array;
  second: Int32Array;
}

/** Points that pictures have in common: of each, the pictures and the features in them. */
export interface Track {
  images: number[];
  features: number[];
}

/**
 * Joins matches to tracks over many pictures. A track that comes back to one picture at another place is two places, and is
 * left out. @param counts features of each picture.
 */
export function tracksOf(counts: readonly number[], pairs: readonly PairMatches[]): Track[] {
  const start = new Int32Array(counts.length + 1);
  counts.forEach((n, i) => (start[i + 1] = start[i] + n));
  const parent = Int32Array.from({ length: start[counts.length] }, (_, i) => i);
  const root = (i: number): number => {
    while (parent[i] !== i) i = parent[i] = parent[parent[i]];
    return i;
  };
  for (const { a, b, first, second } of pairs)
    first.forEach((f, k) => {
      const [p, q] = [root(start[a] + f), root(start[b] + second[k])];
      if (p !== q) parent[Math.max(p, q)] = Math.min(p, q);
    });
  const size = new Int32Array(parent.length);
  for (let i = 0; i < parent.length; i++) size[root(i)]++;
  const byRoot = new Map<number, Track>();
  const twice = new Set<number>();
  for (let image = 0; image < counts.length; image++)
    for (let f = 0; f < counts[image]; f++) {
      const r = root(start[image] + f);
      if (size[r] < 2) continue;
      const track = byRoot.get(r) ?? { images: [], features: [] };
      if (track.images.at(-1) === image) twice.add(r);
      track.images.push(image);
      track.features.push(f);
      byRoot.set(r, track);
    }
  return [...byRoot].filter(([r]) => !twice.has(r)).map(([, t]) => t);
}
