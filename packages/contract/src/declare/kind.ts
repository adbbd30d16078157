import { type FileFacts } from '../kinds/parts/facts';

/** A unit in which short lengths are shown. */
export interface SmallUnit {
  /** By which metres are multiplied. */
  factor: number;
  symbol: string;
  digits: number;
}

/** What can be exported of a dataset of a kind. */
export interface KindExport<C> {
  label: string;
  extension: string;
  /** Media type. */
  type: string;
  /** Object of the store with the bytes; undefined when this one has none. */
  object?: (content: C) => string | undefined;
  /** The operation that writes it as text, from the content alone. */
  by?: string;
  /** Whether this dataset has it; always, when nothing is said. */
  there?: (content: C) => boolean;
  /** After the name of the dataset, where several files of one ending are exported. */
  suffix?: string;
  /** The file goes out under the name of the dataset. */
  ownName?: true;
}

/** Edges of a grid of cells: its west and north, metres of the project. */
export interface GridLayout {
  cellM: number;
  westM: number;
  northM: number;
  columns: number;
  rows: number;
}

/** What of a dataset a map draws, as data. */
export type Drawing =
  | { draw: 'extent'; box: [number, number, number, number] }
  | { draw: 'path'; preview: string }
  | { draw: 'picture'; object: string; layout: GridLayout; of: string };

/** A kind of dataset: what it is called, what its card says, what can be exported of it, how a map draws it. */
export interface KindDeclaration<C> {
  /** "Point cloud". */
  name: string;
  /** What the count of its file's facts counts. */
  counts: string;
  /** One line of figures for its card. */
  card?: (content: C, small: SmallUnit) => string;
  exports: { readonly [name: string]: KindExport<C> };
  onMap?: (content: C) => Drawing[];
  /** The tolerance that its verdict was given by: another one in the project makes it out of date. */
  judgedBy?: (content: C) => number | null | undefined;
  /** What of it an input under a role is compared by, where that is not all of it. */
  comparedBy?: (role: string, content: C) => unknown;
}

export const kind = <C>(d: KindDeclaration<C>): KindDeclaration<C> => d;

/** What is kept of a file that was taken in. */
export interface FileContent {
  /** Object with the raw bytes. */
  object: string;
  bytes: number;
  facts: FileFacts;
}

const RAW: KindExport<{ object?: string }> = {
  label: 'As imported',
  extension: '',
  type: 'application/octet-stream',
  ownName: true,
  object: (c) => c.object,
};

/** The file as it was taken in, for kinds that come as files. */
export const rawExport = { object: RAW };

/** Where the file lies, when its facts say so in coordinates of a projected system. */
export function extentDrawing({ facts }: { facts?: FileFacts }): Drawing[] {
  const e = facts?.extent;
  if (!e || e.crs === 'geographic' || !e.min.every(Number.isFinite)) return [];
  return [{ draw: 'extent', box: [e.min[0], e.min[1], e.max[0], e.max[1]] }];
}

/** A kind that comes as a file and is kept as it came. */
export const fileKind = <C extends FileContent = FileContent>(name: string, counts: string): KindDeclaration<C> => ({
  name,
  counts,
  exports: rawExport,
  onMap: extentDrawing,
});
