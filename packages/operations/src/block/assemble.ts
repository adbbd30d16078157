import { LocalFrame, sensorToBody, type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { type Mark } from '@longheron/core/accuracy';
import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '@longheron/core/numeric';
import { type Block, type BlockCamera, type BlockImage, type BlockPoint } from '@longheron/core/photo';
import { Problem, type Notice } from '@longheron/core/shared';
import { type KnownDistance } from '@longheron/formats/distances';
import { type ListedCamera } from '@longheron/formats/cameras';
import { type PhotoPosition, type PhotoPositions } from '@longheron/formats/photo-set';
import { imageKey, type Pick } from '@longheron/formats/picks';
import { cameraAxesOf, cameraSensorOf } from '../shared/photographs';

/** What is read for a block, with the names of its files. */
export interface Given {
  picks: Pick[];
  cameras: ListedCamera[];
  positions?: PhotoPositions;
  mounting?: Mounting;
  marks: Mark[];
  distances: KnownDistance[];
  files: { picks: string; cameras: string; positions: string; marks: string; distances: string };
  pickSdPx: number;
  /** Whether the photographs of each camera share a shift of their positions. */
  shift: boolean;
}

/** A block as it is adjusted, with what its axes are. */
export interface Assembled {
  block: Block;
  /** Undefined in a frame of its own. */
  frame: LocalFrame | undefined;
  /** Marks by the index of their point. */
  markOf: Map<number, Mark>;
  distances: Array<KnownDistance & { index: number }>;
}

/** Deviations of places and marks that state none, 1 SD, metres. */
const UNSTATED_PLACE_M: Vector3 = [0.05, 0.05, 0.1];
const UNSTATED_MARK_M = 0.02;
/** Control marks that place a block by themselves. */
const FEWEST_CONTROL = 3;
/** Share of the size by which a pick may lie beside the frame, and of picks that may lie further. */
const BESIDE = 0.02;
const MANY_BESIDE = 0.03;
/** Terms said to be known exactly are held by so little. */
const EXACT = 1e-9;

/** Puts picks, positions, marks and distances together. @throws Problem that says what does not fit. */
export function assemble(given: Given, system: ReferenceSystem | undefined, notice: (n: Notice) => void): Assembled {
  const { picks, positions, files } = given;
  const names = new Map<string, string>();
  for (const p of picks) if (!names.has(imageKey(p.image))) names.set(imageKey(p.image), p.image);
  const bare = (key: string) => key.replace(/\.(jpe?g|tiff?|png)$/, '');
  const rowOf = new Map((positions?.rows ?? []).map((r) => [bare(imageKey(r.image)), r]));
  const rows = new Map<string, PhotoPosition>();
  for (const key of names.keys()) {
    const row = rowOf.get(bare(key));
    if (row) rows.set(key, row);
  }
  if (positions && !rows.size)
    throw new Problem('None of the positions is of a photograph that has picks.', {
      code: 'block-names',
      file: files.positions,
      place: 'column label',
      remedy: 'Choose the positions of these photographs; they are known by their file names.',
    });
  const without = positions ? [...names.keys()].filter((k) => !rows.has(k)).map((k) => names.get(k)!) : [];
  if (without.length)
    notice({
      code: 'block-no-place',
      severity: 'info',
      file: files.positions,
      text: `${without.length} of ${names.size} photographs have no position: ${some(without)}.`,
      effect: 'They are oriented by their ties alone.',
    });
  const picked = new Set(picks.map((p) => p.point));
  const control = given.marks.filter((m) => m.role === 'control' && !m.leftOutReason && picked.has(m.name));
  const frame = system && frameOf([...rows.values()], control, system);
  const cameras = given.cameras.map(cameraOf);
  const index = new Map([...names.keys()].map((key, k) => [key, k]));
  const images = [...names].map(([key, name]): BlockImage => {
    const row = rows.get(key);
    const camera = whichCamera(name, row, given);
    const at = placed(row, given.cameras[camera], given, frame);
    const session = given.shift ? { session: camera } : {};
    return { name, camera, ...at, ...(at.given ? { given: { ...at.given, ...session } } : {}) };
  });
  if (given.shift && control.length < FEWEST_CONTROL)
    throw new Problem(
      `A shift of the positions needs ${FEWEST_CONTROL} control marks that are picked; there are ${control.length}.`,
      {
        code: 'block-shift',
        file: files.marks,
        place: 'column role',
        remedy: 'Pick more control, or take the positions as they are.',
      },
    );
  unstated(rows, positions, files.positions, notice);
  mustLieInside(picks, (p) => cameras[images[index.get(imageKey(p.image))!].camera], files);
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
      },
      distances: lengths(given.distances, pointAt, files.distances).map(({ d, from, to }) => ({
        from,
        to,
        valueM: d.valueM,
        sdM: d.sdM,
        use: d.use,
      })),
    },
    distances: given.distances.map((d, k) => ({ ...d, index: k })),
  };
}

