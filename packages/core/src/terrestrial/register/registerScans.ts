import { type Vector3 } from '../../numeric/matrix3';
import { Problem } from '../../shared/problem';
import { part, tick, type Watch } from '../../shared/progress';
import { type LeftOut, type Pose, type Registered, type RegisterRequest, type Unplaced } from './model';
import { judge, resultOf } from './result';
import { placed, rowsOf, workOf, type Work } from './rows';
import { solve, step } from './solve';
import { startPoses } from './start';
import { converge, type SurfaceTies } from './surfaces';

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
  const most = Math.max(1, Math.floor(MOST_OUT * (request.seen.length + request.control.length)));
  let begun: ReadonlyMap<string, Pose> = start;
  let found: SurfaceTies | undefined;
  const rejected: LeftOut[] = [];
  if (surfaces) {
    // what targets contradict would hold scans apart before surfaces can tell
    const first = used.seen.length ? withoutErrors(used, begun, held, undefined, most) : undefined;
    if (first) {
      rejected.push(...first.rejected);
      ({ used, begun } = first);
    }
    const work = workOf(used, begun, held);
    const all = [...used.scans.map((s) => surfaces.get(s)!), ...(fixed ? [fixed.patches] : [])];
    found = converge(all, work.poses, (add) => step(work, rowsOf(work), add)?.moved ?? 0, part(watch, 0, 0.9));
    begun = posesOf(work);
  }
  tick(watch, surfaces ? 0.9 : 0, 'Adjusting poses');
  const last = withoutErrors(used, begun, held, found, most - rejected.length);
  if (!last) throw loose(request.scans);
  rejected.push(...last.rejected);
  return {
    ...last.result,
    unplaced: [...last.result.unplaced, ...apart.map((name): Unplaced => ({ name, why: 'apart' }))],
    rejected: rejected.map((r) => ({ ...r, ...offOf(request, last.result, r) })),
  };
}

const posesOf = ({ request, poses }: Work) => new Map(request.scans.map((s, i) => [s, poses[i]]));

interface WithoutErrors {
  used: RegisterRequest;
  begun: ReadonlyMap<string, Pose>;
  rejected: LeftOut[];
  result: Omit<Registered, 'rejected'>;
}

/**
 * Adjusts, and again without the worst of what the others contradict, until nothing is contradicted.
 * @param most that may be left out. @returns undefined where the equations leave something open.
 */
function withoutErrors(
  request: RegisterRequest,
  start: ReadonlyMap<string, Pose>,
  held: number | undefined,
  surfaces: SurfaceTies | undefined,
  most: number,
): WithoutErrors | undefined {
  let [used, begun] = [request, start];
  const rejected: LeftOut[] = [];
  for (;;) {
    const work: Work = { ...workOf(used, begun, held), ...(surfaces ? { surfaces } : {}) };
    const solved = solve(work);
    if (!solved) return undefined;
    const judged = judge(work, solved.rows, solved.inverse, solved.n);
    const [worst] = judged.tests.filter((t) => t.test > REJECT).sort((a, b) => b.test - a.test);
    // with surfaces poses go on from where they are: begun anew they would have to find each other again
    if (surfaces) begun = posesOf(work);
    if (!worst || rejected.length >= most)
      return { used, begun: posesOf(work), rejected, result: resultOf(work, judged, solved.inverse, solved.n) };
    rejected.push(worst);
    used = {
      ...used,
      seen: used.seen.filter((s) => worst.what !== 'sighting' || s.scan !== worst.scan || s.target !== worst.target),
      control: used.control.filter((c) => worst.what !== 'control' || c.name !== worst.target),
      stations: used.stations.filter((s) => worst.what !== 'station' || s.name !== worst.scan),
    };
  }
}

const loose = (scans: readonly string[]) =>
  new Problem('The targets do not tell where the scans lie.', {
    code: 'register-loose',
    place: scans.join(', '),
    remedy: 'It takes two known targets, or a station with its bearing, and two common targets from scan to scan.',
  });

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
