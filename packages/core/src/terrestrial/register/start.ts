import { apply3, multiply3, transpose3, type Vector3 } from '../../numeric/matrix3';
import { type Pose, type RegisterRequest, type SeenTarget } from './model';

/** A pose of a levelled scanner: place, and the bearing of its y axis. */
export interface LevelPose {
  atM: Vector3;
  bearingRad: number;
}

/** Targets agree within this, metres. */
const AGREES_M = 0.1;
const LEAST_APART_M = 0.5;

/** Where a levelled scan puts what it saw. */
export function levelled({ atM, bearingRad }: LevelPose, [x, y, z]: Vector3): Vector3 {
  const [sin, cos] = [Math.sin(bearingRad), Math.cos(bearingRad)];
  return [atM[0] + cos * x + sin * y, atM[1] - sin * x + cos * y, atM[2] + z];
}

/**
 * Poses near enough to begin with: of levelled scanners two common targets tell a pose. The scan of which most targets
 * agree comes first; without anything known the first one keeps its own frame. What targets do not reach begins as its
 * station says, or as given poses put it beside those that were reached, or, where surfaces may tell, in the frame of all.
 * @returns poses by scan; scans that nothing reaches are not among them.
 */
export function startPoses(request: RegisterRequest): Map<string, Pose> {
  const { scans, seen, control, stations, surfaces, starts, fixed } = request;
  const loose = !control.length && !stations.length && !fixed;
  const poses = new Map<string, LevelPose>();
  const places = new Map(control.map((c) => [c.name, c.atM]));
  const of = new Map(scans.map((s) => [s, seen.filter((t) => t.scan === s)]));
  const place = (scan: string, pose: LevelPose) => {
    poses.set(scan, pose);
    for (const t of of.get(scan)!) if (!places.has(t.target)) places.set(t.target, levelled(pose, t.atM));
  };
  const out = new Map<string, Pose>();
  if (loose && scans.length) {
    if (starts?.has(scans[0]) && !seen.length) for (const s of scans) if (starts.has(s)) out.set(s, starts.get(s)!);
    if (!out.size) place(scans[0], { atM: [0, 0, 0], bearingRad: 0 });
  }
  while (!out.size) {
    let best: { scan: string; pose: LevelPose; agreeing: number } | undefined;
    for (const scan of scans) {
      if (poses.has(scan)) continue;
      const station = stations.find((s) => s.name === scan);
      const found = poseOf(of.get(scan)!, places, station?.atM);
      if (found && (!best || found.agreeing > best.agreeing)) best = { scan, ...found };
    }
    if (best) {
      place(best.scan, best.pose);
      continue;
    }
    // what targets do not place stands where it is said to
    const said = stations.find((s) => s.bearingRad !== undefined && of.has(s.name) && !poses.has(s.name));
    if (!said) break;
    place(said.name, { atM: said.atM, bearingRad: said.bearingRad! });
  }
  for (const [name, pose] of poses) out.set(name, upright(pose));
  if (!surfaces) return out;
  const known = scans.find((s) => out.has(s) && starts?.has(s));
  for (const s of scans) {
    if (out.has(s)) continue;
    const given = starts?.get(s);
    if (given && fixed) out.set(s, given);
    else if (given && known) out.set(s, beside(out.get(known)!, starts!.get(known)!, given));
    else if (loose) out.set(s, given ?? upright({ atM: [0, 0, 0], bearingRad: 0 }));
  }
  return out;
}

function upright({ atM, bearingRad }: LevelPose): Pose {
  const [sin, cos] = [Math.sin(bearingRad), Math.cos(bearingRad)];
  return { atM: [...atM], rotation: Float64Array.of(cos, sin, 0, -sin, cos, 0, 0, 0, 1) };
}

/** A pose that lies to `found` as `given` lies to `start`. */
function beside(found: Pose, start: Pose, given: Pose): Pose {
  const turn = multiply3(found.rotation, transpose3(start.rotation));
  const shift = apply3(
    turn,
    [0, 1, 2].map((k) => given.atM[k] - start.atM[k]),
  );
  return {
    atM: [0, 1, 2].map((k) => found.atM[k] + shift[k]) as Vector3,
    rotation: multiply3(turn, given.rotation),
  };
}

/** From the pair of targets that most others agree with; with the scanner's place known one is enough. */
function poseOf(
  seen: readonly SeenTarget[],
  places: ReadonlyMap<string, Vector3>,
  station: Vector3 | undefined,
): { pose: LevelPose; agreeing: number } | undefined {
  const common = seen.flatMap((s) => {
    const at = places.get(s.target);
    return at ? [{ seen: s.atM, at }] : [];
  });
  if (station) common.unshift({ seen: [0, 0, 0], at: station });
  let best: { pose: LevelPose; agreeing: number; off: number } | undefined;
  for (const a of common)
    for (const b of common) {
      if (a === b) continue;
      const [dx, dy] = [b.seen[0] - a.seen[0], b.seen[1] - a.seen[1]];
      const [de, dn] = [b.at[0] - a.at[0], b.at[1] - a.at[1]];
      if (Math.hypot(dx, dy) < LEAST_APART_M || Math.hypot(de, dn) < LEAST_APART_M) continue;
      const bearingRad = Math.atan2(de, dn) - Math.atan2(dx, dy);
      const at0 = levelled({ atM: [0, 0, 0], bearingRad }, a.seen);
      const pose = { atM: a.at.map((v, k) => v - at0[k]) as Vector3, bearingRad };
      let [agreeing, off] = [0, 0];
      for (const c of common) {
        const at = levelled(pose, c.seen);
        const d = Math.hypot(at[0] - c.at[0], at[1] - c.at[1], at[2] - c.at[2]);
        if (d < AGREES_M) agreeing++;
        off += Math.min(d, AGREES_M);
      }
      if (!best || agreeing > best.agreeing || (agreeing === best.agreeing && off < best.off))
        best = { pose, agreeing, off };
    }
  return best;
}
