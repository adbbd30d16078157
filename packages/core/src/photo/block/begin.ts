import { placePoints } from './meet';
import { dropLonely } from './reject';
import { type Solver } from './solve';

/** Rays by which a picture is brought near its place. */
const ENOUGH_RAYS = 60;

/** Brings a block of many rays near its place by a part of its points, those of most rays, some in every picture. */
export function byFew(solver: Solver, tick: () => void): void {
  const { block, alive } = solver;
  const { rays, images, points } = block;
  if (rays.count < 2 * ENOUGH_RAYS * images.length) return;
  const own: number[][] = points.map(() => []);
  for (let r = 0; r < rays.count; r++) if (alive[r]) own[rays.point[r]].push(r);
  const all = alive.slice();
  const count = new Int32Array(images.length);
  alive.fill(0);
  for (const list of own.sort((a, b) => b.length - a.length)) {
    if (list.length < 3 || !list.some((r) => count[rays.image[r]] < ENOUGH_RAYS)) continue;
    for (const r of list) {
      alive[r] = 1;
      count[rays.image[r]]++;
    }
  }
  solver.again();
  solver.improve(30, true, 'roughly', tick);
  alive.set(all);
  // the others follow their pictures
  solver.state.points.fill(Number.NaN);
  placePoints(block, solver.images, solver.state, (r) => alive[r] === 1);
  solver.again();
}

/** Rays that were behind their cameras with start values count again where they are ahead now. @returns whether any changed. */
export function revive(solver: Solver): boolean {
  const { block, alive } = solver;
  const before = alive.slice();
  placePoints(block, solver.images, solver.state);
  solver.relinearise();
  for (let r = 0; r < block.rays.count; r++) alive[r] = solver.linear.ahead[r];
  dropLonely(
    solver,
    block.points.map((p) => p.kind === 'control' && p.givenM !== undefined),
  );
  const changed = alive.some((v, r) => v !== before[r]);
  if (changed) solver.again();
  return changed;
}
