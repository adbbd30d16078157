/** A delivery of tiles checked against its index and against itself: what is missing, twice, cut off, or does not join. */

/** A tile as it came. */
export interface DeliveredTile {
  name: string;
  points: number;
  /** Corners of its points in plan, metres: west, south, east, north. */
  bounds: [number, number, number, number];
}

/** What an index says of a tile; what it does not say is absent. */
export interface IndexedTile {
  name: string;
  points?: number;
  bounds?: [number, number, number, number];
}

export interface DeliverySettings {
  /** Most points that a tile may have; 0: found by itself where several tiles end at one number. */
  capPoints: number;
  /** A seam is open where the points of two tiles lie farther apart than this many spacings. */
  seamSpacings: number;
}
export const DELIVERY_DEFAULTS: DeliverySettings = { capPoints: 0, seamSpacings: 4 };

export type DeliveryFault =
  'missing' | 'unlisted' | 'count' | 'outside' | 'duplicate' | 'cap' | 'overlap' | 'gap' | 'hole';

export interface DeliveryFinding {
  fault: DeliveryFault;
  tiles: string[];
  /** Metres, square metres or points: see the words. */
  value: number;
  /** Where on the ground, as bounds; absent where it lies nowhere. */
  at?: [number, number, number, number];
}

export interface DeliveryCheck {
  tiles: number;
  points: number;
  mostPoints: number;
  /** Edge of the squares that the tiles lie in, metres; null when they lie in none. */
  edgeM: number | null;
  /** Overlap that all neighbours have, taken to be a buffer, metres. */
  bufferM: number;
  findings: DeliveryFinding[];
}

const EDGES_M = [10, 20, 25, 50, 100, 125, 200, 250, 500, 1000, 2000, 2500, 5000, 10_000];
/** Rounding of coordinates at the edge of a square, metres. */
const EDGE_TOLERANCE_M = 0.02;
/** Points out of the outline that the index gives, metres. */
const OUTSIDE_TOLERANCE_M = 0.05;
const ROUND_POINTS = 100_000;

type Bounds = [number, number, number, number];
const width = (b: Bounds) => b[2] - b[0];
const height = (b: Bounds) => b[3] - b[1];
const common = (a: Bounds, b: Bounds): Bounds => [
  Math.max(a[0], b[0]),
  Math.max(a[1], b[1]),
  Math.min(a[2], b[2]),
  Math.min(a[3], b[3]),
];
/** Name without folder and ending, as indexes and files are compared. */
export const tileKey = (name: string) =>
  name
    .replace(/^.*[/\\]/, '')
    .replace(/\.[a-z0-9]+$/i, '')
    .toLowerCase();

/**
 * Checks tiles. Only counts and corners are looked at, not points: a seam is judged by how near the outermost points of
 * both tiles come to it.
 * @param index what the delivery's index says, where there is one.
 */
export function checkDelivery(
  tiles: DeliveredTile[],
  index: IndexedTile[] | undefined,
  settings: DeliverySettings = DELIVERY_DEFAULTS,
): DeliveryCheck {
  const findings: DeliveryFinding[] = [];
  const twice = duplicates(tiles, findings);
  const single = tiles.filter((_, i) => !twice.has(i));
  const bufferM = overlaps(single, findings);
  if (index) againstIndex(tiles, index, bufferM, findings);
  reachedCap(single, settings.capPoints, findings);
  const edgeM = gridOf(single);
  // where tiles lie over each other, squares say nothing of seams and holes
  if (edgeM !== null && bufferM === 0 && !findings.some((f) => f.fault === 'overlap')) {
    seams(single, edgeM, settings.seamSpacings, findings);
    holes(single, edgeM, findings);
  }
  return {
    tiles: tiles.length,
    points: tiles.reduce((n, t) => n + t.points, 0),
    mostPoints: tiles.reduce((n, t) => Math.max(n, t.points), 0),
    edgeM,
    bufferM,
    findings,
  };
}

