import { type LocalFrame, type ReferenceSystem } from '@longheron/core/frames';
import { type Mark } from '@longheron/core/accuracy';
import { type Block, type BlockCamera, type BlockPoint } from '@longheron/core/photo';
import { Problem } from '@longheron/core/shared';
import { type KnownDistance } from '@longheron/formats/distances';
import { imageKey, type Pick } from '@longheron/formats/picks';
import { type Given, type Pictures } from './images';

/** A block as it is adjusted, with what its axes are. */
export interface Assembled {
  block: Block;
  /** Undefined in a frame of its own. */
  frame: LocalFrame | undefined;
  /** Marks by the index of their point. */
  markOf: Map<number, Mark>;
}

/** Deviations of marks that state none, 1 SD, metres. */
const UNSTATED_MARK_M = 0.02;
/** Share of the size by which a pick may lie beside the frame, and of picks that may lie further. */
const BESIDE = 0.02;
const MANY_BESIDE = 0.03;

/** Puts picks and ties, marks and distances to their pictures. @throws Problem that says what does not fit. */
export function assemble(
  given: Given,
  ties: readonly Pick[],
  { images, cameras, index, frame }: Pictures,
  system: ReferenceSystem | undefined,
): Assembled {
  const { files } = given;
  mustLieInside(given.picks, (p) => cameras[images[index.get(imageKey(p.image))!].camera], files);
  const picks = [...given.picks, ...ties];
  const marks = new Map(given.marks.map((m) => [m.name, m]));
  const pointAt = new Map<string, number>();
  const points: BlockPoint[] = [];
  const markOf = new Map<number, Mark>();
  for (const p of picks) {
    if (pointAt.has(p.point)) continue;
    const mark = marks.get(p.point);
    pointAt.set(p.point, points.length);
    if (mark) markOf.set(points.length, mark);
    points.push(pointOf(p.point, mark, frame, system));
  }
  return {
    frame,
    markOf,
    block: {
      cameras,
      images,
      points,
      rays: {
        count: picks.length,
        image: Int32Array.from(picks, (p) => index.get(imageKey(p.image))!),
        point: Int32Array.from(picks, (p) => pointAt.get(p.point)!),
        uPx: Float64Array.from(picks, (p) => p.xPx),
        vPx: Float64Array.from(picks, (p) => p.yPx),
        sdPx: Float64Array.from(picks, (p) => p.sdPx ?? given.pickSdPx),
        group: Uint8Array.from(picks, (_, k) => (k < given.picks.length ? 0 : 1)),
      },
      distances: lengths(given.distances, pointAt, files.distances).map(({ d, from, to }) => ({
        from,
        to,
        valueM: d.valueM,
        sdM: d.sdM,
        use: d.use,
      })),
    },
  };
}

/** Many picks beside the frame are of a picture of another size, or have x and y exchanged; a few are slips like others. */
function mustLieInside(
  picks: readonly Pick[],
  of: (p: Pick) => BlockCamera,
  { picks: file, cameras }: Given['files'],
): void {
  const far = picks.filter((p) => {
    const { widthPx, heightPx } = of(p).camera;
    const margin = BESIDE * Math.max(widthPx, heightPx);
    return p.xPx < -margin || p.yPx < -margin || p.xPx > widthPx + margin || p.yPx > heightPx + margin;
  });
  if (far.length <= MANY_BESIDE * picks.length) return;
  const [first] = far;
  const { widthPx, heightPx } = of(first).camera;
  throw new Problem(
    `${far.length} of ${picks.length} picks lie beside their photograph: ${first.point} in ${first.image} at ${first.xPx}, ${first.yPx}, where the camera has ${widthPx} × ${heightPx} pixels.`,
    {
      code: 'block-outside',
      file,
      place: `${first.image}, ${first.point}`,
      remedy: `Pick in photographs as the camera wrote them, or give their size in ${cameras}.`,
    },
  );
}

function pointOf(
  name: string,
  mark: Mark | undefined,
  frame: LocalFrame | undefined,
  system: ReferenceSystem | undefined,
): BlockPoint {
  if (!mark || mark.role === 'unused' || mark.leftOutReason || !frame || !system) return { name, kind: 'tie' };
  const geo = new Float64Array(3);
  system.unproject(mark.eastingM, mark.northingM, mark.heightM, geo);
  return {
    name,
    kind: mark.role,
    givenM: frame.fromGeodetic(geo[0], geo[1], geo[2]),
    sdM: [mark.sdEM ?? UNSTATED_MARK_M, mark.sdNM ?? UNSTATED_MARK_M, mark.sdHM ?? UNSTATED_MARK_M],
  };
}

function lengths(list: readonly KnownDistance[], pointAt: ReadonlyMap<string, number>, file: string) {
  return list.map((d, k) => {
    const [from, to] = [pointAt.get(d.from), pointAt.get(d.to)];
    if (from !== undefined && to !== undefined) return { d, from, to };
    throw new Problem(
      `The distance from ${d.from} to ${d.to}: ${from === undefined ? d.from : d.to} is picked nowhere.`,
      {
        code: 'block-distance',
        file,
        place: `distance ${k + 1}`,
        remedy: 'Pick both ends in at least two photographs, or take the distance out.',
      },
    );
  });
}
