import { gridText, type GridName, type MountingJson } from '@longheron/core/frames';
import { type RecipeStep, type RepeatableSelection } from '@longheron/core/cloud';
import { type Notice } from '@longheron/core/shared';
import { kindOf, type Contents, type DatasetKind, type FileFacts, type SmallUnit } from '../kinds';
import { type Given } from '../declare';
import { type Stage } from '../stages';

export { type Contents, type DatasetKind } from '../kinds';
export * from './photographs';

/** Whether heights of a project are above a surface of any kind, and not above the ellipsoid. */
export const isAboveGeoidIn = (r: Pick<ReferenceDto, 'vertical' | 'geoid' | 'fileHeights'>) =>
  r.vertical !== 0 || r.geoid !== undefined || r.fileHeights === 'used';

/** What of a reference line names its system. */
export type SystemNames = Pick<ReferenceDto, 'horizontal' | 'plan' | 'vertical' | 'geoid' | 'shift' | 'fileHeights'>;

/** The plan of a project as text: `EPSG:25832`, or the file that defines it as `NAME@SHA12`. */
export const planTextOf = ({ horizontal, plan }: Pick<SystemNames, 'horizontal' | 'plan'>) =>
  plan ? gridText(plan) : `EPSG:${horizontal}`;

/** The system of a project as text, `EPSG:25832+5773`; files of plan, heights and datum as `NAME@SHA12`. */
export const systemTextOf = (r: SystemNames) => {
  const { vertical, geoid, shift, fileHeights } = r;
  const none = fileHeights === 'left' ? '+0' : '';
  return `${planTextOf(r)}${shift ? `~${gridText(shift)}` : ''}${geoid ? `+${gridText(geoid)}` : vertical ? `+${vertical}` : none}`;
};

/** The plan of a project for people: name, with its code or its file. */
export const planNameOf = ({
  horizontal,
  horizontalName,
  plan,
}: Pick<ReferenceDto, 'horizontal' | 'horizontalName' | 'plan'>) =>
  `${horizontalName} (${plan ? plan.name : horizontal})`;

/** What the API answers. */
export interface ReferenceDto {
  /** 0 when a file defines plan. */
  horizontal: number;
  horizontalName: string;
  /** The file with well-known text that defines plan. */
  plan?: GridName & { dataset: number };
  /** Whether that file has heights, and whether they are used or left for others. */
  fileHeights?: 'used' | 'left';
  /** Name of the datum of such a plan. */
  datumName?: string;
  /** '' for a local system, which no projection alone describes. */
  proj4: string;
  /** North, west, south, east, degrees. */
  bbox: [number, number, number, number] | null;
  vertical: number;
  verticalName: string;
  /** Depths are asked for in what is delivered, positive down; on screen and in clouds heights are positive up. */
  depths?: true;
  /** The grid that heights refer to, or the file that defines them; `vertical` is 0 then. */
  geoid?: GridName & { dataset: number };
  /** Accuracy of the surface that heights refer to, 1 SD in metres, as somebody has typed it. */
  surfaceSdM?: number;
  /** The grid by which plan is shifted, for a system on another datum. */
  shift?: GridName & { dataset: number };
  unit: 'metre' | 'foot' | 'usSurveyFoot';
  time: 'gps' | 'utc' | 'local';
  epoch?: number;
  /** Any statement on the geoid and its accuracy. */
  statement: string;
}

/**
 * What a project holds; `startGps` of its first recording, null without one; `plan` lines of where it lies, eastings and
 * northings in metres.
 */
export interface ProjectHoldings {
  files: number;
  results: number;
  bytes: number;
  startGps: number | null;
  stages: Array<{ stage: Stage; state: StageState }>;
  plan: Array<Array<[number, number]>>;
}

/** How far a stage of a project is. */
export type StageState = 'nothing yet' | 'in progress' | 'needs attention' | 'done' | 'given' | 'out of date';

/** Names of the projects that come with the application. */
export const DEMO_NAME = 'Brannholm Reach';
export const SECOND_DEMO_NAME = 'Brannholm Road 2025';

export interface ListedProject extends ProjectDto {
  holds: ProjectHoldings;
}

