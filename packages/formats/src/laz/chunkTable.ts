import { Problem } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';
import { ArithmeticDecoder, IntegerDecoder } from './decoder';
import { ArithmeticEncoder } from './encoder';
import { IntegerEncoder } from './integers';

/** Chunk size of files whose table says how many points each chunk holds. */
export const VARIABLE = 0xffffffff;

export interface LazChunk {
  offset: number;
  bytes: number;
  points: number;
}

/**
 * The table of compressed chunks. Its entries are differences coded by an adaptive arithmetic coder (Said 2004,
 * "Introduction to arithmetic coding", as laid down in the open LAZ specification).
 */
export async function readChunkTable(
  source: ByteSource,
  header: { pointOffset: number; pointCount: number },
  chunkSize: number,
): Promise<LazChunk[]> {
  const damaged = (what: string, place: string) =>
    new Problem(what, {
      code: 'laz-table',
      file: source.name,
      place,
      remedy: 'The file was cut off or damaged: copy it again from its origin.',
    });
  const start = header.pointOffset + 8;
  const pointerBytes = await source.read(header.pointOffset, 8);
  let tableAt = Number(new DataView(pointerBytes.buffer).getBigInt64(0, true));
  if (tableAt === -1) {
    const tail = await source.read(source.size - 8, 8);
    tableAt = Number(new DataView(tail.buffer).getBigInt64(0, true));
  }
  if (!(tableAt >= start && tableAt + 8 <= source.size))
    throw damaged(
      `The table of compressed chunks is said to be at byte ${tableAt} of ${source.size}.`,
      `byte ${header.pointOffset}`,
    );
  const head = new DataView((await source.read(tableAt, 8)).buffer);
  const count = head.getUint32(4, true);
  if (head.getUint32(0, true) !== 0 || count > source.size / 8)
    throw damaged('The table of compressed chunks makes no sense.', `byte ${tableAt}`);
  if (count === 0) return [];
  const data = await source.read(tableAt + 8, source.size - tableAt - 8);
  const variable = chunkSize === VARIABLE;
  const decoder = new ArithmeticDecoder(data);
  const integers = new IntegerDecoder(decoder, 32, 2);
  const out: LazChunk[] = [];
  let offset = start;
  let lastBytes = 0;
  let lastPoints = 0;
  let total = 0;
  for (let i = 0; i < count; i++) {
    let points = Math.min(chunkSize, header.pointCount - total);
    if (variable) {
      lastPoints = integers.decode(lastPoints, 0);
      points = lastPoints;
    }
    lastBytes = integers.decode(lastBytes, 1);
    if (lastBytes <= 0 || points <= 0 || offset + lastBytes > tableAt)
      throw damaged(`Compressed chunk ${i + 1} of ${count} reaches beyond its place.`, `byte ${offset}`);
    out.push({ offset, bytes: lastBytes, points });
    offset += lastBytes;
    total += points;
  }
  if (total !== header.pointCount)
    throw damaged(
      `The header declares ${header.pointCount} points, the compressed chunks hold ${total}.`,
      `byte ${tableAt}`,
    );
  return out;
}

/** The table as it is written. @param variable whether the number of points of each chunk is part of it. */
export function chunkTable(chunks: readonly { bytes: number; points: number }[], variable: boolean): Uint8Array {
  const encoder = new ArithmeticEncoder();
  const integers = new IntegerEncoder(encoder, 32, 2);
  chunks.forEach(({ bytes, points }, i) => {
    if (variable) integers.encode(i > 0 ? chunks[i - 1].points : 0, points, 0);
    integers.encode(i > 0 ? chunks[i - 1].bytes : 0, bytes, 1);
  });
  const code = encoder.finish();
  const out = new Uint8Array(8 + code.length);
  new DataView(out.buffer).setUint32(4, chunks.length, true);
  out.set(code, 8);
  return out;
}
