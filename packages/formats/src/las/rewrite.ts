import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { copyExtended, headFor, RecordOutput } from './output';
import { patchRecords } from './points';
import { type LasFile } from './reader';

/**
 * Writes the same cloud with other classes and withheld flags; every other byte of header, records and points stays
 * as it was. Compressed input is written uncompressed.
 */
export async function rewriteClasses(
  file: LasFile,
  path: string,
  classification: Uint8Array,
  withheld: Uint8Array | undefined,
  watch?: Watch,
): Promise<void> {
  const { header, source } = file;
  const legacy = header.pointFormat < 6;
  if (legacy && classification.some((c) => c > 31))
    throw new Problem('Classes above 31 do not fit this point format.', {
      code: 'las-class',
      file: source.name,
      remedy: 'Choose classes up to 31.',
    });
  await writeFileWhole(path, async (out) => {
    const head = headFor(await source.read(0, header.pointOffset), header, false);
    await out.write(head);
    const points = await RecordOutput.begin(out, header.pointFormat, header.pointBytes, false);
    for await (const batch of file.records(watch)) {
      patchRecords(header, batch.bytes, batch.count, classification, withheld, batch.first);
      await points.append(batch.bytes, batch.count);
    }
    await points.finish();
    await copyExtended(source, header, out, head);
    await out.writeAt(head, 0);
  });
}
