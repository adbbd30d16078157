import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { type MarkContext } from '@longheron/core/accuracy';
import { Problem, type Watch } from '@longheron/core/shared';
import { emptyFacts, type FileFacts, type Format } from '../format';
import { FORMATS } from './index.generated';
import { nameFinding } from './names';
import { recogniseFile, type FileKind } from './recognise';

/** What can be imported, in a sentence. */
const KNOWN = `Known are ${[...new Set(Object.values(FORMATS).flatMap((f) => (f.sniff ? [f.about.name] : [])))].join('; ')}.`;

/**
 * Inspects a file by content. Throws a Problem when it is damaged.
 * @param known what is known already, for marks.
 */
export async function inspectFile(
  path: string,
  name = basename(path),
  known: MarkContext = {},
  watch?: Watch,
): Promise<FileFacts & { kind: FileKind }> {
  const found = await recogniseFile(path, name);
  const format: Format | undefined = found;
  if (!found || !('kind' in found.about) || !format?.inspect)
    throw new Problem('The content is of no kind that is known here.', {
      code: 'file-kind',
      file: name,
      place: 'byte 0',
      remedy: KNOWN,
    });
  const { kind } = found.about;
  const out = { ...emptyFacts(path, name, (await stat(path)).size, kind), kind };
  await format.inspect({ path, name, known }, out, watch);
  if (out.startGps !== null && out.endGps !== null) {
    const finding = nameFinding(name, out.startGps, out.endGps);
    if (finding) out.findings.push(finding);
  }
  return out;
}