function againstIndex(
  tiles: DeliveredTile[],
  index: IndexedTile[],
  bufferM: number,
  findings: DeliveryFinding[],
): void {
  const by = new Map(index.map((t) => [tileKey(t.name), t]));
  const there = new Set(tiles.map((t) => tileKey(t.name)));
  for (const t of index)
    if (!there.has(tileKey(t.name)))
      findings.push({ fault: 'missing', tiles: [t.name], value: t.points ?? 0, ...(t.bounds ? { at: t.bounds } : {}) });
  for (const t of tiles) {
    const said = by.get(tileKey(t.name));
    if (!said) {
      findings.push({ fault: 'unlisted', tiles: [t.name], value: t.points, at: t.bounds });
      continue;
    }
    if (said.points !== undefined && said.points !== t.points)
      findings.push({ fault: 'count', tiles: [t.name], value: t.points - said.points, at: t.bounds });
    const b = said.bounds;
    const out = b ? Math.max(b[0] - t.bounds[0], b[1] - t.bounds[1], t.bounds[2] - b[2], t.bounds[3] - b[3]) : 0;
    if (out > OUTSIDE_TOLERANCE_M + bufferM)
      findings.push({ fault: 'outside', tiles: [t.name], value: out, at: t.bounds });
  }
}

/** Tiles of the same corners and number of points. @returns places of all but the first. */
function duplicates(tiles: DeliveredTile[], findings: DeliveryFinding[]): Set<number> {
  const first = new Map<string, string>();
  const out = new Set<number>();
  tiles.forEach((t, i) => {
    const key = [t.points, ...t.bounds.map((v) => v.toFixed(3))].join(' ');
    const other = first.get(key);
    if (other === undefined) {
      first.set(key, t.name);
      return;
    }
    out.add(i);
    findings.push({ fault: 'duplicate', tiles: [other, t.name], value: t.points, at: t.bounds });
  });
  return out;
}

/** Tiles that end at a cap: what lay beyond it may be lost. Without a stated cap it shows in several tiles of one, or a round, number. */
function reachedCap(tiles: DeliveredTile[], capPoints: number, findings: DeliveryFinding[]): void {
  const most = tiles.reduce((n, t) => Math.max(n, t.points), 0);
  const at = tiles.filter((t) => (capPoints ? t.points >= capPoints : t.points === most));
  const shows = capPoints > 0 || (most > 0 && (at.length > 1 || (tiles.length > 1 && most % ROUND_POINTS === 0)));
  if (shows) for (const t of at) findings.push({ fault: 'cap', tiles: [t.name], value: t.points, at: t.bounds });
}

/** The least usual edge whose squares hold a tile each, or several whole ones; null without such. */
function gridOf(tiles: DeliveredTile[]): number | null {
  if (tiles.length === 0) return null;
  const longest = tiles.reduce((m, t) => Math.max(m, width(t.bounds), height(t.bounds)), 0);
  for (const edge of EDGES_M) {
    if (edge < longest - 2 * EDGE_TOLERANCE_M) continue;
    if (edge > 1.7 * longest) return null;
    if (tiles.every((t) => cellOf(t.bounds, edge))) return edge;
  }
  return null;
}

/** Column and row of the square that holds bounds; undefined when they reach over an edge. */
function cellOf(b: Bounds, edge: number): [number, number] | undefined {
  const c = Math.floor((b[0] + EDGE_TOLERANCE_M) / edge);
  const r = Math.floor((b[1] + EDGE_TOLERANCE_M) / edge);
  return b[2] - EDGE_TOLERANCE_M <= (c + 1) * edge && b[3] - EDGE_TOLERANCE_M <= (r + 1) * edge ? [c, r] : undefined;
}

/** Tiles over each other by more than a rounding. @returns the overlap of neighbours, where all have the same: a buffer. */
function overlaps(tiles: DeliveredTile[], findings: DeliveryFinding[]): number {
  const order = tiles.map((_, i) => i).sort((a, b) => tiles[a].bounds[0] - tiles[b].bounds[0]);
  const found: DeliveryFinding[] = [];
  order.forEach((i, k) => {
    const a = tiles[i].bounds;
    for (let m = k + 1; m < order.length && tiles[order[m]].bounds[0] < a[2] - 2 * EDGE_TOLERANCE_M; m++) {
      const o = common(a, tiles[order[m]].bounds);
      const deep = Math.min(width(o), height(o));
      if (deep > 2 * EDGE_TOLERANCE_M)
        found.push({ fault: 'overlap', tiles: [tiles[i].name, tiles[order[m]].name], value: deep, at: o });
    }
  });
  const deepest = found.reduce((m, f) => Math.max(m, f.value), 0);
  const narrow = tiles.reduce((m, t) => Math.min(m, width(t.bounds), height(t.bounds)), Infinity);
  // neighbours that all share one margin, small beside the tiles, were given it on purpose
  const even = found.length >= tiles.length - 1 && found.every((f) => f.value > 0.8 * deepest);
  if (found.length > 1 && even && deepest < narrow / 4) return deepest;
  findings.push(...found);
  return 0;
}

