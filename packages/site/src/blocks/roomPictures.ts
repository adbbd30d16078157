import { Random } from '@longheron/core/numeric';
import { lattice, raysOf, type TrueCamera } from '../pictures';
import { BAR_THICK_M, DOOR, ROOM, type TrueRoom } from './room';

/** Half the edge of a target of four quarters on a wall, and radius of a disc on what stands in the room, metres. */
const TARGET_M = 0.06;
const DISC_M = 0.035;
/** Colours of walls, floor, ceiling, door, bar. */
const COLOURS = {
  side: [168, 160, 148],
  end: [176, 170, 160],
  floor: [112, 108, 104],
  ceiling: [196, 194, 190],
  door: [104, 74, 52],
  bar: [214, 198, 60],
} as const;

/** Targets of one picture as flat numbers: on each wall across and up; in the room from the camera, x, y, z. */
interface Targets {
  walls: readonly Float64Array[];
  inside: Float64Array;
}

/** The hand camera of the chamber as it truly is. */
export const roomCamera = ({ pictures, widthPx, heightPx }: TrueRoom): TrueCamera => {
  const { f, cx, cy, k, p } = pictures[0].lens;
  return {
    name: 'hand camera',
    serial: 'H-204',
    widthPx,
    heightPx,
    focalPx: f,
    cxPx: cx,
    cyPx: cy,
    k1: k[0],
    k2: k[1],
    p1: p[0],
    p2: p[1],
    engravedMm: 9,
  };
};

/** What a set-up of the chamber saw, three bytes a pixel: walls with painted targets, the bar, the door. */
export function drawRoomPicture(room: TrueRoom, index: number): Uint8Array {
  const { axes, at: from, name } = room.pictures[index];
  const rays = raysOf(roomCamera(room));
  const random = new Random(77, name);
  const all = room.points.map(({ at }) => ({ at, wall: wallOf(at) }));
  const targets: Targets = {
    walls: [0, 1, 2].map((w) =>
      Float64Array.from(all.filter((t) => t.wall === w).flatMap(({ at }) => [w < 2 ? at[1] : at[0], at[2]])),
    ),
    inside: Float64Array.from(all.filter((t) => t.wall < 0).flatMap(({ at }) => at.map((v, k) => v - from[k]))),
  };
  const bar = room.points.filter((p) => p.name === room.bar.from || p.name === room.bar.to).map((p) => p.at);
  const out = new Uint8Array((3 * rays.length) / 2);
  const way = new Float64Array(3);
  const seen = { tone: COLOURS.side as readonly number[], light: 1 };
  for (let p = 0; p < rays.length; p += 2) {
    for (let i = 0; i < 3; i++) way[i] = axes[3 * i] * rays[p] + axes[3 * i + 1] * rays[p + 1] + axes[3 * i + 2];
    look(from, way, targets, bar, seen);
    const light = seen.light * (1 + 0.03 * (random.uniform() - 0.5));
    for (let k = 0; k < 3; k++) out[1.5 * p + k] = Math.max(0, Math.min(255, seen.tone[k] * light));
  }
  return out;
}

const WHITE = [236, 236, 234];
const BLACK = [16, 16, 18];
const FAR = [ROOM.wide, ROOM.long, ROOM.high];

/** What stands first before a ray: a disc, the bar, or one of the planes of the room with its targets. */
function look(
  from: readonly number[],
  way: Float64Array,
  { walls, inside }: Targets,
  [a, b]: ReadonlyArray<readonly number[]>,
  out: { tone: readonly number[]; light: number },
): void {
  let s = Infinity;
  let plane = 0;
  for (let k = 0; k < 3; k++) {
    const to = ((way[k] > 0 ? FAR[k] : 0) - from[k]) / way[k];
    if (to < s) {
      s = to;
      plane = 2 * k + (way[k] > 0 ? 1 : 0);
    }
  }
  out.light = 1;
  const square = way[0] * way[0] + way[1] * way[1] + way[2] * way[2];
  for (let i = 0; i < inside.length; i += 3) {
    // a disc that faces the camera: its centre is the point itself
    const [x, y, z] = [inside[i], inside[i + 1], inside[i + 2]];
    const along = x * way[0] + y * way[1] + z * way[2];
    const off2 = x * x + y * y + z * z - (along * along) / square;
    if (along > 0 && along < s * square && off2 < DISC_M * DISC_M) {
      out.tone = off2 < DISC_M * DISC_M * 0.25 ? BLACK : WHITE;
      return;
    }
  }
  // the bar's front, behind its discs
  const t = (a[1] + BAR_THICK_M - from[1]) / way[1];
  if (t > 0 && t < s) {
    const x = from[0] + t * way[0];
    if (x > a[0] - 0.06 && x < b[0] + 0.06 && Math.abs(from[2] + t * way[2] - a[2]) < BAR_THICK_M) {
      out.tone = COLOURS.bar;
      return;
    }
  }
  const [x, y, z] = [from[0] + s * way[0], from[1] + s * way[1], from[2] + s * way[2]];
  const wall = plane < 2 ? plane : plane === 3 ? 2 : -1;
  const u = plane < 2 ? y : x;
  const v = plane < 4 ? z : y;
  if (wall >= 0) {
    const own = walls[wall];
    for (let i = 0; i < own.length; i += 2) {
      const [du, dv] = [u - own[i], v - own[i + 1]];
      if (du < TARGET_M && du > -TARGET_M && dv < TARGET_M && dv > -TARGET_M) {
        out.tone = du >= 0 === dv >= 0 ? WHITE : BLACK;
        return;
      }
    }
  }
  out.light = 1 + 0.1 * grainOf(u, v, 0.5) + 0.08 * grainOf(u, v, 0.07);
  const door = wall === 2 && u > DOOR.left && u < DOOR.left + DOOR.wide && v < DOOR.high;
  const end = plane === 4 ? COLOURS.floor : plane === 5 ? COLOURS.ceiling : plane < 2 ? COLOURS.side : COLOURS.end;
  out.tone = door ? COLOURS.door : end;
}

const wallOf = ([x, y, z]: readonly [number, number, number]): number =>
  z <= 0 || z >= ROOM.high ? -1 : x === 0 ? 0 : x === ROOM.wide ? 1 : y === ROOM.long ? 2 : -1;

/** Soft grain of plaster, -1 to 1. */
function grainOf(u: number, v: number, waveM: number): number {
  const [x, y] = [u / waveM, v / waveM];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [a, b] = [x - i, y - j];
  const at = (p: number, q: number) => 2 * lattice(p, q) - 1;
  return (1 - b) * ((1 - a) * at(i, j) + a * at(i + 1, j)) + b * ((1 - a) * at(i, j + 1) + a * at(i + 1, j + 1));
}
