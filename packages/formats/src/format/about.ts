/** A way in which a format is written. */
export interface Written {
  /** For people, as a choice. */
  label: string;
  /** Of the file, without a dot. */
  extension: string;
  /** What of a point it carries, within a sentence. */
  carries: string;
  /** Strips and tiles can be written in it too. */
  pieces?: true;
}

/** What a format is, in plain data: the screen, the help and the declarations read it without its readers. */
export interface About {
  /** For people: with the version of the standard where there is one. */
  name: string;
  /** What files of it are taken in as; none when it is only written. */
  kind?: string;
  /** What it holds, within a sentence. */
  holds: string;
  /** Usual extensions without a dot. Files are recognised by content: these only help to choose them. */
  extensions: readonly string[];
  /** Compressed by gzip it is read too. */
  packed?: true;
  /** Ways in which points of a cloud are written, by the name that settings and commands use. */
  points?: { readonly [name: string]: Written };
  /** What else is written in it, within a sentence. */
  written?: string;
  /** What it cannot carry of what is kept here, within a sentence. */
  loses?: string;
}

/** Declares what a format is. */
export const about = <const A extends About>(a: A): A => a;