const spacing = (t: DeliveredTile) => Math.sqrt((width(t.bounds) * height(t.bounds)) / Math.max(1, t.points));

function seams(tiles: DeliveredTile[], edge: number, spacings: number, findings: DeliveryFinding[]): void {
  const by = new Map<string, DeliveredTile[]>();
  for (const t of tiles) {
    const key = cellOf(t.bounds, edge)!.join(' ');
    by.set(key, [...(by.get(key) ?? []), t]);
  }
  for (const t of tiles) {
    const [c, r] = cellOf(t.bounds, edge)!;
    for (const axis of [0, 1] as const)
      for (const other of by.get(axis === 0 ? `${c + 1} ${r}` : `${c} ${r + 1}`) ?? []) {
        const apart = other.bounds[axis] - t.bounds[axis + 2];
        const beside = 1 - axis;
        const from = Math.max(t.bounds[beside], other.bounds[beside]);
        const to = Math.min(t.bounds[beside + 2], other.bounds[beside + 2]);
        // tiles that face each other by less than half of the shorter one say nothing of their seam
        const face =
          (to - from) /
          Math.min(t.bounds[beside + 2] - t.bounds[beside], other.bounds[beside + 2] - other.bounds[beside]);
        if (!(face > 0.5) || apart <= spacings * Math.max(spacing(t), spacing(other))) continue;
        const at: Bounds =
          axis === 0 ? [t.bounds[2], from, other.bounds[0], to] : [from, t.bounds[3], to, other.bounds[1]];
        findings.push({ fault: 'gap', tiles: [t.name, other.name], value: apart, at });
      }
  }
}

/** Squares without a tile that have tiles on at least three of their four sides, however far. */
function holes(tiles: DeliveredTile[], edge: number, findings: DeliveryFinding[]): void {
  const cells = tiles.map((t) => cellOf(t.bounds, edge)!);
  const there = new Set(cells.map((c) => c.join(' ')));
  const columns = new Map<number, [number, number]>();
  const rows = new Map<number, [number, number]>();
  const widen = (m: Map<number, [number, number]>, k: number, v: number) => {
    const [a, b] = m.get(k) ?? [v, v];
    m.set(k, [Math.min(a, v), Math.max(b, v)]);
  };
  for (const [c, r] of cells) {
    widen(columns, c, r);
    widen(rows, r, c);
  }
  const [c0, c1] = [Math.min(...columns.keys()), Math.max(...columns.keys())];
  for (const [r, [from, to]] of rows)
    for (let c = Math.max(c0, from - 1); c <= Math.min(c1, to + 1); c++) {
      if (there.has(`${c} ${r}`)) continue;
      const [low, high] = columns.get(c) ?? [Infinity, -Infinity];
      const sides = [from < c, to > c, low < r, high > r].filter(Boolean).length;
      if (sides >= 3)
        findings.push({
          fault: 'hole',
          tiles: [],
          value: edge * edge,
          at: [c * edge, r * edge, (c + 1) * edge, (r + 1) * edge],
        });
    }
}

/** A finding in words. */
export function deliveryWords(f: DeliveryFinding): string {
  const [a, b] = f.tiles;
  const m = (v: number) => `${v.toFixed(2)} m`;
  switch (f.fault) {
    case 'missing':
      return `${a} is in the index and was not delivered${f.value ? ` (${f.value} points)` : ''}.`;
    case 'unlisted':
      return `${a} was delivered and is not in the index.`;
    case 'count':
      return `${a} has ${Math.abs(f.value)} points ${f.value > 0 ? 'more' : 'fewer'} than the index says.`;
    case 'outside':
      return `${a} has points up to ${m(f.value)} outside the outline that the index gives.`;
    case 'duplicate':
      return `${b} holds as many points within the same corners as ${a}.`;
    case 'cap':
      return `${a} ends at ${f.value} points: what lay beyond the cap may be lost.`;
    case 'overlap':
      return `${a} and ${b} lie over each other by ${m(f.value)}.`;
    case 'gap':
      return `Between ${a} and ${b} is a gap of ${m(f.value)}.`;
    case 'hole':
      return `A square of ${m(Math.sqrt(f.value))} has no tile, and tiles around it.`;
  }
}
