import { type Random } from '@longheron/core/numeric';
import { type Land, landHeight } from './land';

/** What a beam meets first: distance, or nothing. */
export const NOTHING = Number.POSITIVE_INFINITY;

/** An upright box, turned in plan; with a ridge it is a house, else a slab, wall, vehicle or kerb. */
export interface Box {
  x: number;
  y: number;
  cos: number;
  sin: number;
  /** Half length and half width, metres. */
  halfX: number;
  halfY: number;
  bottomM: number;
  topM: number;
  /** Height of the ridge above the eaves, along x. */
  ridgeM: number;
}

/** A crown that lets part of the light through, on a trunk (a hedge has none). */
export interface Plant {
  x: number;
  y: number;
  middleM: number;
  radiusM: number;
  halfHeightM: number;
  trunkM: number;
  footM: number;
  /** Returns a metre of the way through it. */
  perM: number;
}

/** A wire between two posts; its lowest point hangs `sagM` below the chord. */
export interface Wire {
  from: [number, number, number];
  to: [number, number, number];
  sagM: number;
  spacingM: number;
}

export interface Things {
  boxes: Box[];
  plants: Plant[];
  posts: Array<{ x: number; y: number; radiusM: number; footM: number; topM: number }>;
  wires: Wire[];
}

/** What shall stand on the land. */
export interface ThingCounts {
  houses: number;
  trees: number;
  bushes: number;
  walls: number;
  vehicles: number;
  /** A deck over the middle of the scene. */
  deck: boolean;
  wires: number;
}

/** Sets things on the land at random, `clearM` away from the x axis where a road is kept free. */
export function drawThings(r: Random, land: Land, halfM: [number, number], n: ThingCounts, clearM: number): Things {
  const things: Things = { boxes: [], plants: [], posts: [], wires: [] };
  const place = (far: number): [number, number] => {
    const y = r.between(clearM + far, halfM[1] - far - 1);
    return [
      r.between(-halfM[0] + far, halfM[0] - far),
      clearM > 0 && r.uniform() < 0.5 ? -y : clearM > 0 ? y : r.between(-halfM[1] + far, halfM[1] - far),
    ];
  };
  for (let k = 0; k < n.houses; k++) {
    const [halfX, halfY] = [r.between(3.5, 9), r.between(3, 6)];
    const [x, y] = place(Math.hypot(halfX, halfY));
    const foot = footOf(land, x, y, Math.hypot(halfX, halfY));
    // a house is not built over the edge of a cliff
    if (foot.highest - foot.lowest > 3) continue;
    const top = foot.highest + r.between(2.6, 7);
    const ridgeM = r.uniform() < 0.3 ? 0 : r.between(1, 4);
    things.boxes.push(turned(r.between(0, 3.14), { x, y, halfX, halfY, bottomM: foot.lowest - 1, topM: top, ridgeM }));
  }
  for (let k = 0; k < n.walls; k++) {
    const [x, y] = place(8);
    const foot = footOf(land, x, y, 6);
    if (foot.highest - foot.lowest > 1) continue;
    const size = { halfX: r.between(2, 6), halfY: r.between(0.1, 0.2), ridgeM: 0 };
    things.boxes.push(
      turned(r.between(0, 3.14), { x, y, ...size, bottomM: foot.lowest - 1, topM: foot.highest + r.between(0.8, 2) }),
    );
  }
  for (let k = 0; k < n.vehicles; k++) {
    const x = r.between(-halfM[0], halfM[0]);
    const y =
      clearM > 0 ? (r.uniform() < 0.5 ? -1 : 1) * r.between(clearM * 0.75, clearM) : r.between(-halfM[1], halfM[1]);
    const foot = footOf(land, x, y, 2);
    if (foot.highest - foot.lowest > 1) continue;
    const body = {
      x,
      y,
      halfX: r.between(1.9, 3.5),
      halfY: 0.9,
      bottomM: foot.highest + 0.25,
      topM: foot.highest + r.between(1.4, 2.6),
      ridgeM: 0,
    };
    things.boxes.push(turned(clearM > 0 ? 0 : r.between(0, 3.14), body));
  }
  if (n.deck) {
    const foot = footOf(land, 0, 0, 6);
    const under = foot.highest + r.between(4.5, 6);
    things.boxes.push(
      turned(Math.PI / 2, {
        x: 0,
        y: 0,
        halfX: clearM + 4,
        halfY: r.between(2, 5),
        bottomM: under,
        topM: under + 0.9,
        ridgeM: 0,
      }),
    );
  }
  for (let k = 0; k < n.trees + n.bushes; k++) {
    const bush = k >= n.trees;
    const radiusM = bush ? r.between(0.5, 1.6) : r.between(1.2, 4);
    const [x, y] = place(radiusM);
    const footM = landHeight(land, x, y);
    const halfHeightM = bush ? r.between(0.4, 1) : radiusM * r.between(0.9, 1.6);
    const trunk = bush ? 0 : r.between(1.2, 4);
    things.plants.push({
      x,
      y,
      radiusM,
      halfHeightM,
      footM,
      trunkM: bush ? 0 : r.between(0.08, 0.25),
      middleM: footM + trunk + halfHeightM * (bush ? 0.8 : 1),
      perM: bush ? r.between(1, 3) : r.between(0.25, 0.9),
    });
  }
  for (let k = 0; k < n.wires; k++) drawLine(r, land, halfM, things, clearM + 2 + 5 * k);
  return things;
}

