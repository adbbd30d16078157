import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { decodeRuns, encodeRuns, type EditAct, type Runs } from '@longheron/core/cloud';
import { Problem } from '@longheron/core/shared';

/** An act's rows as the bytes that are kept of it: runs (docs/formats/cloud-store.md), deflated. */
export const packRuns = (runs: Runs): Uint8Array => deflateRawSync(encodeRuns(runs));

/** @throws Problem when the bytes are damaged. */
export function unpackRuns(bytes: Uint8Array): Runs {
  let plain: Buffer;
  try {
    plain = inflateRawSync(bytes);
  } catch {
    throw new Problem('The record of an edit is damaged.', {
      code: 'edit-damaged',
      place: 'compressed runs',
      remedy: 'Undo to the revision before it; raw files are not concerned.',
    });
  }
  return decodeRuns(plain);
}

/** An act in words. */
export function actWords(act: EditAct, className: (c: number) => string): string {
  if (act.kind === 'class') return `set to ${className(act.to)}`;
  return act.kind === 'reject' ? 'rejected' : 'taken back';
}
