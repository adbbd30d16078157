import { directionOf } from '../camera';
import { type Block, type BlockState } from './model';

const ROUNDS = 6;
/** Rays nearer to a point than this, radians, are as good as each other. */
const NEAR_RAD = 3e-4;
/** Rays that differ by less in direction tell no distance. */
const LEAST_ANGLE_RAD = 0.002;

/** Directions of all rays in the axes of their cameras, unit length. */
export function directionsOf({ rays }: Block, images: { camera: Int32Array }, state: BlockState): Float64Array {
  const out = new Float64Array(3 * rays.count);
  for (let r = 0; r < rays.count; r++) {
    const camera = state.cameras[images.camera[rays.image[r]]];
    out.set(directionOf(camera, rays.uPx[r], rays.vPx[r]), 3 * r);
  }
  return out;
}

/** Where rays in the axes of the block meet best: least squares of angles, ones that miss count less. */
export function meet(
  centres: ArrayLike<number>,
  directions: ArrayLike<number>,
  count: number,
): { x: number; y: number; z: number; angleRad: number } | undefined {
  let least = 1;
  for (let i = 1; i < count; i++)
    for (let k = 0; k < i; k++) {
      const dot =
        directions[3 * i] * directions[3 * k] +
        directions[3 * i + 1] * directions[3 * k + 1] +
        directions[3 * i + 2] * directions[3 * k + 2];
      if (dot < least) least = dot;
    }
  const angle = Math.acos(Math.max(-1, least));
  if (angle < LEAST_ANGLE_RAD) return undefined;
  const weight = new Float64Array(count).fill(1);
  let at: [number, number, number] = [0, 0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    let [xx, xy, xz, yy, yz, zz, bx, by, bz] = [0, 0, 0, 0, 0, 0, 0, 0, 0];
    for (let i = 0; i < count; i++) {
      const [dx, dy, dz] = [directions[3 * i], directions[3 * i + 1], directions[3 * i + 2]];
      const [cx, cy, cz] = [centres[3 * i], centres[3 * i + 1], centres[3 * i + 2]];
      const w = weight[i];
      const along = dx * cx + dy * cy + dz * cz;
      xx += w * (1 - dx * dx);
      xy -= w * dx * dy;
      xz -= w * dx * dz;
      yy += w * (1 - dy * dy);
      yz -= w * dy * dz;
      zz += w * (1 - dz * dz);
      bx += w * (cx - along * dx);
      by += w * (cy - along * dy);
      bz += w * (cz - along * dz);
    }
    const a = yy * zz - yz * yz;
    const b = xz * yz - xy * zz;
    const c = xy * yz - xz * yy;
    const det = xx * a + xy * b + xz * c;
    if (!(det > 0)) return undefined;
    at = [
      (a * bx + b * by + c * bz) / det,
      (b * bx + (xx * zz - xz * xz) * by + (xy * xz - xx * yz) * bz) / det,
      (c * bx + (xy * xz - xx * yz) * by + (xx * yy - xy * xy) * bz) / det,
    ];
    for (let i = 0; i < count; i++) {
      const x = at[0] - centres[3 * i];
      const y = at[1] - centres[3 * i + 1];
      const z = at[2] - centres[3 * i + 2];
      const length = Math.sqrt(x * x + y * y + z * z);
      const along = x * directions[3 * i] + y * directions[3 * i + 1] + z * directions[3 * i + 2];
      const off = along > 0 ? Math.sqrt(Math.max(0, length * length - along * along)) / length : 2;
      // by angles: farther cameras count less; and few that miss do not bend the many that meet
      weight[i] = 1 / (length * length * Math.max(NEAR_RAD, count > 2 ? off : 0));
    }
  }
  return { x: at[0], y: at[1], z: at[2], angleRad: angle };
}

/** Places points that are not known yet where their rays meet; surveyed ones that two rays do not tell stay where they are given. */
export function placePoints(
  block: Block,
  images: { camera: Int32Array },
  state: BlockState,
  counts: (ray: number) => boolean = () => true,
): void {
  const { rays } = block;
  const unknown = block.points.map((_, p) => state.points[3 * p] !== state.points[3 * p]);
  const list: number[][] = unknown.map(() => []);
  for (let r = 0; r < rays.count; r++) if (unknown[rays.point[r]] && counts(r)) list[rays.point[r]].push(r);
  const centres: number[] = [];
  const turned: number[] = [];
  list.forEach((own, p) => {
    if (!unknown[p]) return;
    centres.length = turned.length = 0;
    for (const r of own) {
      const i = rays.image[r];
      const [x, y, z] = directionOf(state.cameras[images.camera[i]], rays.uPx[r], rays.vPx[r]);
      for (let k = 0; k < 3; k++) {
        const row = 9 * i + 3 * k;
        centres.push(state.centres[3 * i + k]);
        turned.push(state.rotations[row] * x + state.rotations[row + 1] * y + state.rotations[row + 2] * z);
      }
    }
    const found = own.length >= 2 ? meet(centres, turned, own.length) : undefined;
    const given = block.points[p].kind === 'control' ? block.points[p].givenM : undefined;
    if (found) state.points.set([found.x, found.y, found.z], 3 * p);
    else if (given) state.points.set(given, 3 * p);
  });
}
