import { type Watch } from '@longheron/core/shared';
import { type LasFile } from '../las';
import { type PointColumns, type PointSource } from '../points';
import { type About } from './about';
import { type Inspect } from './facts';
import { type Look } from './look';

export * from './about';
export * from './facts';
export * from './look';

/**
 * How sure a format is that a file is its own, the surest first: a signature that no other has; words of its own; names
 * of columns; numbers that could be its own; a table of whatever.
 */
export const SURENESS = ['signature', 'words', 'columns', 'numbers', 'table'] as const;
export type Sureness = (typeof SURENESS)[number];

/** Points on their way into a file. */
export interface PointsToWrite {
  file: LasFile;
  /** 1 for each point to write, in file order. */
  keep: Uint8Array;
  /** Label of the system; undefined when there is none. */
  crs: string | undefined;
}

/** Writes points. @returns how many, and what the format does not carry of them. */
export type WritePoints = (
  points: PointsToWrite,
  path: string,
  watch?: Watch,
) => Promise<{ written: number; lost: string[] }>;

/** A format: all that is done with files of it. */
export interface Format<A extends About = About, O = unknown> {
  about: A;
  /** How sure it is that this is one of its files; undefined when it is none. */
  sniff?(look: Look): Sureness | undefined | Promise<Sureness | undefined>;
  inspect?: Inspect;
  /** Reads a file of it. @param name for messages. @throws Problem that names file, place and remedy. */
  open?(path: string, name: string): Promise<O>;
  /** Opens a cloud of it to be written as LAS. @param columns what the columns of a text hold, else as guessed. */
  points?(path: string, name?: string, columns?: PointColumns): Promise<PointSource>;
  /** Writers, by the names that `about.points` gives. */
  write?: { [N in keyof NonNullable<A['points']>]: WritePoints };
}

/** Declares a format. */
export const format = <const A extends About, O = never>(f: Format<A, O>): Format<A, O> => f;
