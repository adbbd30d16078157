import { SCENE_KINDS, type SceneKind } from '@longheron/site/scenes';
import { judgeScene, type GroundCounts, type SceneCounts } from './scenes';

type Line = (what: string, value: string, target: string, met: boolean) => void;

/** Scenes of each kind. */
const SCENES = 5;
/** Share of wrong points, and of others taken for ground, at most. */
const GROUND: Record<SceneKind, [total: number, typeII: number]> = {
  road: [0.01, 0.025],
  flight: [0.01, 0.025],
  south: [0.01, 0.025],
  steep: [0.05, 0.06],
};

/** Draws scenes of each kind from a seed, takes them through the whole and judges all of a kind together. */
export function drawnScenes(line: Line, seed = Math.floor(Math.random() * 1e6)): void {
  console.log(`Drawn scenes, ${SCENES} of each kind, seed ${seed} …`);
  for (const kind of SCENE_KINDS) {
    const all = Array.from({ length: SCENES }, (_, k) => judgeScene(kind, seed + k));
    const points = sum(all, (s) => s.points);
    console.log(`      ${kind}: ${SCENES} scenes, ${points} points`);
    const found = sum(all, (s) => s.loneFound) / sum(all, (s) => s.lone);
    line(`${kind}: lone strays found`, percent(found), 'at least 98 %', found >= 0.98);
    const lost = sum(all, (s) => s.goodLost) / sum(all, (s) => s.good);
    line(`${kind}: good points taken for strays`, percent(lost, 4), 'at most 0.05 %', lost <= 0.0005);
    for (const method of ['triangles', 'cloth'] as const) {
      const of = (pick: (g: GroundCounts) => number) => sum(all, (s) => pick(s[method]));
      const total = of((g) => g.missed + g.taken) / of((g) => g.land + g.other);
      const typeII = of((g) => g.taken) / of((g) => g.other);
      const [most, maxII] = GROUND[kind];
      line(
        `${kind}: ground by ${method}, total error and type II`,
        `${percent(total)}, ${percent(typeII)}`,
        `at most ${100 * most} %, ${100 * maxII} %`,
        total <= most && typeII <= maxII,
      );
    }
    const holes = sum(all, (s) => s.grid.holes);
    line(`${kind}: empty cells within 3 m of ground points`, String(holes), 'none', holes === 0);
    const among = sum(all, (s) => s.grid.amongNear) / sum(all, (s) => s.grid.among);
    line(`${kind}: cells among ground points within 10 cm of the land`, percent(among), 'at least 95 %', among >= 0.95);
    // behind banks and houses a vehicle sees nothing: what is filled there is a guess, and told as such
    const near = sum(all, (s) => s.grid.near) / sum(all, (s) => s.grid.filled);
    console.log(`      with those filled across gaps and beyond the outermost points, not judged: ${percent(near)}`);
  }
}

const sum = (all: SceneCounts[], pick: (s: SceneCounts) => number) => all.reduce((t, s) => t + pick(s), 0);
const percent = (share: number, digits = 2) => `${(100 * share).toFixed(digits)} %`;
