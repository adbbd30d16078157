import { median } from '../../numeric/statistics';
import { type SharedCell } from './cells';
import { type Moving, type PatchLine, type PatchTerm } from './lines';

/** Two lines that overlap, and what they can tell. */
export interface PatchPair {
  a: number;
  b: number;
  cells: number;
  /** Angle between their courses, degrees, 0 to 180. */
  turnDeg: number;
  /** Speed of the faster over that of the slower. */
  speedRatio: number;
  /** Median of the differences of their beam angles where they overlap, degrees: 0 where one runs on the other. */
  apartDeg: number;
  /** Slope of the bed where they overlap, median. */
  slope: number;
  serves: PatchTerm[];
}

const SLOPE = 0.03;
const SPEEDS = 1.3;

/** Pairs with cells in common, those that share most first. */
export function pairsOf(lines: readonly PatchLine[], m: Moving, cells: readonly SharedCell[]): PatchPair[] {
  const found = new Map<string, { a: number; b: number; cells: number; slopes: number[]; apart: number[] }>();
  for (const c of cells) {
    const angle: number[] = [];
    let from = 0;
    for (const end of c.ends) {
      let sum = 0;
      for (let k = from; k < end; k++) sum += m.angleDeg[c.members[k]];
      angle.push(sum / (end - from));
      from = end;
    }
    for (let i = 0; i < c.lines.length; i++)
      for (let j = i + 1; j < c.lines.length; j++) {
        const [a, b] = [Math.min(c.lines[i], c.lines[j]), Math.max(c.lines[i], c.lines[j])];
        const key = `${a} ${b}`;
        const at = found.get(key) ?? { a, b, cells: 0, slopes: [], apart: [] };
        at.cells++;
        at.slopes.push(Math.hypot(c.slopeX, c.slopeY));
        at.apart.push(Math.abs(Math.abs(angle[i]) - Math.abs(angle[j])));
        found.set(key, at);
      }
  }
  return [...found.values()]
    .map(({ a, b, cells: n, slopes, apart }) => {
      const turn = Math.abs(lines[a].courseRad - lines[b].courseRad) % (2 * Math.PI);
      const turnDeg = ((turn > Math.PI ? 2 * Math.PI - turn : turn) * 180) / Math.PI;
      const [slow, fast] = [lines[a].speedMps, lines[b].speedMps].sort((p, q) => p - q);
      apart.sort((p, q) => p - q);
      const pair = {
        a,
        b,
        cells: n,
        turnDeg,
        speedRatio: fast / Math.max(0.01, slow),
        apartDeg: apart[apart.length >> 1],
        slope: median(Float64Array.from(slopes)),
      };
      return { ...pair, serves: servesOf(pair) };
    })
    .sort((p, q) => q.cells - p.cells);
}

/** What a pair is made for, by the rules of the trade. */
function servesOf({ turnDeg, speedRatio, apartDeg, slope }: Omit<PatchPair, 'serves' | 'a' | 'b'>): PatchTerm[] {
  const same = apartDeg < 12;
  const opposite = turnDeg > 150;
  return [
    ...(opposite || (turnDeg > 60 && turnDeg < 120) || !same ? (['roll'] as const) : []),
    ...(same && opposite && slope > SLOPE ? (['pitch'] as const) : []),
    ...(!same && slope > SLOPE ? (['heading'] as const) : []),
    ...(same && speedRatio > SPEEDS && slope > SLOPE ? (['latency'] as const) : []),
  ];
}

/** What lines must be run so that a term can be told. */
export const NEEDED: { readonly [term in PatchTerm]: string } = {
  roll: 'one line both ways, over even ground',
  pitch: 'one line both ways, over a slope or a feature',
  heading: 'two lines beside each other whose outer beams overlap on a slope or a feature',
  latency: 'one line at two speeds over a slope or a feature, or lines in waves',
};