export interface ProjectDto {
  id: number;
  name: string;
  /** Largest RMSE of heights at check marks, metres. */
  toleranceM: number;
  /** Largest RMSE of plan at check marks, metres. */
  planToleranceM: number;
  /** Smallest share of points that agree with a reference, per cent. */
  classTolerance: number;
  /** By how much a thinned TIN may miss the terrain, RMS in metres. */
  surfaceToleranceM: number;
  purpose: string;
  reference: ReferenceDto | null;
  /** Out of the way in the list of projects. */
  putAway: boolean;
  createdAt: string;
}

/** What another reference line would do. */
export interface ChangedDto {
  /** A typical place of the project: coordinates now and then, metres; null where nothing moves, or nothing has a place. */
  moved: {
    latDeg: number;
    lonDeg: number;
    /** What the place was taken from. */
    of: string;
    eastingM: [now: number, then: number];
    northingM: [now: number, then: number];
    heightM: [now: number, then: number];
  } | null;
  items: Array<{
    name: string;
    kind: DatasetKind;
    what: 'carried' | 'stays' | 'made anew' | 'by hand';
    /** Of marks or outlines; 0 otherwise. */
    count: number;
    words: string;
  }>;
}

/** A geoid held against a known point: undulations by the grid and by the point, grid less point, metres. */
export interface KnownPointDto {
  undulationM: number;
  statedM: number;
  offM: number;
  says: 'agrees' | 'turned' | 'same heights' | 'elsewhere';
}

/** One trajectory less another, metres and degrees. */
export interface ComparisonDto {
  epochs: number;
  without: number;
  /** Which point of the platform each is of. */
  points: [string, string];
  statistics: Array<{ name: string; unit: string; mean: number; sd: number | null; rms: number; max: number }>;
  series: Array<{ name: string; unit: string; time: number[]; min: number[]; max: number[] }>;
}

/** An act done to a stored cloud: which rows, as an object of the store, and what was done to them. */
export interface CloudEditEntry {
  object: string;
  act: { kind: 'class'; to: number } | { kind: 'reject' } | { kind: 'restore' };
  points: number;
  at: string;
  /** It says what the cloud's file says too: the file need not be written anew for it. */
  ofFile?: boolean;
  /** How its points were chosen, as far as that can be done to another cloud. */
  how?: RepeatableSelection | { why: string } | { classify: Record<string, number | string | boolean> };
}

/** A picture with a place, as a map shows it. */
export interface RasterDto {
  columns: number;
  rows: number;
  /** Edge of a cell, west and north edges: metres of the project, when it is in its system. */
  stepM: number;
  westM: number;
  northM: number;
  /** Values shown as black and as white, the same at every zoom; null for pictures of 8 bits. */
  stretch: [number, number] | null;
  /** Value of cells without one. */
  noData: number | null;
}

/** Steps under a name, to be done to any cloud; kept for all projects. */
export interface RecipeDto {
  name: string;
  steps: RecipeStep[];
}

/** What of a cloud's past can be done to others, and what cannot. */
export interface PastStepsDto {
  steps: RecipeStep[];
  left: Array<{ points: number; act: CloudEditEntry['act']; why: string }>;
}

export interface SelectionCountDto {
  count: number;
  rejected: number;
  byClass: Record<string, number>;
}

/** Something measured between points of a cloud. */
export interface MeasuredDto {
  name: string;
  kind: 'distance' | 'angle' | 'area' | 'above' | 'plane';
  cloud: string;
  datasetId: number;
  rows: number[];
  points: Array<{ eastingM: number; northingM: number; heightM: number }>;
  /** Metres, square metres, degrees; deviations are 1 SD. */
  values: Record<string, number | string | boolean | null>;
  /** Whether the cloud states deviations of its points. */
  stated: boolean;
}

/** What a finder has found: the object with its rows, and what else it says. */
export interface FoundDto {
  object: string;
  count: number;
  note: string;
}

export interface EditAnswer {
  revision: number;
  counts: SelectionCountDto;
}

/** A version of a vehicle in the library. */
export interface PlatformDto {
  id: number;
  name: string;
  version: number;
  note: string;
  /** Name of the project that it was kept from. */
  project: string;
  createdAt: string;
  sensors: Array<{ name: string; serial: string | null }>;
  /** As in a mounting file. */
  mounting: MountingJson;
}

