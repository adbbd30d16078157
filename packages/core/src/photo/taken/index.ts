/** What photographs say of themselves, taken together: by which camera each was made, and what is odd about them. */
export * from './sessions';

export interface TakenPhoto {
  name: string;
  bytes: number;
  widthPx: number | null;
  heightPx: number | null;
  /** Camera's clock, seconds of any beginning. */
  takenS: number | null;
  camera: string;
  serial: string;
  lens: string;
  lensSerial: string;
  focalMm: number | null;
  focalPx: number | null;
  orientation: number;
  place: { latDeg: number; lonDeg: number } | null;
}

/** Photographs of one body, lens, focal length and size: they share a calibration. */
export interface PhotoGroup {
  key: string;
  camera: string;
  serial: string;
  lens: string;
  lensSerial: string;
  widthPx: number | null;
  heightPx: number | null;
  focalMm: number | null;
  focalPx: number | null;
  names: string[];
  firstS: number | null;
  lastS: number | null;
}

/** Two focal lengths nearer to each other than this are one: zooms write tenths, millimetres. */
const SAME_FOCAL_MM = 0.05;

const keyOf = (p: TakenPhoto) =>
  [
    p.camera,
    p.serial,
    p.lens,
    p.lensSerial,
    p.widthPx,
    p.heightPx,
    p.focalMm === null ? '' : Math.round(p.focalMm / (2 * SAME_FOCAL_MM)),
  ].join('\n');

/** Groups photographs by what made them, the largest group first. */
export function groupPhotographs(list: readonly TakenPhoto[]): PhotoGroup[] {
  const groups = new Map<string, PhotoGroup>();
  for (const p of list) {
    const key = keyOf(p);
    const { camera, serial, lens, lensSerial, widthPx, heightPx, focalMm, focalPx, takenS } = p;
    let g = groups.get(key);
    if (!g) {
      g = {
        key,
        camera,
        serial,
        lens,
        lensSerial,
        widthPx,
        heightPx,
        focalMm,
        focalPx,
        names: [],
        firstS: takenS,
        lastS: takenS,
      };
      groups.set(key, g);
    }
    g.names.push(p.name);
    if (takenS === null) continue;
    g.firstS = Math.min(g.firstS ?? takenS, takenS);
    g.lastS = Math.max(g.lastS ?? takenS, takenS);
  }
  return [...groups.values()].sort((a, b) => b.names.length - a.names.length);
}

export interface PhotoDoubts {
  /** Names that several files have. */
  twice: string[];
  /** Taken by one body in the same moment, of the same size in bytes: copies. */
  copies: Array<[string, string]>;
  /** Numbers between the first and the last name of a row that are not there. */
  missing: string[];
  /** Far smaller than most: previews, not photographs. */
  small: string[];
  /** All have one and the same place. */
  samePlace: boolean;
  /** Days on which they were taken, by the camera's clock, as seconds of their beginnings. */
  daysS: number[];
  /** To be turned for looking at; they are worked on as the camera wrote them. */
  turned: string[];
  /** Tell neither camera nor time. */
  silent: string[];
}

/** A photograph is a preview when its longer side is below this share of the middle one. */
const PREVIEW = 0.5;
/** More numbers than this are not missing: names begin anew. */
const MOST_MISSING = 200;
/** Two places nearer than this are one, degrees: about a centimetre. */
const SAME_DEG = 1e-7;
const DAY_S = 86_400;

/** What is odd about photographs that came together. */
export function doubtsOf(list: readonly TakenPhoto[]): PhotoDoubts {
  const seen = new Set<string>();
  const twice = new Set<string>();
  const moments = new Map<string, string>();
  const copies: PhotoDoubts['copies'] = [];
  for (const p of list) {
    const name = p.name.toLowerCase();
    if (seen.has(name)) twice.add(p.name);
    seen.add(name);
    if (p.takenS === null) continue;
    const moment = `${p.serial} ${p.camera} ${p.takenS} ${p.bytes}`;
    const other = moments.get(moment);
    if (other === undefined) moments.set(moment, p.name);
    else if (other !== p.name) copies.push([other, p.name]);
  }
  const sides = list.flatMap((p) => (p.widthPx && p.heightPx ? [Math.max(p.widthPx, p.heightPx)] : []));
  const middle = [...sides].sort((a, b) => a - b)[sides.length >> 1] ?? 0;
  const places = list.flatMap((p) => p.place ?? []);
  const [first] = places;
  const same = (p: { latDeg: number; lonDeg: number }) =>
    Math.abs(p.latDeg - first.latDeg) < SAME_DEG && Math.abs(p.lonDeg - first.lonDeg) < SAME_DEG;
  return {
    twice: [...twice],
    copies,
    missing: missingOf(list.map((p) => p.name)),
    small: list.flatMap((p) => (Math.max(p.widthPx ?? middle, p.heightPx ?? 0) < PREVIEW * middle ? [p.name] : [])),
    samePlace: places.length > 2 && places.every(same),
    daysS: [...new Set(list.flatMap((p) => (p.takenS === null ? [] : [DAY_S * Math.floor(p.takenS / DAY_S)])))].sort(
      (a, b) => a - b,
    ),
    turned: list.flatMap((p) => (p.orientation > 1 ? [p.name] : [])),
    silent: list.flatMap((p) => (p.takenS === null && !p.camera && !p.serial ? [p.name] : [])),
  };
}

/** Names of a row that are not there: of those that end in a number of as many digits behind the same beginning. */
function missingOf(names: readonly string[]): string[] {
  const rows = new Map<string, { digits: number; ending: string; head: string; numbers: Set<number> }>();
  for (const name of names) {
    const m = /^(.*?)(\d+)(\.[^.]*)$/.exec(name);
    if (!m) continue;
    const key = `${m[1]}\n${m[2].length}`;
    const row = rows.get(key) ?? { head: m[1], digits: m[2].length, ending: m[3], numbers: new Set<number>() };
    row.numbers.add(Number(m[2]));
    rows.set(key, row);
  }
  const out: string[] = [];
  for (const { head, digits, ending, numbers } of rows.values()) {
    const all = [...numbers].sort((a, b) => a - b);
    const gaps: string[] = [];
    for (let k = all[0]; k < all[all.length - 1] && gaps.length <= MOST_MISSING; k++)
      if (!numbers.has(k)) gaps.push(`${head}${String(k).padStart(digits, '0')}${ending}`);
    // a counter that began anew leaves a gap that is none
    if (gaps.length <= Math.min(MOST_MISSING, all.length)) out.push(...gaps);
  }
  return out;
}
