/** A point that is picked in a picture. */
export interface PickedHere {
  uPx: number;
  vPx: number;
  /** In how many other pictures of the set it is picked too. */
  others: number;
  /** Whether its place is known from elsewhere. */
  known: boolean;
}

/** How well a picture hangs on its picks. */
export interface Enough {
  state: 'needs more' | 'can be computed' | 'well determined';
  /** Picks that are of use: of points that are known, or picked elsewhere too. */
  useful: number;
  /** How many more it takes to be computed, and to be well determined. */
  moreToCompute: number;
  moreToBeWell: number;
  /** Ninths of the picture by rows, without a useful pick. */
  emptyNinths: number[];
  /** Whether all useful picks lie so near to one line that the picture can turn about it. */
  onOneLine: boolean;
}

/** Two pictures of known cameras hang together by five points (Kruppa 1913); a sixth shows whether they fit. */
const COMPUTABLE = 6;
/** Of a known camera among known points: three leave four solutions, a fourth tells them apart. */
const COMPUTABLE_KNOWN = 4;
/** With so many a wrong one is found and named. */
const WELL = 9;
/** Ninths that must hold a pick for the camera's angles to be told well. */
const WELL_NINTHS = 4;
/** Picks spread across their line by less than this share of the picture's diagonal lie on it. */
const ON_LINE = 0.03;

/** Judges how many more picks a picture needs, and where. */
export function enoughPicks(picks: readonly PickedHere[], widthPx: number, heightPx: number): Enough {
  const useful = picks.filter((p) => p.known || p.others > 0);
  const known = useful.filter((p) => p.known).length;
  const part = (x: number, size: number) => Math.min(2, Math.max(0, Math.floor((3 * (x + 0.5)) / size)));
  const filled = new Set(useful.map((p) => 3 * part(p.vPx, heightPx) + part(p.uPx, widthPx)));
  const onOneLine = useful.length > 1 && acrossLine(useful) < ON_LINE * Math.hypot(widthPx, heightPx);
  const least = Math.min(COMPUTABLE - useful.length, COMPUTABLE_KNOWN - known);
  const moreToCompute = Math.max(0, least, onOneLine ? 1 : 0);
  const moreToBeWell = Math.max(moreToCompute, WELL - useful.length, WELL_NINTHS - filled.size, 0);
  return {
    state: moreToCompute ? 'needs more' : moreToBeWell ? 'can be computed' : 'well determined',
    useful: useful.length,
    moreToCompute,
    moreToBeWell,
    emptyNinths: Array.from({ length: 9 }, (_, k) => k).filter((k) => !filled.has(k)),
    onOneLine,
  };
}

/** RMS distance of places from the line that fits them best, pixels. */
function acrossLine(places: ReadonlyArray<{ uPx: number; vPx: number }>): number {
  const n = places.length;
  const u = places.reduce((s, p) => s + p.uPx, 0) / n;
  const v = places.reduce((s, p) => s + p.vPx, 0) / n;
  let [uu, uv, vv] = [0, 0, 0];
  for (const p of places) {
    uu += (p.uPx - u) ** 2 / n;
    uv += ((p.uPx - u) * (p.vPx - v)) / n;
    vv += (p.vPx - v) ** 2 / n;
  }
  return Math.sqrt(Math.max(0, (uu + vv) / 2 - Math.hypot((uu - vv) / 2, uv)));
}
