import { type Vector3 } from '../../../numeric/matrix3';
import { type KnownPlace, type SeenTarget } from '../model';
import { levelled, type LevelPose } from '../start';
import { type FoundTarget } from './found';

/** Distances between the same two targets differ by no more, metres; and targets lie no farther apart once scans do. */
const SAME_LENGTH_M = 0.012;
const SAME_PLACE_M = 0.03;
/** Targets nearer together than this tell no bearing. */
const LEAST_APART_M = 1;
/** Targets that two scans must have in common. */
const LEAST_COMMON = 3;

interface Joined {
  /** Of the second scan in the frame of the first. */
  pose: LevelPose;
  pairs: Array<readonly [number, number]>;
  rms: number;
}

/**
 * Which of the places that one levelled scan shows are which of another's: the pose that most of them agree with, by two and
 * two of one distance and height difference. @returns undefined where fewer than three agree, or two poses do as well.
 */
export function sameTargets(a: readonly Vector3[], b: readonly Vector3[]): Joined | undefined {
  let best: Joined | undefined;
  let rival = 0;
  const flat = (p: Vector3, q: Vector3) => Math.hypot(q[0] - p[0], q[1] - p[1]);
  for (let i = 0; i < a.length; i++)
    for (let j = i + 1; j < a.length; j++) {
      const length = flat(a[i], a[j]);
      if (length < LEAST_APART_M) continue;
      for (let k = 0; k < b.length; k++)
        for (let l = 0; l < b.length; l++) {
          if (k === l || Math.abs(flat(b[k], b[l]) - length) > SAME_LENGTH_M) continue;
          if (Math.abs(a[j][2] - a[i][2] - (b[l][2] - b[k][2])) > SAME_LENGTH_M) continue;
          const found = agreeing(a, b, i, j, k, l);
          if (same(found, best)) continue;
          if (!best || found.pairs.length > best.pairs.length) {
            rival = best?.pairs.length ?? 0;
            best = found;
          } else rival = Math.max(rival, found.pairs.length);
        }
    }
  return best && best.pairs.length >= LEAST_COMMON && best.pairs.length > rival ? best : undefined;
}

const same = (a: Joined, b: Joined | undefined) =>
  b !== undefined && a.pairs.every(([i, k]) => b.pairs.some(([m, n]) => m === i && n === k));

/** All that agree with the pose by which i and j of one scan are k and l of the other. */
function agreeing(a: readonly Vector3[], b: readonly Vector3[], i: number, j: number, k: number, l: number): Joined {
  const bearingRad =
    Math.atan2(a[j][0] - a[i][0], a[j][1] - a[i][1]) - Math.atan2(b[l][0] - b[k][0], b[l][1] - b[k][1]);
  const turned = levelled({ atM: [0, 0, 0], bearingRad }, b[k]);
  const pose = { atM: [0, 1, 2].map((m) => a[i][m] - turned[m]) as Vector3, bearingRad };
  const pairs: Array<readonly [number, number]> = [];
  let squares = 0;
  b.forEach((p, n) => {
    const at = levelled(pose, p);
    const off = a.map((q) => Math.hypot(q[0] - at[0], q[1] - at[1], q[2] - at[2]));
    const m = off.indexOf(Math.min(...off));
    if (off[m] > SAME_PLACE_M) return;
    pairs.push([m, n]);
    squares += off[m] ** 2;
  });
  return { pose, pairs, rms: Math.sqrt(squares / pairs.length) };
}

/** A target of a scan, by the number of the scan and its own. */
type Member = readonly [scan: number, target: number];

/**
 * Gives one name to what several levelled scans show of one target, and to what a known place is. Known places are held
 * against all that joined scans show together.
 * @param found by scan. @param known places in any level frame. @returns targets that two scans, or a scan and a list, share.
 */