function drawLine(r: Random, land: Land, halfM: [number, number], things: Things, y: number): void {
  const heightM = r.between(6.5, 10);
  const spanM = r.between(30, 45);
  const sagM = r.between(0.4, 1.4);
  let last: [number, number, number] | undefined;
  for (let x = -halfM[0] + 5; x < halfM[0] - 5; x += spanM) {
    const footM = landHeight(land, x, y);
    const top: [number, number, number] = [x, y, footM + heightM];
    things.posts.push({ x, y, radiusM: r.between(0.08, 0.2), footM, topM: footM + heightM + 0.2 });
    if (last) things.wires.push({ from: last, to: top, sagM, spacingM: r.between(0.08, 0.4) });
    last = top;
  }
}

function turned(angle: number, box: Omit<Box, 'cos' | 'sin'>): Box {
  return { ...box, cos: Math.cos(angle), sin: Math.sin(angle) };
}

function footOf(land: Land, x: number, y: number, far: number): { lowest: number; highest: number } {
  let lowest = Infinity;
  let highest = -Infinity;
  for (let i = -2; i <= 2; i++)
    for (let j = -2; j <= 2; j++) {
      const h = landHeight(land, x + (i * far) / 2, y + (j * far) / 2);
      lowest = Math.min(lowest, h);
      highest = Math.max(highest, h);
    }
  return { lowest, highest };
}

/** Distance along a ray to a box, `NOTHING` when it is missed. o: start, d: unit direction. */
export function meetBox(b: Box, o: readonly number[], d: readonly number[]): number {
  const local = (v: readonly number[], shift: boolean): [number, number, number] => {
    const [x, y] = shift ? [v[0] - b.x, v[1] - b.y] : [v[0], v[1]];
    return [x * b.cos + y * b.sin, y * b.cos - x * b.sin, v[2]];
  };
  const [p, u] = [local(o, true), local(d, false)];
  // convex: cut the ray by each face's half space
  let [from, to] = [0, NOTHING];
  const cut = (nx: number, ny: number, nz: number, limit: number): void => {
    const along = nx * u[0] + ny * u[1] + nz * u[2];
    const room = limit - (nx * p[0] + ny * p[1] + nz * p[2]);
    if (along > 1e-12) to = Math.min(to, room / along);
    else if (along < -1e-12) from = Math.max(from, room / along);
    else if (room < 0) to = -1;
  };
  cut(1, 0, 0, b.halfX);
  cut(-1, 0, 0, b.halfX);
  cut(0, 1, 0, b.halfY);
  cut(0, -1, 0, b.halfY);
  cut(0, 0, -1, -b.bottomM);
  if (b.ridgeM > 0) {
    const pitch = b.ridgeM / b.halfY;
    cut(0, pitch, 1, b.topM + b.ridgeM);
    cut(0, -pitch, 1, b.topM + b.ridgeM);
  } else cut(0, 0, 1, b.topM);
  return from < to && from > 0 ? from : NOTHING;
}

/** Distance along a ray to an upright cylinder. */
export function meetPost(
  post: { x: number; y: number; radiusM: number; footM: number; topM: number },
  o: readonly number[],
  d: readonly number[],
): number {
  const [x, y] = [o[0] - post.x, o[1] - post.y];
  const a = d[0] * d[0] + d[1] * d[1];
  const b = x * d[0] + y * d[1];
  const root = b * b - a * (x * x + y * y - post.radiusM ** 2);
  if (root < 0 || a < 1e-12) return NOTHING;
  const t = (-b - Math.sqrt(root)) / a;
  const z = o[2] + t * d[2];
  return t > 0 && z > post.footM && z < post.topM ? t : NOTHING;
}

/** Where a ray goes into a crown and out of it; undefined when it passes by. */
export function throughCrown(p: Plant, o: readonly number[], d: readonly number[]): [number, number] | undefined {
  const s = [1 / p.radiusM, 1 / p.radiusM, 1 / p.halfHeightM];
  const q = [(o[0] - p.x) * s[0], (o[1] - p.y) * s[1], (o[2] - p.middleM) * s[2]];
  const u = [d[0] * s[0], d[1] * s[1], d[2] * s[2]];
  const a = u[0] ** 2 + u[1] ** 2 + u[2] ** 2;
  const b = q[0] * u[0] + q[1] * u[1] + q[2] * u[2];
  const c = q[0] ** 2 + q[1] ** 2 + q[2] ** 2 - 1;
  const root = b * b - a * c;
  if (root <= 0) return undefined;
  const half = Math.sqrt(root);
  const out = (-b + half) / a;
  return out > 0 ? [Math.max(0, (-b - half) / a), out] : undefined;
}