/** A station of the reference-station service, seen from a session. */
export interface StationDto {
  code: string;
  distanceM: number;
  /** Share of the session that it has observations for. */
  cover: number;
  rateHz: number;
  antenna: string;
}

export interface RevisionDto<C = Contents[DatasetKind]> {
  id: number;
  number: number;
  contentHash: string;
  runId: number | null;
  madeBy: string;
  inputs: Array<{ role: string; datasetId: number; revisionId: number; contentHash: string }>;
  createdAt: string;
  /** Kind-specific content: facts, figures, object hashes. */
  content: C;
}

interface DatasetBase {
  id: number;
  name: string;
  stage: Stage;
  revisions: number;
  canUndo: boolean;
  canRedo: boolean;
  outOfDate: boolean;
  /** Why, in a sentence. */
  outOfDateBecause: string | null;
}

/** A dataset with its current revision; the content's type follows from the kind. */
export type DatasetDto<K extends DatasetKind = DatasetKind> = {
  [P in K]: DatasetBase & { kind: P; revision: RevisionDto<Contents[P]> };
}[K];

/** Datasets of one kind among all. */
export type DatasetOf<K extends DatasetKind> = Extract<DatasetDto, { kind: K }>;
export const isOf = <K extends DatasetKind>(dataset: DatasetDto, kind: K): dataset is DatasetOf<K> =>
  dataset.kind === kind;

export type RunStatus = 'queued' | 'running' | 'done' | 'failed' | 'cancelled' | 'interrupted';

export interface RunDto {
  id: number;
  projectId: number;
  operation: string;
  title: string;
  status: RunStatus;
  progress: number;
  doing: string;
  settings: Given;
  startedAt: string | null;
  endedAt: string | null;
  /** Seconds left, estimated from the progress so far; null when not known. */
  secondsLeft: number | null;
  error: { message: string; file?: string; place?: string; remedy?: string } | null;
  log: string[];
  outputs: number[];
}

/** A typed place in every form, to be shown back. */
export interface LocatedDto {
  latDeg: number;
  lonDeg: number;
  latText: string;
  lonText: string;
  eastingM: number;
  northingM: number;
  /** In the project's height reference, and above the ellipsoid; null when no height was typed. */
  heightM: number | null;
  hEllM: number | null;
  undulationM: number;
  /** Distance to the middle of the trajectories, metres; null when there are none. */
  distanceM: number | null;
}

export interface NoticeDto extends Notice {
  id: number;
  datasetId: number | null;
  state: 'open' | 'accepted';
  reason: string | null;
  /** What the fix one action away does, when there is one. */
  fix: string | null;
}

export interface ProblemDto {
  type: string;
  title: string;
  status: number;
  code: string;
  field?: string;
  file?: string;
  place?: string;
  remedy?: string;
}

/** Index of a stored cloud, docs/formats/cloud-store.md. */
export interface CloudIndex {
  count: number;
  /** Metres: what to add to positions. */
  origin: [number, number, number];
  /** Metres per integer step of the positions. */
  scale: number;
  /** Edge of the root cube, metres; its low corner is at (0, 0, 0) about the origin. */
  rootM: number;
  /** Spacing of the points of the root, metres; halves at each level. */
  spacingM: number;
  bounds: { min: [number, number, number]; max: [number, number, number] };
  /** level, x, y, z, first point, count — six numbers a node, parents first. */
  nodes: number[];
  /** First second of the times, GPS seconds. */
  timeOrigin: number;
  /** Seconds per step of the stored times. */
  timeStepS: number;
  /** `colour` only of clouds whose file has colours: red, green, blue. */
  objects: { position: string; attributes: string; classes: string; colour?: string };
  ranges: Record<string, [number, number, number, number]>;
}

/** Facts of the file behind a dataset; undefined for what was made here and is no file. */
export const factsOf = (dataset: DatasetDto | undefined): FileFacts | undefined =>
  dataset && 'facts' in dataset.revision.content ? dataset.revision.content.facts : undefined;

/** The line of figures on its card, as its kind writes it. @param small unit of short lengths. */
export function cardOf(dataset: DatasetDto, small: SmallUnit): string {
  const { card } = kindOf<DatasetKind>(dataset.kind) as { card?: (content: object, small: SmallUnit) => string };
  return card?.(dataset.revision.content, small) ?? '';
}
