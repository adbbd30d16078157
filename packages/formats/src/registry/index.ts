import { Problem, type Watch } from '@longheron/core/shared';
import { type Format, type PointsToWrite, type WritePoints } from '../format';
import { type PointColumns, type PointSource } from '../points';
import { FORMATS } from './index.generated';
import { recogniseFile, type FileKind } from './recognise';

export { FORMATS, type FormatName } from './index.generated';
export * from './inspect';
export * from './recognise';

type All = typeof FORMATS;

/** What reading a file of a kind gives. */
type Opened<K extends FileKind> = {
  [F in keyof All]: All[F] extends { about: { kind: K }; open?(path: string, name: string): Promise<infer O> }
    ? O
    : never;
}[keyof All];

/**
 * Reads a file as what it is needed for, whichever format it is in; one that is none of them is read by the kind's first
 * format, which says what is wrong with it.
 * @throws Problem that names file, place and remedy.
 */
export async function openAs<K extends FileKind>(kind: K, path: string, name: string): Promise<Opened<K>> {
  const all: Format[] = Object.values(FORMATS);
  const found: Format | undefined = await recogniseFile(path, name);
  const format = found?.about.kind === kind && found.open ? found : all.find((f) => f.about.kind === kind && f.open);
  if (!format?.open) throw new Error(`No format reads ${kind}.`);
  // the format was chosen by its kind
  return (await format.open(path, name)) as Opened<K>;
}

/** Whether a file is a cloud as it is worked on, or comes in another format and is written as LAS first. */
export const isWorkedOn = async (path: string): Promise<boolean> => (await recogniseFile(path)) === FORMATS.las;

/**
 * Opens a cloud that is not LAS. What no format claims is read as text.
 * @param columns what the columns of a text hold, else as guessed.
 */
export async function openPoints(
  path: string,
  name?: string,
  columns?: PointColumns,
): Promise<{ source: PointSource; format: Format }> {
  const found: Format | undefined = await recogniseFile(path, name);
  if (found === FORMATS.las)
    throw new Problem('The cloud is LAS already.', { code: 'format', file: name ?? path, remedy: 'Use it as it is.' });
  const format: Format = found?.points ? found : FORMATS.text;
  return { source: await format.points!(path, name, columns), format };
}

/** Id of a format: the name of its folder. */
export const formatId = (format: Format): string =>
  Object.entries(FORMATS).find(([, f]) => (f as Format) === format)![0];

/**
 * Writes chosen points of a LAS file in a format.
 * @param name of the way to write, as in `about.points`.
 * @returns points written, and what the format does not carry.
 */
export async function writePoints(
  name: string,
  points: PointsToWrite,
  path: string,
  watch?: Watch,
): Promise<{ written: number; lost: string[] }> {
  const all: Format[] = Object.values(FORMATS);
  const write = all.map((f) => (f.write as { [name: string]: WritePoints } | undefined)?.[name]).find(Boolean);
  if (!write) throw new Error(`No format writes points as ${name}.`);
  return write(points, path, watch);
}