const some = (list: readonly string[]) =>
  list.slice(0, 5).join(', ') + (list.length > 5 ? ` and ${list.length - 5} more` : '');

/** Level at the middle of the positions, else of control that is picked; undefined where there is neither. */
function frameOf(
  rows: readonly PhotoPosition[],
  control: readonly Mark[],
  system: ReferenceSystem,
): LocalFrame | undefined {
  const geo = new Float64Array(3);
  const places = rows.length
    ? rows.map((r) => [r.latRad, r.lonRad, r.hEllM])
    : control.map((m) => {
        system.unproject(m.eastingM, m.northingM, m.heightM, geo);
        return [...geo];
      });
  if (!rows.length && control.length < FEWEST_CONTROL) return undefined;
  const mean = (k: number) => places.reduce((s, p) => s + p[k], 0) / places.length;
  return new LocalFrame(system.ellipsoid, mean(0), mean(1), mean(2));
}

function cameraOf(c: ListedCamera): BlockCamera {
  const { name, sd, widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } = c;
  const known = Object.fromEntries(Object.entries(sd).map(([term, v]) => [term, Math.max(v, EXACT)])) as typeof sd;
  return { name, sd: known, camera: { widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } };
}

function whichCamera(image: string, row: PhotoPosition | undefined, { cameras, files }: Given): number {
  if (cameras.length === 1) return 0;
  const key = imageKey(image);
  const named = cameras.findIndex((c) => c.name === row?.camera);
  const listed = cameras.findIndex((c) => c.images?.some((i) => imageKey(i) === key));
  const found = named >= 0 ? named : listed;
  if (found >= 0) return found;
  throw new Problem(`Which of the ${cameras.length} cameras took ${image} is not said.`, {
    code: 'block-camera',
    file: files.cameras,
    place: 'images',
    remedy: 'Name each camera’s photographs under "images", or the camera in a column of the positions.',
  });
}

/** Where a picture is, in the axes of the block: by its position and attitude, or not known yet. */
function placed(
  row: PhotoPosition | undefined,
  camera: ListedCamera,
  { positions, mounting, files }: Given,
  frame: LocalFrame | undefined,
): Placed {
  if (!row || !frame) return { centreM: [Number.NaN, Number.NaN, Number.NaN], rotation: unknown() };
  const at = frame.fromGeodetic(row.latRad, row.lonRad, row.hEllM);
  const sdM = row.sdM ? ([row.sdM[1], row.sdM[0], row.sdM[2]] as Vector3) : UNSTATED_PLACE_M;
  const toFrame = frame.fromNed(row.latRad, row.lonRad);
  if (positions!.oriented) return { centreM: at, rotation: turned(toFrame, row.rotation), given: { placeM: at, sdM } };
  const point = positions!.point;
  const sensors = mounting?.sensors ?? {};
  const atCamera = !mounting || (point !== undefined && sensors[point] !== undefined);
  const sensor = atCamera
    ? point
      ? sensors[point]
      : undefined
    : cameraSensorOf(camera.name, mounting!, files.positions, point);
  if (atCamera) {
    const axes = sensor && cameraAxesOf(sensor);
    const rotation = row.rotation && axes ? multiply3(row.rotation, axes) : row.rotation;
    return { centreM: at, rotation: turned(toFrame, rotation), given: { placeM: at, sdM } };
  }
  const body = multiply3(sensorToBody(sensor!), cameraAxesOf(sensor!) ?? identity());
  const armM = apply3(transpose3(body), sensor!.leverArmM);
  const rotation = row.rotation && turned(toFrame, multiply3(row.rotation, body));
  const arm = rotation ? apply3(rotation, armM) : [0, 0, 0];
  return {
    centreM: at.map((v, k) => v + arm[k]) as Vector3,
    rotation: rotation ?? unknown(),
    given: { placeM: at, sdM, armM },
  };
}

/** Of a picture, all but its name and camera. */
type Placed = Omit<BlockImage, 'name' | 'camera'>;
const identity = (): Matrix3 => Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
/** Not known: to be found by ties. */
const unknown = (): Matrix3 => new Float64Array(9).fill(Number.NaN);
const turned = (toFrame: Matrix3, rotation: Matrix3 | undefined): Matrix3 =>
  rotation ? multiply3(toFrame, rotation) : unknown();

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

function unstated(
  rows: ReadonlyMap<string, PhotoPosition>,
  positions: PhotoPositions | undefined,
  file: string,
  notice: (n: Notice) => void,
): void {
  if (!positions || [...rows.values()].every((r) => r.sdM)) return;
  notice({
    code: 'block-place-sd',
    severity: 'warning',
    file,
    text: `Not all positions state how good they are; ${UNSTATED_PLACE_M[0] * 100} cm in plan and ${UNSTATED_PLACE_M[2] * 100} cm in height are taken for those.`,
    effect: 'Deviations of the block follow that.',
    remedy: 'Give sd_n_m, sd_e_m and sd_d_m with the positions.',
  });
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
