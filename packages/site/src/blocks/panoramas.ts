import { Random } from '@longheron/core/numeric';
import { attitude } from '../platform';
import { ROOM, DOOR, type TrueRoom } from './room';

/** Columns of a panorama of the chamber; rows are half as many. */
const WIDE_PX = 4096;
/** 1 SD of a pick along the sphere, pixels. */
const SD_PX = 0.6;

/** Full panoramas in a chamber, and where points are in them. */
export type TruePanoramas = Pick<TrueRoom, 'pictures' | 'points' | 'seen' | 'bar' | 'door'> & {
  widthPx: number;
  heightPx: number;
  sdPx: number;
};

/** Column and row of a direction, by the angles of a globe: 0 in the middle, eastwards and southwards. */
function globe(x: number, y: number, z: number): [number, number] {
  const far = Math.hypot(x, y, z);
  const south = Math.asin(y / far);
  const level = Math.hypot(x, z);
  const east = x >= 0 ? Math.acos(z / level) : -Math.acos(z / level);
  return [(WIDE_PX * (east + Math.PI)) / (2 * Math.PI) - 0.5, (WIDE_PX * (south + Math.PI / 2)) / (2 * Math.PI) - 0.5];
}

/** Four panoramas of points on all six sides of the chamber, upright but for a degree or two, turned anyhow. */
export function drawPanoramas(seed: number, pointCount = 60): TruePanoramas {
  const r = new Random(seed, 'panoramas');
  const spots = [
    [1, 1],
    [4.8, 1.2],
    [4.6, 3.4],
    [1.4, 3.2],
  ];
  const pictures = spots.map(([e, n], k) => {
    const [tilt, roll, heading] = [0.02 * r.normal(), 0.02 * r.normal(), r.between(-Math.PI, Math.PI)];
    const ned = attitude(tilt, roll, heading);
    // picture right is the body's right, down its down, the view ahead; north, east, down to x, y, up of the chamber
    const axes = new Float64Array(9);
    for (let row = 0; row < 3; row++) {
      const [from, sign] = [row === 0 ? 1 : row === 1 ? 0 : 2, row === 2 ? -1 : 1];
      [1, 2, 0].forEach((c, at) => (axes[3 * row + at] = sign * ned[3 * from + c]));
    }
    return {
      name: `round_${k + 1}.jpg`,
      lens: {
        f: WIDE_PX / (2 * Math.PI),
        cx: 0,
        cy: 0,
        k: [0, 0, 0],
        p: [0, 0],
      } as TrueRoom['pictures'][number]['lens'],
      at: [e + 0.1 * r.normal(), n + 0.1 * r.normal(), 1.6 + 0.05 * r.normal()] as [number, number, number],
      axes,
    };
  });
  const points: TruePanoramas['points'] = [];
  const seen: TruePanoramas['seen'] = [];
  const put = (name: string, at: [number, number, number]) => {
    pictures.forEach((p, image) => {
      const d = at.map((v, k) => v - p.at[k]);
      const [x, y, z] = [0, 1, 2].map((c) => d[0] * p.axes[c] + d[1] * p.axes[3 + c] + d[2] * p.axes[6 + c]);
      const [u, v] = globe(x, y, z);
      const shortened = Math.hypot(x, z) / Math.hypot(x, y, z);
      const off = u + (SD_PX * r.normal()) / shortened;
      const across = ((off + 0.5 + WIDE_PX) % WIDE_PX) - 0.5;
      seen.push({ image, point: points.length, u: across, v: v + SD_PX * r.normal(), wrong: false });
    });
    points.push({ name, kind: 'tie', at });
  };
  const bar = { from: 'bar a', to: 'bar b', lengthM: 2.4 };
  put(bar.from, [1.8, 4.2, 0.9]);
  put(bar.to, [4.2, 4.2, 0.9]);
  const door = { from: 'door a', to: 'door b', lengthM: DOOR.wide };
  put(door.from, [DOOR.left, ROOM.long, 1.4]);
  put(door.to, [DOOR.left + door.lengthM, ROOM.long, 1.4]);
  const size = [ROOM.wide, ROOM.long, ROOM.high];
  for (let k = 0; k < pointCount; k++) {
    const at = size.map((m) => r.between(0.1, m - 0.1)) as [number, number, number];
    const side = k % 6;
    at[side >> 1] = side & 1 ? size[side >> 1] : 0;
    put(`t${k}`, at);
  }
  return { widthPx: WIDE_PX, heightPx: WIDE_PX / 2, sdPx: SD_PX, pictures, points, seen, bar, door };
}
