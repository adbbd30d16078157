import { Random } from '@longheron/core/numeric';
import { BLOCK_PLAN, seenAt, type SeenPoint, type TrueBlock, type TrueLens } from './flown';

/** The chamber, metres: set-ups stand along its middle and look at its walls. */
export const ROOM = { wide: 6, long: 5, high: 3 };
/** The door in the wall that set-ups look at. */
export const DOOR = { left: 2.6, wide: 0.914, high: 2.05 };
/** Half the bar’s thickness, metres. */
export const BAR_THICK_M = 0.02;
const SD_PX = 0.3;

/** Ends of a bar and of a door’s width among the points. */
export interface TrueRoom extends TrueBlock {
  bar: { from: string; to: string; lengthM: number };
  door: { from: string; to: string; lengthM: number };
}

/** Five pictures in a chamber without any position, of points on its walls, a bar and a door. */
export function drawRoom(seed: number, pointCount = 90): TrueRoom {
  const r = new Random(seed, 'room');
  const nominal: TrueLens = { f: 900, cx: 599.5, cy: 399.5, k: [0, 0, 0], p: [0, 0] };
  const lens: TrueLens = {
    f: 900 * (1 + 0.01 * r.normal()),
    cx: 599.5 + 2 * r.normal(),
    cy: 399.5 + 2 * r.normal(),
    k: [0.03 * r.normal(), 0.01 * r.normal(), 0],
    p: [0.0003 * r.normal(), 0.0003 * r.normal()],
  };
  const spots: Array<[number, number, number]> = [
    [0.8, 0.8, 20],
    [5.2, 0.7, -35],
    [5.1, 2.2, -60],
    [0.9, 2.4, 50],
    [3, 0.5, 2],
  ];
  const pictures = spots.map(([x, y, headingDeg], k) => {
    const h = ((headingDeg + 4 * r.normal()) * Math.PI) / 180;
    const tilt = 0.08 * r.normal();
    const roll = 0.05 * r.normal();
    // along the view, and across it, level; then tilted and rolled
    const view = [Math.sin(h) * Math.cos(tilt), Math.cos(h) * Math.cos(tilt), Math.sin(tilt)];
    const right0 = [Math.cos(h), -Math.sin(h), 0];
    const down0 = cross(view, right0);
    const mix = (a: readonly number[], b: readonly number[], p: number, q: number) => a.map((v, i) => p * v + q * b[i]);
    const right = mix(right0, down0, Math.cos(roll), Math.sin(roll));
    const down = mix(down0, right0, Math.cos(roll), -Math.sin(roll));
    return {
      name: `setup_${k + 1}.jpg`,
      lens,
      at: [x + 0.1 * r.normal(), y + 0.1 * r.normal(), 1.5 + 0.1 * r.normal()] as [number, number, number],
      axes: Float64Array.from([0, 1, 2].flatMap((i) => [right[i], down[i], view[i]])),
    };
  });
  const points: TrueBlock['points'] = [];
  const seen: SeenPoint[] = [];
  const put = (name: string, at: [number, number, number]) => {
    const rays: SeenPoint[] = [];
    pictures.forEach((p, image) => {
      const d = at.map((v, k) => v - p.at[k]);
      const [x, y, z] = [0, 1, 2].map((c) => d[0] * p.axes[c] + d[1] * p.axes[3 + c] + d[2] * p.axes[6 + c]);
      const uv = seenAt(p.lens, x, y, z);
      if (!uv) return;
      rays.push({
        image,
        point: points.length,
        u: uv[0] + SD_PX * r.normal(),
        v: uv[1] + SD_PX * r.normal(),
        wrong: false,
      });
    });
    if (rays.length < 2) return;
    points.push({ name, kind: 'tie', at });
    seen.push(...rays);
  };
  const bar = { from: 'bar a', to: 'bar b', lengthM: 2.4 };
  put(bar.from, [1.8, 4.2, 0.9]);
  put(bar.to, [4.2, 4.2, 0.9]);
  const door = { from: 'door a', to: 'door b', lengthM: DOOR.wide };
  put(door.from, [DOOR.left, ROOM.long, 1.4]);
  put(door.to, [DOOR.left + door.lengthM, ROOM.long, 1.4]);
  for (let k = 0; k < pointCount; k++) {
    const wall = r.uniform();
    const high = r.between(0.1, ROOM.high - 0.1);
    if (wall < 0.5) put(`t${k}`, [r.between(0.2, ROOM.wide - 0.2), ROOM.long, high]);
    else if (wall < 0.7) put(`t${k}`, [ROOM.wide, r.between(1, ROOM.long), high]);
    else if (wall < 0.9) put(`t${k}`, [0, r.between(1, ROOM.long), high]);
    else put(`t${k}`, [r.between(1, 5), r.between(3, 4.6), r.between(0, 1)]);
  }
  const none = points.map(() => undefined);
  return {
    widthPx: 1200,
    heightPx: 800,
    nominal,
    pictures,
    points,
    seen,
    places: pictures.map(() => [Number.NaN, Number.NaN, Number.NaN]),
    startAxes: pictures.map(() => new Float64Array(9).fill(Number.NaN)),
    given: none,
    bar,
    door,
  };
}

/** What its picks are good to. */
export const ROOM_PLAN = { ...BLOCK_PLAN, sdPx: SD_PX };

const cross = (a: readonly number[], b: readonly number[]) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
