import { type Contents, type DatasetKind } from '@longheron/contract/kinds';
import { type CHAPTERS, type Declaration, type Given, type Role, type SettingsOf } from '@longheron/contract/declare';
import { type Mark } from '@longheron/core/accuracy';
import { type Mounting } from '@longheron/core/frames';
import { type Notice, type Watch } from '@longheron/core/shared';
import { type HeightGrid } from '@longheron/core/surface';
import { type Photo } from '@longheron/core/trajectory';
import { type Stand } from '@longheron/formats/points';
import { type LoadedCloud } from '../shared/cloud';
import { type Account } from '../shared/pages/account';
import { type Report } from '../shared/report';
import { type Kept, type Store } from '../shared/store';
import { type OpenedStore } from '../shared/stored';

/** A file as it was taken in, or as it lies in a folder. */
export interface OpenedFile<C = unknown> {
  /** What people call it. */
  name: string;
  path: string;
  /** What the application holds of it. */
  content?: C;
}

export interface OpenedMarks extends OpenedFile<Contents['marks']> {
  marks: Mark[];
  /** System that the list says it is in. */
  crs: string | null;
}

export interface OpenedMounting extends OpenedFile {
  mounting: Mounting;
}

export interface OpenedPhotos extends OpenedFile {
  photos: Photo[];
}

/** A cloud, as a file or from the store: what a computation asks for is made when it is asked for. */
export interface OpenedCloud {
  name: string;
  /** System that it is known to be in, as text; '' when nothing says so. */
  crs: string;
  /** Path of its file with all that was done to it by hand. */
  las(watch?: Watch): Promise<string>;
  /** All of its points in memory, what was done by hand included. */
  load(watch?: Watch): Promise<LoadedCloud>;
  /** The multi-resolution store, with what was done to it by hand apart. */
  stored(watch?: Watch): Promise<OpenedStore>;
  /** Path of the file with the row in the LAS file of each stored point. */
  order(): Promise<string>;
  /** What relative heights count from; undefined where heights are absolute, as far as is known. */
  relativeTo?: string;
  /** Poses of the scans that it came as, by the numbers of their points' sources, from 1. */
  stands?: Stand[];
  /** Objects of the store that a result may share. */
  shared?: { index: string; order: string };
}

/** A grid of heights, as a file or from the store. */
export interface OpenedSurface<C = Contents['surface']> {
  name: string;
  /** What the application holds of it; not there on the command line. */
  content?: C;
  /** Its heights: of the ground, or of the highest at each place, where it has both. */
  heights(of: 'ground' | 'highest'): Promise<SurfaceHeights>;
}

export interface SurfaceHeights {
  grid: HeightGrid;
  /** Its system as text; undefined when its file does not say. */
  crs?: string;
  findings: Notice[];
}

/** A result of the application that is no file. */
export interface OpenedContent<C> {
  name: string;
  content: C;
}

/** Something a chapter of the report is written about. */
export interface OpenedPart extends OpenedContent<Contents[DatasetKind]> {
  /** The operation that made it. */
  operation: string;
  /** The cloud that it speaks of, with its revision. */
  cloud: string;
}

type Special = {
  'point-cloud': OpenedCloud;
  marks: OpenedMarks;
  mounting: OpenedMounting;
  photos: OpenedPhotos;
  positions: OpenedFile<Contents['positions']>;
  block: OpenedFile<Contents['block']>;
  orthophoto: OpenedFile<Contents['orthophoto']>;
  surface: OpenedSurface;
  depths: OpenedSurface<Contents['depths']>;
};

/** What a computation is given of an input, by the kind of it. */
export type Opened<K extends Role['kind']> = K extends keyof Special
  ? Special[K]
  : K extends typeof CHAPTERS
    ? OpenedPart
    : K extends DatasetKind
      ? Contents[K] extends { facts: object; object: string }
        ? OpenedFile<Contents[K]>
        : OpenedContent<Contents[K]>
      : never;

