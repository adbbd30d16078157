import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { openFile } from '../bytes';
import { lookAt, SURENESS, type Format, type Look } from '../format';
import { FORMATS, type FormatName } from './index.generated';

export type AnyFormat = (typeof FORMATS)[FormatName];

/** Kinds that files can be taken in as. */
export type FileKind = {
  [F in FormatName]: (typeof FORMATS)[F]['about'] extends { kind: infer K extends string } ? K : never;
}[FormatName];

/** The format that is surest that this is a file of its own. */
export async function recogniseLook(look: Look): Promise<AnyFormat | undefined> {
  let best: AnyFormat | undefined;
  let rank: number = SURENESS.length;
  for (const format of Object.values(FORMATS)) {
    const { about, sniff }: Format = format;
    if (!sniff || (look.packed && !about.packed)) continue;
    const sure = await sniff(look);
    if (!sure || SURENESS.indexOf(sure) >= rank) continue;
    best = format;
    rank = SURENESS.indexOf(sure);
  }
  return best;
}

/** Tells the format of a file by its content; its name plays no part. Undefined when it is of none. */
export async function recogniseFile(path: string, name = basename(path)): Promise<AnyFormat | undefined> {
  const size = await stat(path).then(
    (s) => s.size,
    () => {
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    },
  );
  if (size === 0)
    throw new Problem('The file is empty.', {
      code: 'file-empty',
      file: name,
      place: 'byte 0',
      remedy: 'Copy the file again from its origin.',
    });
  const source = await openFile(path, name);
  try {
    return await recogniseLook(await lookAt(source));
  } finally {
    await source.close();
  }
}