export function nameTargets(
  found: ReadonlyMap<string, readonly FoundTarget[]>,
  known: readonly KnownPlace[],
): SeenTarget[] {
  const lists = [...found].map(([scan, targets]) => ({ scan, at: targets.map((t) => t.atM) }));
  const joins = lists.flatMap((a, i) =>
    lists.slice(i + 1).flatMap((b, k) => {
      const joined = sameTargets(a.at, b.at);
      return joined ? [{ i, j: i + 1 + k, ...joined }] : [];
    }),
  );
  // from the surest pair of scans on; one that would make one target of two of a scan is wrong
  joins.sort((p, q) => q.pairs.length - p.pairs.length || p.rms - q.rms);
  const sets = new Map<string, Member[]>();
  lists.forEach((l, i) => l.at.forEach((_, n) => sets.set(`${i} ${n}`, [[i, n]])));
  const poses = lists.map((): LevelPose => ({ atM: [0, 0, 0], bearingRad: 0 }));
  const group = lists.map((_, i) => i);
  for (const { i, j, pairs, pose } of joins) {
    const both = pairs.map(([m, n]) => [sets.get(`${i} ${m}`)!, sets.get(`${j} ${n}`)!] as const);
    const clash = both.some(([s, t]) => {
      const scans = s === t ? [] : [...s, ...t].map(([scan]) => scan);
      return new Set(scans).size < scans.length;
    });
    if (clash) continue;
    for (const [s, t] of both) {
      if (s === t) continue;
      s.push(...t);
      for (const [scan, n] of t) sets.set(`${scan} ${n}`, s);
    }
    if (group[i] === group[j]) continue;
    // the group of the second into the frame of that of the first
    const inGroup = after(poses[i], pose);
    const back = inverse(poses[j]);
    const moved = group[j];
    for (let k = 0; k < lists.length; k++)
      if (group[k] === moved) {
        poses[k] = after(after(inGroup, back), poses[k]);
        group[k] = group[i];
      }
  }
  const names = knownNames(lists, sets, poses, group, known);
  const out: SeenTarget[] = [];
  let count = 0;
  for (const set of new Set(sets.values())) {
    const mark = names.get(set);
    if (set.length < 2 && !mark) continue;
    const target = mark ?? `${found.get(lists[set[0][0]].scan)![set[0][1]].kind} ${++count}`;
    for (const [list, n] of set) {
      const { scan } = lists[list];
      const s = found.get(scan)![n];
      out.push({ scan, target, atM: s.atM, sdM: s.sdM, kind: s.kind });
    }
  }
  return out.sort((a, b) => a.scan.localeCompare(b.scan) || a.target.localeCompare(b.target));
}

/** Which targets of a group of joined scans are which known places. */
function knownNames(
  lists: ReadonlyArray<{ at: Vector3[] }>,
  sets: ReadonlyMap<string, Member[]>,
  poses: readonly LevelPose[],
  group: readonly number[],
  known: readonly KnownPlace[],
): Map<Member[], string> {
  const out = new Map<Member[], string>();
  for (const g of new Set(group)) {
    const own = [...new Set(sets.values())].filter(([[scan]]) => group[scan] === g);
    const at = own.map(([[scan, n]]) => levelled(poses[scan], lists[scan].at[n]));
    const joined = sameTargets(
      at,
      known.map((k) => k.atM),
    );
    for (const [m, n] of joined?.pairs ?? []) out.set(own[m], known[n].name);
  }
  return out;
}

/** One pose after another: what the second places in its frame, in the frame of the first. */
const after = (a: LevelPose, b: LevelPose): LevelPose => ({
  atM: levelled(a, b.atM),
  bearingRad: a.bearingRad + b.bearingRad,
});

function inverse({ atM, bearingRad }: LevelPose): LevelPose {
  const back = levelled({ atM: [0, 0, 0], bearingRad: -bearingRad }, atM);
  return { atM: [-back[0], -back[1], -back[2]], bearingRad: -bearingRad };
}