/** Inputs by role, as the declaration says: several, one, or one that may be left out. */
export type InputsOf<D extends Declaration> = {
  [R in keyof D['roles']]: D['roles'][R] extends { several: true }
    ? Array<Opened<D['roles'][R]['kind']>>
    : D['roles'][R] extends { none: string }
      ? Opened<D['roles'][R]['kind']> | undefined
      : Opened<D['roles'][R]['kind']>;
};

/** What a computation knows of its surroundings. */
export interface Context {
  /** The system to work in, as text; undefined when none was given. */
  crs?: string;
  /** Of the project or as asked for, metres. */
  toleranceM?: number;
  projectName: string;
  /** Marks that helped to make the cloud, by name, with what for. */
  usedMarks: { readonly [mark: string]: string };
  /** Names of the classes, by number. */
  classNames: readonly string[];
  /** All that a report prints beside its parts. */
  account?: Account;
}

/** Where a computation puts its results. */
export interface Output {
  /** The store; on the command line a folder that is thrown away. */
  store: Store;
  /** Whether pictures, stores and whatever the screen needs are kept; on the command line nothing but files is. */
  keeps: boolean;
  /** Whether a file is asked for. */
  wanted(file: string): boolean;
  /** Lets a file be written under its name in the declaration. Asked for only what is wanted. */
  file(name: string, kind: string, write: (path: string) => Promise<unknown>): Promise<Kept>;
}

/** What a computation has made. */
export interface Made<K extends DatasetKind> {
  content: Contents[K];
  /** All figures, SI units, keys in snake_case. */
  report: Report;
  /** Stands for the content. */
  hash: string;
  /** Name of a new dataset, where the declaration's would not tell enough. */
  name?: string;
  /** For the log of the job. */
  log: string[];
  /** For the command line; the log without them. */
  lines?: string[];
  /** Done, but out of tolerance or with errors not accepted. */
  failed?: boolean;
}

export type Run<D extends Declaration> = (
  inputs: InputsOf<D>,
  settings: SettingsOf<D['settings']>,
  context: Context,
  output: Output,
  watch: Watch,
) => Promise<Made<D['result']>>;

/** Writes what a dataset holds as text. @param unit length unit of the project. */
export type TextExport<C> = (content: C, context: ExportContext) => string;

export interface ExportContext {
  name: string;
  unit: 'metre' | 'foot' | 'usSurveyFoot';
  /** Where objects of the store lie. */
  path(sha256: string): string;
}

/** What stands beside the computation: texts that can be exported, its chapter of the report. */
export interface Beside<C> {
  exports?: { readonly [name: string]: TextExport<C> };
  chapter?: Chapter<C>;
}

/** A block of a report: text, heading, table or picture, as plain data for the writer of pages. */
export type Block = Given | string;

/** What a chapter is written with. */
export interface ChapterTools {
  /** Lengths of the report's unit: by what metres are multiplied, and its symbol. */
  factor: number;
  symbol: string;
  small: { factor: number; symbol: string; digits: number };
  toleranceM: number;
  /** A picture of the store, no larger than a page needs. */
  picture(sha256: string): Promise<Buffer>;
}

export type Chapter<C> = (part: OpenedPart & { content: C }, tools: ChapterTools) => Promise<Block[]> | Block[];

/** A computation: its declaration, its one run, and what stands beside it. */
export interface Computation<D extends Declaration = Declaration> extends Beside<Contents[D['result']]> {
  declaration: D;
  run: Run<D>;
}

export const computation = <const D extends Declaration>(
  declaration: D,
  run: Run<D>,
  beside: Beside<Contents[D['result']]> = {},
): Computation<D> => ({ declaration, run, ...beside });

/** Findings as the application keeps them. */
export const placed = (notices: Notice[]): Notice[] => notices.map((n) => ({ ...n, place: n.place ?? '' }));
