import { type Profile } from '@longheron/contract/kinds/adjustment';
import { type ReferenceSystem } from '@longheron/core/frames';
import { Placer, type Adjustment, type HeadReturns, type PlacedPoints } from '@longheron/core/laser';
import { tick, type Watch } from '@longheron/core/shared';
import { type StripPlan, type Trajectory } from '@longheron/core/trajectory';

/** Of two strips, and of two heads in one. */
const MOST_OF_STRIPS = 40;
const MOST_OF_HEADS = 20;
const MOST_OF_A_PAIR = 4;
/** Patches that a place needs, and its size in cells. */
const FEWEST_PATCHES = 8;
const TILE_CELLS = 8;
const HALF_LENGTH_CELLS = 6;
const HALF_WIDTH_CELLS = 0.5;
/** Points kept of one piece in one slice. */
const MOST_POINTS = 500;
const STEP = 1 << 13;

interface Place {
  key: string;
  eastingM: number;
  northingM: number;
  first: number;
  second: number;
  squares: number;
  count: number;
}

function placesOf(a: Adjustment, which: 'before' | 'after', tileM: number): Map<string, Place> {
  const d = a[which].differences;
  const out = new Map<string, Place>();
  for (let i = 0; i < d.count; i++) {
    const key = `${d.first[i]} ${d.second[i]} ${Math.floor(d.eastingM[i] / tileM)} ${Math.floor(d.northingM[i] / tileM)}`;
    let p = out.get(key);
    if (!p) {
      p = { key, eastingM: 0, northingM: 0, first: d.first[i], second: d.second[i], squares: 0, count: 0 };
      out.set(key, p);
    }
    p.eastingM += d.eastingM[i];
    p.northingM += d.northingM[i];
    p.squares += d.differenceM[i] ** 2;
    p.count++;
  }
  return out;
}

/** Overlaps, worst first, with the points of both strips before and after. Reads all returns twice. */
export function profilesOf(
  a: Adjustment,
  trajectory: Trajectory,
  system: ReferenceSystem,
  heads: readonly HeadReturns[],
  plan: StripPlan,
  watch?: Watch,
): Profile[] {
  const tileM = TILE_CELLS * a.cellM;
  const after = placesOf(a, 'after', tileM);
  const ofPair = new Map<string, number>();
  const worst = [...placesOf(a, 'before', tileM).values()]
    .filter((p) => p.count >= FEWEST_PATCHES)
    .sort((p, q) => q.squares / q.count - p.squares / p.count)
    .filter((p) => {
      const pair = `${p.first} ${p.second}`;
      ofPair.set(pair, (ofPair.get(pair) ?? 0) + 1);
      return ofPair.get(pair)! <= MOST_OF_A_PAIR;
    });
  const oneLine = (p: Place) => a.pieces[p.first].line === a.pieces[p.second].line;
  const [ofHeads, ofStrips] = [worst.filter(oneLine), worst.filter((p) => !oneLine(p))];
  const kept = new Set([...ofStrips.slice(0, MOST_OF_STRIPS), ...ofHeads.slice(0, MOST_OF_HEADS)]);
  const profiles = worst
    .filter((p) => kept.has(p))
    .map((p): Profile => {
      const now = after.get(p.key);
      return {
        first: p.first,
        second: p.second,
        eastingM: p.eastingM / p.count,
        northingM: p.northingM / p.count,
        bearingRad: (plan.strips[a.pieces[p.first].line - 1].headingRad + Math.PI / 2) % Math.PI,
        beforeRmsM: Math.sqrt(p.squares / p.count),
        afterRmsM: now ? Math.sqrt(now.squares / now.count) : null,
        before: { first: [], second: [] },
        after: { first: [], second: [] },
      };
    });
  const mountings = heads.map((h) => h.mounting);
  fill(profiles, 'before', a, trajectory, system, heads, mountings, plan, watch);
  fill(profiles, 'after', a, a.trajectory, system, heads, a.mountings, plan, watch);
  return profiles;
}

function fill(
  profiles: Profile[],
  which: 'before' | 'after',
  a: Adjustment,
  trajectory: Trajectory,
  system: ReferenceSystem,
  heads: readonly HeadReturns[],
  mountings: ReadonlyArray<HeadReturns['mounting']>,
  plan: StripPlan,
  watch?: Watch,
): void {
  const half = HALF_LENGTH_CELLS * a.cellM;
  const width = HALF_WIDTH_CELLS * a.cellM;
  // by squares as large as a slice, each with those that reach into it
  const near = new Map<string, Profile[]>();
  const square = (v: number) => Math.floor(v / (2 * half));
  for (const p of profiles)
    for (const c of new Set([square(p.eastingM - half), square(p.eastingM + half)]))
      for (const r of new Set([square(p.northingM - half), square(p.northingM + half)])) {
        const list = near.get(`${c} ${r}`);
        if (list) list.push(p);
        else near.set(`${c} ${r}`, [p]);
      }
  const millimetres = (v: number) => Math.round(1000 * v) / 1000;
  heads.forEach((head, h) => {
    const placer = new Placer(trajectory, system, mountings[h], head.noise);
    let placed: PlacedPoints | undefined;
    let at = '';
    let list: Profile[] | undefined;
    for (const returns of head.blocks())
      for (let from = 0; from < returns.sow.length; from += STEP) {
        tick(watch, which === 'before' ? 0 : 0.5, 'Cutting profiles');
        const to = Math.min(from + STEP, returns.sow.length);
        placed = placer.place(returns, from, to, placed);
        const { eastingM, northingM, heightM, interval } = placed;
        for (let i = 0; i < to - from; i++) {
          const line = interval[i] >= 0 ? plan.idOfInterval[interval[i]] : 0;
          if (line === 0) continue;
          const key = `${square(eastingM[i])} ${square(northingM[i])}`;
          if (key !== at) list = near.get((at = key));
          if (!list) continue;
          const piece = (line - 1) * heads.length + h;
          for (const p of list) {
            if (p.first !== piece && p.second !== piece) continue;
            const dx = eastingM[i] - p.eastingM;
            const dy = northingM[i] - p.northingM;
            const [s, c] = [Math.sin(p.bearingRad), Math.cos(p.bearingRad)];
            const along = dx * s + dy * c;
            if (Math.abs(along) > half || Math.abs(dx * c - dy * s) > width) continue;
            const points = p[which][p.first === piece ? 'first' : 'second'];
            if (points.length < 2 * MOST_POINTS) points.push(millimetres(along), millimetres(heightM[i]));
          }
        }
      }
  });
}
