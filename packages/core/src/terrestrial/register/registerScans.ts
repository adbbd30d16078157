import { type Vector3 } from '../../numeric/matrix3';
import { Problem } from '../../shared/problem';
import { part, tick, type Watch } from '../../shared/progress';
import { type LeftOut, type Registered, type RegisterRequest, type Unplaced } from './model';
import { judge, resultOf } from './result';
import { placed, rowsOf, workOf } from './rows';
import { solve, step } from './solve';
import { startPoses } from './start';
import { converge } from './surfaces';

/** A sighting is left out beyond so many deviations of its residual: with hundreds of them what is good stays. */
const REJECT = 4.2;
const MOST_OUT = 0.3;
/** Stations nearer to each other than this are one place. */
const SAME_PLACE_M = 0.1;

/**
 * Places scans by the targets and surfaces that they share, known marks, stations and their levels in one adjustment
 * (Horn 1987 for what a pose is; least squares of all residuals in the scanners' frames; surfaces as
 * {@link converge} says). Sightings that contradict are left out, worst first. A pose that is not sure is not claimed.
 * @throws Problem for scans that nothing joins to the others, where no surfaces may join them.
 */
export function registerScans(request: RegisterRequest, watch?: Watch): Registered {
  const start = startPoses(request);
  const apart = request.scans.filter((s) => !start.has(s));
  const { surfaces } = request;
  if (apart.length && (!surfaces || apart.length === request.scans.length))
    throw new Problem(`Nothing joins ${apart.join(', ')} to the other scans: it takes two common targets.`, {
      code: 'register-apart',
      place: apart.join(', '),
      remedy: 'Pick more targets in them, or give station and bearing.',
    });
  let used: RegisterRequest = {
    ...request,
    scans: request.scans.filter((s) => start.has(s)),
    seen: request.seen.filter((s) => start.has(s.scan)),
    stations: request.stations.filter((s) => start.has(s.name)),
  };
  const { fixed } = request;
  const grounded = fixed !== undefined || request.control.length > 0 || request.stations.some((s) => !s.rough);
  const first = used.scans.findIndex((s) => request.stations.some((o) => o.name === s));
  const held = grounded ? undefined : Math.max(0, first);
  let work = workOf(used, start, held);
  const poses = work.poses;
  const found =
    surfaces &&
    converge(
      [...used.scans.map((s) => surfaces.get(s)!), ...(fixed ? [fixed.patches] : [])],
      poses,
      (add) => step(work, rowsOf(work), add).moved,
      part(watch, 0, 0.9),
    );
  const rejected: LeftOut[] = [];
  const most = Math.max(1, Math.floor(MOST_OUT * (request.seen.length + request.control.length)));
  for (;;) {
    tick(watch, 0.9 + (0.1 * rejected.length) / most, 'Adjusting poses');
    const begun = new Map(used.scans.map((s, i) => [s, work.poses[i]]));
    work = { ...workOf(used, found ? begun : start, held), ...(found ? { surfaces: found } : {}) };
    const { rows, inverse, n } = solve(work);
    const judged = judge(work, rows, inverse, n);
    const [worst] = judged.tests.filter((t) => t.test > REJECT).sort((a, b) => b.test - a.test);
    if (!worst || rejected.length >= most) {
      const result = resultOf(work, judged, inverse, n);
      return {
        ...result,
        unplaced: [...result.unplaced, ...apart.map((name): Unplaced => ({ name, why: 'apart' }))],
        rejected: rejected.map((r) => ({ ...r, ...offOf(request, result, r) })),
      };
    }
    rejected.push(worst);
    used = {
      ...used,
      seen: used.seen.filter((s) => worst.what !== 'sighting' || s.scan !== worst.scan || s.target !== worst.target),
      control: used.control.filter((c) => worst.what !== 'control' || c.name !== worst.target),
      stations: used.stations.filter((s) => worst.what !== 'station' || s.name !== worst.scan),
    };
  }
}

/** How far off what was left out is by all that was kept; NaN where nothing kept tells. */
function offOf(
  request: RegisterRequest,
  { scans, targets }: Omit<Registered, 'rejected'>,
  r: LeftOut,
): Pick<LeftOut, 'offM' | 'standsAt'> {
  const apart = (a: Vector3, b: Vector3) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
  if (r.what === 'station') {
    const given = request.stations.find((s) => s.name === r.scan)!;
    const near = scans.find((s) => s.name !== r.scan && apart(s.atM, given.atM) < SAME_PLACE_M);
    return {
      offM: apart(given.atM, scans.find((s) => s.name === r.scan)!.atM),
      ...(near ? { standsAt: near.name } : {}),
    };
  }
  const found = targets.find((t) => t.name === r.target);
  if (!found) return { offM: Number.NaN };
  const given =
    r.what === 'control'
      ? request.control.find((c) => c.name === r.target)!.atM
      : placed(
          scans.find((s) => s.name === r.scan)!,
          request.seen.find((s) => s.scan === r.scan && s.target === r.target)!.atM,
        );
  return { offM: apart(given, found.atM) };
}
