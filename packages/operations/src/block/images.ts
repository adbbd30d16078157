import { LocalFrame, sensorToBody, type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { type Mark } from '@longheron/core/accuracy';
import { apply3, multiply3, transpose3, type Matrix3, type Vector3 } from '@longheron/core/numeric';
import { type BlockCamera, type BlockImage } from '@longheron/core/photo';
import { Problem, type Notice } from '@longheron/core/shared';
import { type KnownDistance } from '@longheron/formats/distances';
import { type ListedCamera } from '@longheron/formats/cameras';
import { type PhotoPosition, type PhotoPositions } from '@longheron/formats/photo-set';
import { imageKey, type Pick } from '@longheron/formats/picks';
import { cameraAxesOf, cameraSensorOf } from '../shared/photographs';

/** What is read for a block, with the names of its files. */
export interface Given {
  /** Those of people; ties that are found by themselves come later. */
  picks: Pick[];
  /** Photographs themselves, by name and the serial number of the body as they state it. */
  photos: ReadonlyArray<{ name: string; serial?: string }>;
  cameras: ListedCamera[];
  /** One list after the other. */
  positions: ReadonlyArray<PhotoPositions & { file: string }>;
  mounting?: Mounting;
  marks: Mark[];
  distances: KnownDistance[];
  files: { picks: string; photos: string; cameras: string; positions: string; marks: string; distances: string };
  pickSdPx: number;
  /** Of a photograph by the key of its name. */
  sessionOf: ReadonlyMap<string, { number: number; name: string }>;
  /** Whether the photographs of each session share a shift of their positions. */
  shift: boolean;
  /** Whether a body has a camera for each of its sessions. */
  apart: boolean;
}

/** A row with the list that it stands in. */
interface Place {
  row: PhotoPosition;
  list: PhotoPositions & { file: string };
}

/** Pictures with their cameras, and where they are, before anything is known of their points. */
export interface Pictures {
  images: BlockImage[];
  cameras: BlockCamera[];
  /** What the list says of each. */
  listed: ListedCamera[];
  /** Of what the shifts are, in their order. */
  shiftNames: string[];
  /** Of an image, by the key of its name. */
  index: ReadonlyMap<string, number>;
  /** Undefined in a frame of its own. */
  frame: LocalFrame | undefined;
}

/** Deviations of places that state none, 1 SD, metres. */
const UNSTATED_PLACE_M: Vector3 = [0.05, 0.05, 0.1];
/** Control marks that place a block by themselves. */
const FEWEST_CONTROL = 3;
/** Terms said to be known exactly are held by so little. */
const EXACT = 1e-9;

/** Brings photographs, cameras and positions together. @throws Problem that says what does not fit. */
export function picturesOf(given: Given, system: ReferenceSystem | undefined, notice: (n: Notice) => void): Pictures {
  const { picks, positions, files } = given;
  const names = new Map<string, string>();
  for (const name of [...given.photos.map((p) => p.name), ...picks.map((p) => p.image)])
    if (!names.has(imageKey(name))) names.set(imageKey(name), name);
  const rowOf = new Map<string, Place>();
  for (const list of positions)
    for (const row of list.rows) {
      const key = imageKey(row.image);
      const before = rowOf.get(key);
      if (before && before.list !== list)
        throw new Problem(`${row.image} has a position in ${before.list.file} and another in ${list.file}.`, {
          code: 'block-places-twice',
          file: list.file,
          place: row.image,
          remedy: 'Choose one list of positions for each set of photographs.',
        });
      rowOf.set(key, { row, list });
    }
  const rows = new Map<string, Place>();
  for (const key of names.keys()) {
    const place = rowOf.get(key);
    if (place) rows.set(key, place);
  }
  if (positions.length && !rows.size)
    throw new Problem('None of the positions is of one of these photographs.', {
      code: 'block-names',
      file: files.positions,
      place: 'column label',
      remedy: 'Choose the positions of these photographs; they are known by their file names.',
    });
  const without = positions.length ? [...names.keys()].filter((k) => !rows.has(k)).map((k) => names.get(k)!) : [];
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
  const frame =
    system &&
    frameOf(
      [...rows.values()].map((p) => p.row),
      control,
      system,
    );
  const serials = new Map(given.photos.map((p) => [imageKey(p.name), p.serial]));
  const cameras = new CamerasInUse(given);
  const shifts = new Map<string, { at: number; name: string }>();
  const images = [...names].map(([key, name]): BlockImage => {
    const place = rows.get(key);
    const session = given.sessionOf.get(key);
    const which = whichCamera(name, place?.row, serials.get(key), given);
    const at = placed(place, given.cameras[which], given, frame);
    const camera = cameras.of(which, session?.number);
    if (!given.shift || !at.given) return { name, camera, ...at };
    // sets may be named alike: sessions are told apart by their numbers
    const shared = session ? `session ${session.number}` : `camera ${which}`;
    const shift = shifts.get(shared) ?? { at: shifts.size, name: session?.name ?? given.cameras[which].name };
    shifts.set(shared, shift);
    return { name, camera, ...at, given: { ...at.given, session: shift.at } };
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
  unstated(rows, files.positions, notice);
  const index = new Map([...names.keys()].map((key, k) => [key, k]));
  return {
    images,
    cameras: cameras.listed.map(cameraOf),
    listed: cameras.listed,
    shiftNames: [...shifts.values()].map((s) => s.name),
    index,
    frame,
  };
}

/** Cameras of a list, each once, or once for each of its sessions. */
class CamerasInUse {
  readonly listed: ListedCamera[];
  private readonly own = new Map<string, number>();

  constructor(private readonly given: Given) {
    this.listed = given.apart ? [] : [...given.cameras];
  }

  of(camera: number, session: number | undefined): number {
    if (!this.given.apart) return camera;
    const key = `${camera} ${session ?? ''}`;
    const known = this.own.get(key);
    if (known !== undefined) return known;
    const listed = this.given.cameras[camera];
    const name = session === undefined ? listed.name : `${listed.name}, session ${session}`;
    this.own.set(key, this.listed.push({ ...listed, name }) - 1);
    return this.listed.length - 1;
  }
}

/** Start values of a picture of which nothing is known. */
export const UNKNOWN: { centreM: Vector3; rotation: Matrix3 } = {
  centreM: [Number.NaN, Number.NaN, Number.NaN],
  rotation: new Float64Array(9).fill(Number.NaN),
};

/** The first of a list, and how many more. */
export const some = (list: readonly string[]) =>
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
  const { name, sd, model, widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } = c;
  const known = Object.fromEntries(Object.entries(sd).map(([term, v]) => [term, Math.max(v, EXACT)])) as typeof sd;
  return { name, sd: known, camera: { model, widthPx, heightPx, focalPx, cxPx, cyPx, k1, k2, k3, p1, p2 } };
}

function whichCamera(
  image: string,
  row: PhotoPosition | undefined,
  serial: string | undefined,
  { cameras, files }: Given,
): number {
  if (cameras.length === 1) return 0;
  const key = imageKey(image);
  const named = cameras.findIndex((c) => c.name === row?.camera);
  const listed = cameras.findIndex((c) => c.images?.some((i) => imageKey(i) === key));
  const byBody = serial ? cameras.findIndex((c) => c.bodySerial === serial) : -1;
  const found = [named, listed, byBody].find((k) => k >= 0);
  if (found !== undefined) return found;
  throw new Problem(`Which of the ${cameras.length} cameras took ${image} is not said.`, {
    code: 'block-camera',
    file: files.cameras,
    place: 'images, body_serial',
    remedy:
      'Give each camera its body serial number or the names of its photographs, or name it in a column of the positions.',
  });
}

/** Where a picture is, in the axes of the block: by its position and attitude, or not known yet. */
function placed(
  place: Place | undefined,
  camera: ListedCamera,
  { mounting }: Given,
  frame: LocalFrame | undefined,
): Placed {
  if (!place || !frame) return { centreM: [Number.NaN, Number.NaN, Number.NaN], rotation: unknown() };
  const { row, list } = place;
  const at = frame.fromGeodetic(row.latRad, row.lonRad, row.hEllM);
  const sdM = row.sdM ? ([row.sdM[1], row.sdM[0], row.sdM[2]] as Vector3) : UNSTATED_PLACE_M;
  const toFrame = frame.fromNed(row.latRad, row.lonRad);
  if (list.oriented) return { centreM: at, rotation: turned(toFrame, row.rotation), given: { placeM: at, sdM } };
  const { point } = list;
  const sensors = mounting?.sensors ?? {};
  const atCamera = !mounting || (point !== undefined && sensors[point] !== undefined);
  const sensor = atCamera
    ? point
      ? sensors[point]
      : undefined
    : cameraSensorOf(camera.name, mounting!, list.file, point);
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

function unstated(rows: ReadonlyMap<string, Place>, file: string, notice: (n: Notice) => void): void {
  if ([...rows.values()].every((p) => p.row.sdM)) return;
  notice({
    code: 'block-place-sd',
    severity: 'warning',
    file,
    text: `Not all positions state how good they are; ${UNSTATED_PLACE_M[0] * 100} cm in plan and ${UNSTATED_PLACE_M[2] * 100} cm in height are taken for those.`,
    effect: 'Deviations of the block follow that.',
    remedy: 'Give sd_n_m, sd_e_m and sd_d_m with the positions.',
  });
}
