import { readFile } from 'node:fs/promises';
import { type Contents } from '@longheron/contract/kinds';
import { DEG, LocalFrame } from '@longheron/core/frames';
import { multiply3, transpose3, type Vector3 } from '@longheron/core/numeric';
import { type Camera, type OrientedPicture, type PoseCovariance } from '@longheron/core/photo';
import { openAs } from '@longheron/formats/registry';
import { parseSystem } from '@longheron/formats/crs';
import { readLocalOrientations, readPhotoPositions } from '@longheron/formats/photo-set';
import { type Store } from '../store';
import { axesOf, gridOf, type Axes } from './places';
import { readPoses } from './poses';

/** An adjusted block opened for measuring in its photographs. */
export interface AdjustedPictures {
  pictures: OrientedPicture[];
  /** How their poses hang together, where the block says it. */
  between?: PoseCovariance;
  /** Of the project; undefined in a frame of its own. */
  axes?: Axes;
}

const KEPT = 3;
const kept = new Map<string, Promise<AdjustedPictures>>();

/** Pictures of a block as it was adjusted, with cameras and deviations; those asked for last are kept open. */
export function adjustedPictures(
  store: Store,
  block: Contents['block'],
  crs: string | null,
): Promise<AdjustedPictures> {
  const key = `${block.oriented} ${block.cameras} ${crs ?? ''}`;
  const known = kept.get(key) ?? opened(store, block, crs);
  kept.delete(key);
  kept.set(key, known);
  if (kept.size > KEPT) kept.delete(kept.keys().next().value!);
  known.catch(() => kept.delete(key));
  return known;
}

async function opened(store: Store, block: Contents['block'], crs: string | null): Promise<AdjustedPictures> {
  const cameras = new Map(
    (await openAs('cameras', store.path(block.cameras), 'cameras of the block')).map((c) => [c.name, c]),
  );
  const bytes = await readFile(store.path(block.oriented));
  const found =
    block.figures.frame === 'local' ? localPictures(bytes, cameras) : placedPictures(bytes, cameras, crs ?? block.crs);
  if (!block.poses) return found;
  const poses = readPoses(await readFile(store.path(block.poses)));
  const index = new Map(found.pictures.map((p, k) => [p, k]));
  return { ...found, between: (a, b) => poses(index.get(a) ?? -1, index.get(b) ?? -1) };
}

const NAME = 'orientations of the block';
export type Cameras = ReadonlyMap<string, Camera>;

function localPictures(bytes: Uint8Array, cameras: Cameras): AdjustedPictures {
  return {
    pictures: readLocalOrientations(bytes, NAME).flatMap(({ image, camera, at, rotation, sdM, sdTurnDeg }) => {
      const of = cameras.get(camera);
      return of ? [{ name: image, camera: of, centreM: at, rotation, sdCentreM: sdM, sdTurnRad: sdTurnDeg * DEG }] : [];
    }),
  };
}

/** Pictures of an adjusted block by its files, in the system of a project. */
export function placedPictures(bytes: Uint8Array, cameras: Cameras, crs: string): AdjustedPictures {
  const system = parseSystem(crs);
  const { rows, sdTurnDeg } = readPhotoPositions(bytes, NAME);
  const mean = (pick: (r: (typeof rows)[number]) => number) => rows.reduce((s, r) => s + pick(r), 0) / rows.length;
  const frame = new LocalFrame(
    system.ellipsoid,
    mean((r) => r.latRad),
    mean((r) => r.lonRad),
    mean((r) => r.hEllM),
  );
  const pictures = rows.flatMap((r, k): OrientedPicture[] => {
    const camera = cameras.get(r.camera ?? '');
    if (!camera || !r.rotation) return [];
    const [n, e, d] = r.sdM ?? [0, 0, 0];
    return [
      {
        name: r.image,
        camera,
        centreM: frame.fromGeodetic(r.latRad, r.lonRad, r.hEllM),
        rotation: multiply3(frame.fromNed(r.latRad, r.lonRad), r.rotation),
        // level axes of places of one block differ by less than deviations are known
        sdCentreM: [e, n, d],
        sdTurnRad: (sdTurnDeg[k] || 0) * DEG,
      },
    ];
  });
  return { pictures, axes: axesOf(frame, system) };
}

/** A place of the project, or of the block's own frame, in the axes of the block. */
export function toBlock({ axes }: AdjustedPictures, at: readonly number[]): Vector3 {
  if (!axes) return [at[0], at[1], at[2]];
  const geo = new Float64Array(3);
  axes.system.unproject(at[0], at[1], at[2], geo);
  return axes.frame.fromGeodetic(geo[0], geo[1], geo[2]);
}

/** The other way. */
export const fromBlock = ({ axes }: AdjustedPictures, at: Vector3): Vector3 => (axes ? gridOf(axes, at) : at);

/** Deviations east, north, height as a covariance in the axes of the block, upper half by rows. */
export function covarianceOf({ axes }: AdjustedPictures, sd: readonly number[]): Float64Array {
  const d = Float64Array.of(sd[0] ** 2, 0, 0, 0, sd[1] ** 2, 0, 0, 0, sd[2] ** 2);
  // turned back by the transpose: scale differs from one by too little to matter for a deviation
  const full = axes ? multiply3(multiply3(transpose3(axes.toGrid), d), axes.toGrid) : d;
  return Float64Array.of(full[0], full[1], full[2], full[4], full[5], full[8]);
}
