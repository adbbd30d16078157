import { Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
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
    const head = await source.read(0, header.pointOffset);
    if (header.compressed) {
      head[104] = header.pointFormat;
      removeVlr(head, header.headerBytes, header.vlrCount);
    }
    await out.write(head);
    for await (const batch of file.records(watch)) {
      patchRecords(header, batch.bytes, batch.count, classification, withheld, batch.first);
      await out.write(batch.bytes);
    }
    const end = header.pointOffset + header.pointCount * header.pointBytes;
    if (!header.compressed && end < source.size) await copyTail(source, end, out);
  });
}

async function copyTail(
  source: { size: number; read(offset: number, length: number): Promise<Uint8Array> },
  from: number,
  out: { write(bytes: Uint8Array): Promise<void> },
): Promise<void> {
  const step = 1 << 20;
  for (let at = from; at < source.size; at += step)
    await out.write(await source.read(at, Math.min(step, source.size - at)));
}

/** The compression record loses its name, so that no reader takes the file for a compressed one. */
function removeVlr(head: Uint8Array, headerBytes: number, count: number): void {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  let at = headerBytes;
  for (let i = 0; i < count; i++) {
    const id = view.getUint16(at + 18, true);
    const user = new TextDecoder('latin1').decode(head.subarray(at + 2, at + 18));
    if (id === 22204 && user.startsWith('laszip encoded')) head.fill(0, at + 2, at + 20);
    at += 54 + view.getUint16(at + 20, true);
  }
  // extended records follow compressed points and are not carried over
  if (head[25] === 4) {
    view.setBigUint64(235, 0n, true);
    view.setUint32(243, 0, true);
  }
}
