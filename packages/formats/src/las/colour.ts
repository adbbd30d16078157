import { type SystemDefinition } from '@longheron/core/frames';
import { type Watch } from '@longheron/core/shared';
import { writeMerged, type Merged } from './merge';
import { type LasFile } from './reader';

/**
 * Writes a cloud with the colours of its points, in point format 7, or 8 where it has infrared. Points without a colour
 * keep the one they have.
 * @param rgb three bytes a row of the file. @param has says which rows have one.
 */
export function writeColoured(
  file: LasFile,
  path: string,
  system: SystemDefinition | undefined,
  created: Date,
  rgb: Uint8Array,
  has: (row: number) => boolean,
  watch?: Watch,
): Promise<Merged> {
  return writeMerged([file], path, system, created, 'same', watch, { rgb, has });
}
