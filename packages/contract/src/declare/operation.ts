import { type DatasetKind } from '../kinds';
import { type Stage } from '../stages';
import { type Given, type Schema, type SettingsOf } from './settings';

/** Stands for any kind that a chapter of the report can be written about. */
export const CHAPTERS = 'chapters';

/** An input of an operation. */
export interface Role {
  kind: DatasetKind | typeof CHAPTERS;
  label: string;
  /** One line on what it is for. */
  reason?: string;
  several?: true;
  /** Words of the form for choosing none; without them one must be chosen. */
  none?: string;
  /** Name on the command line; none: it is not offered there. */
  flag?: string;
}

/**
 * What a computation asks of its project: marks that helped to make the cloud in role `cloud` and cannot prove it; names
 * of the classes, the project's own among them; all that a report prints beside its parts.
 */
export type Need = 'usedMarks' | 'classNames' | 'account';

/**
 * Tolerances of a project: RMSE of heights and of plan at check marks, metres; share of points that agree with a
 * reference, per cent; by how much a thinned TIN may miss the terrain, RMS in metres.
 */
export type ToleranceName = 'height' | 'plan' | 'classes' | 'surface';

/** Files that a command writes, by their flag. */
export interface CommandFile {
  /** Name of the output in the computation. */
  file: string;
  reason: string;
  must?: true;
  /** The application writes it when somebody exports it, not with the result. */
  aside?: true;
}

/** How an operation is called on the command line. */
export interface CommandForm {
  name: string;
  /** What it does, in the list of commands. */
  what: string;
  /** Flag of the coordinate system; none: it asks for none. */
  system?: { flag: string; reason: string; must?: true };
  tolerance?: { flag: string; reason: string };
  files: { readonly [flag: string]: CommandFile };
  /** Settings that the command line alone has. */
  more?: Schema;
  /** One flag for several settings: numbers between commas. */
  joined?: { readonly [flag: string]: { settings: readonly string[]; reason: string } };
  /** Settings as they are meant, of those that were given by flags; files are named when they were asked for. */
  meant?: (given: Given, more: Given, asked: readonly string[]) => Given;
  /** Lines below the flags of the help. */
  note?: string;
  example: string;
}

/** An operation of the trail, as plain data. */
export interface Declaration {
  name: string;
  /** On buttons and in work in progress: "Make the cloud". */
  title: string;
  /** In the trail: "placed". */
  past: string;
  stage: Stage;
  /** Rises whenever results change. */
  version: number;
  result: DatasetKind;
  /** Name of a new result, where the computation gives none. */
  resultName: string;
  settings: Schema;
  roles: { readonly [role: string]: Role };
  /** How the reference line counts: its systems (usual), the whole line, or not at all. */
  referenceLine?: 'whole' | 'none';
  /** Can do without the project's system, in a frame of its own. */
  systemless?: true;
  needs?: readonly Need[];
  /** The tolerance of the project that its verdict uses; of height when nothing is said. */
  tolerance?: ToleranceName;
  /** A rule across settings, and how many inputs each role was given: a sentence when it is broken. */
  refuse?: (settings: Given, chosen: { readonly [role: string]: number }) => string | undefined;
  /** Role under which an input is kept in the trail; null: it does not count. */
  keptAs?: (role: string, settings: Given) => string | null;
  /** Inputs of earlier runs under roles that have another name now. */
  onceCalled?: { readonly [role: string]: string };
  /** Place of its chapter in the report; none: it has no chapter. */
  chapter?: number;
  command?: CommandForm;
}

/** Declares an operation; its types stay as narrow as written. */
export const operation = <const D extends Declaration>(d: D): D => d;

export type SettingsOfOperation<D extends Declaration> = SettingsOf<D['settings']>;
