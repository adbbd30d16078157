/** What a photograph says of itself. */
export interface PhotographDto {
  name: string;
  bytes: number;
  widthPx: number | null;
  heightPx: number | null;
  /** Camera's clock as seconds from 1970, as if it showed UTC; how far its zone is ahead of UTC, hours. */
  takenS: number | null;
  zoneH: number | null;
  camera: string;
  serial: string;
  lens: string;
  lensSerial: string;
  focalMm: number | null;
  /** By sensor or frame, pixels. */
  focalPx: number | null;
  /** As it should be turned to be looked at, 1 to 8 of EXIF. */
  orientation: number;
  place: { latDeg: number; lonDeg: number; altitudeM: number | null; errorM: number | null } | null;
}

/** Photographs against a list of where they were taken. */
export interface PhotographPairsDto {
  by: 'name' | 'times' | 'order' | 'none';
  /** What the positions are of; and whether they are the camera's own already, so that no arm is applied to them. */
  point: string | null;
  atCamera: boolean;
  attitudes: boolean;
  /** Middle of what they state, 1 SD north, east, down, metres. */
  sdM: [number, number, number] | null;
  pairs: Array<{
    image: string;
    label: string;
    /** Camera's clock less the position's time, seconds; null without times. */
    offS: number | null;
    /** Easting, northing, height in the system of the project; null without one. */
    at: [number, number, number] | null;
  }>;
  photosAlone: string[];
  positionsAlone: string[];
  /** Photographs that the list names without a position. */
  without: string[];
  /** Positions that several photographs share. */
  doubled: string[];
  samePlace: boolean;
  otherDay: number;
}

/** What two blocks say of the same photographs and points: the first less the second, metres of the project's system. */
export interface BlocksComparedDto {
  images: Array<{ image: string; d: [number, number, number]; sd: [number, number, number]; turnDeg: number }>;
  points: Array<{ point: string; kind: string; d: [number, number, number]; sd: [number, number, number] }>;
}

/** Where a point is seen in a photograph. */
export interface RayDto {
  image: string;
  xPx: number;
  yPx: number;
  /** 1 SD of x, and of y; null: as usual. */
  sdPx: number | null;
}

/** A place in the system of the project, or in the frame of the block: east, north, height or x, y, z, metres. */
export interface PlaceDto {
  at: [number, number, number];
  sd: [number, number, number];
}

/** A point as rays of photographs tell it. */
export interface MetDto extends PlaceDto {
  /** Largest angle between two of its rays, degrees. */
  angleDeg: number;
  rmsPx: number;
  /** Residuals, seen less computed, and in deviations of their own. */
  rays: Array<{ image: string; dxPx: number; dyPx: number; test: number }>;
}

/** Where a photograph shows a place: pixel, and the ellipse of one deviation. */
export interface ShownDto {
  image: string;
  xPx: number;
  yPx: number;
  inside: boolean;
  majorPx: number;
  minorPx: number;
  /** From the x axis of the picture to the major one, downwards, degrees. */
  angleDeg: number;
  /** From the camera, metres. */
  distanceM: number;
  /** Points of the cloud stand in between; absent where none was asked. */
  hidden?: boolean;
}

/** What an adjusted block knows of a point. */
export interface InPhotographsDto {
  /** Where its rays meet; null for fewer than two, or where they are as good as parallel. */
  met: MetDto | null;
  /** What its place in photographs was computed from. */
  from: 'rays' | 'given' | null;
  shown: ShownDto[];
  /** Where its place from elsewhere would be, whatever its rays say. */
  expected: ShownDto[];
  /** With a single ray: the way along which each photograph may show the point, x and y by turns. */
  lines: Array<{ image: string; along: number[] }>;
}

/** Something drawn in photographs: its corners in their order. */
export interface FeatureDto {
  name: string;
  shape: 'point' | 'line' | 'area';
  code: string;
  note: string;
  corners: Array<MetDto & { seen: RayDto[] }>;
  /** Length of a line or round an area, metres; in plan for an area, square metres. */
  lengthM: number;
  areaM2: number;
}

/** A camera of the library, as a block has found it. */
export interface KeptCameraDto {
  /** Under which it is kept: body, size, block. */
  key: string;
  name: string;
  serial: string;
  lens: string;
  widthPx: number;
  heightPx: number;
  focalPx: number;
  /** 1 SD of the focal length, pixels. */
  sdFocalPx: number;
  nominalFocalPx: number;
  /** Adjusted less nominal over the picture, RMS, pixels. */
  changeRmsPx: number;
  block: string;
  project: string;
  /** Day of the block, 2026-06-16. */
  date: string;
  /** As a list of cameras has it. */
  camera: { [key: string]: unknown };
}

/** A list of cameras that was made for a set of photographs, and where each comes from. */
export interface MadeCamerasDto {
  datasetId: number;
  cameras: Array<{ name: string; from: 'library' | 'EXIF' | 'panorama'; photographs: number }>;
}
