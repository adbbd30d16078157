import { type InPhotographsDto, type RayDto, type ShownDto } from '@longheron/contract/api';
import { type Contents } from '@longheron/contract/kinds';
import { DEG } from '@longheron/core/frames';
import { type Vector3 } from '@longheron/core/numeric';
import { epipolarIn, predictIn, type OrientedPicture } from '@longheron/core/photo';
import { question } from '../../computation/question';
import {
  adjustedPictures,
  covarianceOf,
  fromBlock,
  metBy,
  raysOf,
  toBlock,
  type AdjustedPictures,
} from '../../shared/photographs';
import { cloudOf, pointsAlong, pointsNear, type EditableCloud, type EditedCloud } from '../../shared/stored';

interface Asked {
  block: Contents['block'];
  /** System of the project, as text. */
  crs: string | null;
  rays: RayDto[];
  /** A place from elsewhere, and 1 SD, metres. */
  at?: number[];
  sd?: number[];
  /** The cloud that the place is of: what of it stands before the place is told. */
  cloud?: EditedCloud;
}

/** Around a place its own points say how far apart they stand, metres. */
const AROUND_M = 1;
/** Within so much of a line of sight a point stands in it, metres; and so much of its beginning is the place's own surface. */
const IN_WAY_M: readonly [number, number] = [0.03, 0.5];
const OWN_M = 0.3;
/** Fewer points than this are strays. */
const LEAST_HIDING = 2;

/** Along a single ray, from what share to how many times of the distance at which its neighbours meet. */
const DEPTHS: readonly [number, number] = [0.6, 1.6];
/** Where nothing says how far things lie, metres. */
const ANY_M: readonly [number, number] = [0.5, 1000];
/** Deviations of a place that states none, metres. */
const UNSTATED_M = 0.02;

/** What an adjusted block knows of a point: where its rays meet, and where its photographs show it. */
export default question<Asked, InPhotographsDto>(async (asked, store) => {
  const block = await adjustedPictures(store, asked.block, asked.crs);
  const rays = raysOf(block, asked.rays);
  const found = metBy(block, rays);
  const place: Vector3 | undefined = found?.of.at ?? (asked.at && toBlock(block, asked.at));
  const given = covarianceOf(block, asked.sd ?? [UNSTATED_M, UNSTATED_M, UNSTATED_M]);
  const lone = !place && rays.length === 1 ? rays[0] : undefined;
  const depths = lone && depthsOf(block, lone.picture);
  const shown = place ? shownAll(block, place, found?.of.covM2 ?? given) : [];
  const hidden =
    asked.cloud && asked.at && block.axes
      ? await hiddenFrom(await cloudOf(store, asked.cloud), asked.at, block, new Set(shown.map((s) => s.image)))
      : undefined;
  return {
    content: {
      met: found?.met ?? null,
      from: found ? 'rays' : place ? 'given' : null,
      expected: asked.at ? shownAll(block, toBlock(block, asked.at), given) : [],
      shown: hidden ? shown.map((s) => ({ ...s, hidden: hidden.has(s.image) })) : shown,
      lines: lone
        ? block.pictures
            .filter((p) => p !== lone.picture)
            .map((p) => ({ image: p.name, along: epipolarIn(lone.picture, lone.uPx, lone.vPx, p, depths!) }))
            .filter((l) => l.along.length > 2)
        : [],
    },
  };
});

const shownAll = ({ pictures }: AdjustedPictures, at: Vector3, cov: Float64Array) =>
  pictures.flatMap((p) => shownIn(p, at, cov));

function shownIn(picture: OrientedPicture, at: Vector3, cov: Float64Array): ShownDto[] {
  const p = predictIn(picture, at, cov);
  if (!p) return [];
  return [
    {
      image: picture.name,
      xPx: p.uPx,
      yPx: p.vPx,
      inside: p.inside,
      majorPx: p.ellipse.majorPx,
      minorPx: p.ellipse.minorPx,
      angleDeg: p.ellipse.angleRad / DEG,
      distanceM: Math.hypot(...at.map((v, k) => v - picture.centreM[k])),
    },
  ];
}

/** Pictures before which points of the cloud hide a place. @param at easting, northing, height. */
async function hiddenFrom(
  cloud: EditableCloud,
  at: readonly number[],
  block: AdjustedPictures,
  wanted: ReadonlySet<string>,
): Promise<Set<string>> {
  const about = (p: readonly number[]) => [0, 1, 2].map((k) => p[k] - cloud.origin[k]) as Vector3;
  const from = about(at);
  const near = await pointsNear(cloud, from, AROUND_M, false);
  const spacingM = AROUND_M * Math.sqrt(Math.PI / Math.max(1, near.length));
  const radiusM = Math.min(IN_WAY_M[1], Math.max(IN_WAY_M[0], spacingM));
  const pictures = block.pictures.filter((p) => wanted.has(p.name));
  const sights = pictures.map((p) => ({ from, to: about(fromBlock(block, p.centreM)) }));
  const counts = await pointsAlong(cloud, sights, radiusM, Math.max(OWN_M, 4 * radiusM));
  return new Set(pictures.filter((_, k) => counts[k] >= LEAST_HIDING).map((p) => p.name));
}

/** How far things may lie before a picture: by where the views of its neighbours cross its own. */
function depthsOf({ pictures }: AdjustedPictures, from: OrientedPicture): [number, number] {
  const way = (p: OrientedPicture) => [p.rotation[2], p.rotation[5], p.rotation[8]];
  const [a, found] = [way(from), [] as number[]];
  for (const p of pictures) {
    const d = p.centreM.map((v, k) => v - from.centreM[k]);
    const b = way(p);
    const cos = a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    const [da, db] = [d[0] * a[0] + d[1] * a[1] + d[2] * a[2], d[0] * b[0] + d[1] * b[1] + d[2] * b[2]];
    const depth = (da - cos * db) / (1 - cos * cos);
    if (1 - cos * cos > 0.02 && depth > 0) found.push(depth);
  }
  if (found.length < 3) return aboveGround(pictures, from) ?? [ANY_M[0], ANY_M[1]];
  found.sort((x, y) => x - y);
  return [0.2 * found[Math.floor(0.1 * found.length)], 3 * found[Math.floor(0.9 * (found.length - 1))]];
}

/** Of views that all look one way: by how far apart they were taken, a share of which is their distance to the ground. */
function aboveGround(pictures: readonly OrientedPicture[], from: OrientedPicture): [number, number] | undefined {
  const near = pictures
    .map((p) => Math.hypot(...p.centreM.map((v, k) => v - from.centreM[k])))
    .filter((d) => d > 0)
    .sort((x, y) => x - y);
  if (!near.length) return undefined;
  const { camera } = from;
  // neighbours that overlap are no further apart than their pictures are wide
  const widest = (near[Math.min(3, near.length - 1)] * camera.focalPx) / Math.min(camera.widthPx, camera.heightPx);
  return [DEPTHS[0] * widest, 6 * DEPTHS[1] * widest];
}
