import {
  CLOTH_DEFAULTS,
  findGround,
  findGroundByCloth,
  findStrays,
  GROUND_DEFAULTS,
  type PointSet,
} from '@longheron/core/cloud';
import { fillNear, gridFromTin, makeTin } from '@longheron/core/surface';
import { FROM, scanScene, type DrawnScene, type SceneKind } from '@longheron/site/scenes';

/** Counts of how ground was told from the rest; strays are not judged. */
export interface GroundCounts {
  land: number;
  other: number;
  missed: number;
  taken: number;
}

/**
 * Cells of a terrain grid: empty ones within the gap limit of ground points; those among ground points, and all that hold
 * a height, the ones carried into what was never seen included, each with how many are near the truth.
 */
export interface GridCounts {
  holes: number;
  among: number;
  amongNear: number;
  filled: number;
  near: number;
}

export interface SceneCounts {
  points: number;
  lone: number;
  loneFound: number;
  good: number;
  goodLost: number;
  triangles: GroundCounts;
  cloth: GroundCounts;
  grid: GridCounts;
}

const CELL_M = 0.5;
const GAP_M = 3;
/** A cell this near to the true land, along its normal, is right, metres. */
const NEAR_M = 0.1;

/** Takes a scene drawn at random through strays, ground by both methods and the terrain grid, beside the truth. */
export function judgeScene(kind: SceneKind, seed: number, size = 1): SceneCounts {
  const scene = scanScene(kind, seed, size);
  const set: PointSet = scene.points;
  const strays = findStrays(set);
  let [lone, loneFound, good, goodLost] = [0, 0, 0, 0];
  scene.from.forEach((from, i) => {
    if (from === FROM.loneStray) {
      lone++;
      loneFound += strays[i];
    } else if (from !== FROM.groupStray) {
      good++;
      goodLost += strays[i];
    }
  });
  const ground = findGround(set, GROUND_DEFAULTS, strays);
  return {
    points: set.count,
    lone,
    loneFound,
    good,
    goodLost,
    triangles: countGround(scene, ground),
    cloth: countGround(scene, findGroundByCloth(set, CLOTH_DEFAULTS, strays)),
    grid: countGrid(scene, ground),
  };
}

function countGround({ from, ground }: DrawnScene, found: Uint8Array): GroundCounts {
  let [land, other, missed, taken] = [0, 0, 0, 0];
  for (let i = 0; i < found.length; i++) {
    if (from[i] === FROM.loneStray || from[i] === FROM.groupStray) continue;
    if (ground[i]) {
      land++;
      missed += 1 - found[i];
    } else {
      other++;
      taken += found[i];
    }
  }
  return { land, other, missed, taken };
}

function countGrid({ points, heightAt, normalAt }: DrawnScene, ground: Uint8Array): GridCounts {
  const rows: number[] = [];
  for (let i = 0; i < ground.length; i++) if (ground[i]) rows.push(i);
  const column = (values: Float64Array) => Float64Array.from(rows, (i) => values[i]);
  const [x, y] = [column(points.x), column(points.y)];
  const tin = makeTin(x, y, column(points.z), GAP_M);
  const grid = gridFromTin(tin, 0, 0, CELL_M);
  const among = grid.heightM.slice();
  fillNear(grid, tin, 0, 0, GAP_M);
  const near = nearAny(x, y);
  const counts: GridCounts = { holes: 0, among: 0, amongNear: 0, filled: 0, near: 0 };
  grid.heightM.forEach((z, c) => {
    const e = grid.westM + ((c % grid.columns) + 0.5) * CELL_M;
    const n = grid.northM - (Math.floor(c / grid.columns) + 0.5) * CELL_M;
    if (Number.isNaN(z)) {
      if (near(e, n)) counts.holes++;
      return;
    }
    const right = Math.abs((z - heightAt(e, n)) * normalAt(e, n)[2]) <= NEAR_M ? 1 : 0;
    counts.filled++;
    counts.near += right;
    if (Number.isNaN(among[c])) return;
    counts.among++;
    counts.amongNear += right;
  });
  return counts;
}

/** Whether any of the points lies within the gap limit of a place: squares of that size, and all points of nine. */
function nearAny(x: Float64Array, y: Float64Array): (e: number, n: number) => boolean {
  const squares = new Map<string, number[]>();
  const at = (e: number, n: number) => [Math.floor(e / GAP_M), Math.floor(n / GAP_M)];
  for (let i = 0; i < x.length; i++) {
    const key = at(x[i], y[i]).join();
    const there = squares.get(key);
    if (there) there.push(i);
    else squares.set(key, [i]);
  }
  return (e, n) => {
    const [u, v] = at(e, n);
    for (let du = -1; du <= 1; du++)
      for (let dv = -1; dv <= 1; dv++)
        for (const i of squares.get(`${u + du},${v + dv}`) ?? [])
          if (Math.hypot(x[i] - e, y[i] - n) <= GAP_M) return true;
    return false;
  };
}
