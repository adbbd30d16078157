import { Problem } from '@longheron/core/shared';
import { memorySource, openFile, type ByteSource } from '../bytes';
import { ColumnRows, type ColumnLayout } from './columnRows';
import { decodeText } from './decode';

/** So much of a file is in memory at a time. */
const PIECE_BYTES = 1 << 23;
/** The first bytes say how a text is written. */
const LOOK_BYTES = 1 << 16;
const [CR, LF] = [13, 10];

/** Reads a table of numbers from its file, piece by piece: memory is what its columns take, however long the file is. */
export async function openColumns(path: string, file: string, layout: ColumnLayout): Promise<ColumnRows> {
  const source = await openFile(path, file);
  try {
    return await readColumns(source, layout);
  } finally {
    await source.close();
  }
}

/** Reads a table of numbers that is in memory. */
export const columnsOf = (bytes: Uint8Array, file: string, layout: ColumnLayout, pieceBytes?: number) =>
  readColumns(memorySource(bytes, file), layout, pieceBytes);

async function readColumns(source: ByteSource, layout: ColumnLayout, pieceBytes = PIECE_BYTES): Promise<ColumnRows> {
  const file = source.name;
  const head = headOf(await source.read(0, Math.min(source.size, LOOK_BYTES)), file);
  if (head === 'utf-16') {
    const text = decodeText(await source.read(0, source.size), file);
    let lines = 1;
    for (let i = 0; i < text.length; i++) {
      const c = text.charCodeAt(i);
      if (c === LF || c === CR) lines++;
    }
    const rows = new ColumnRows(file, lines, layout);
    rows.push(text, true);
    return rows.finish();
  }
  const each = async (work: (bytes: Uint8Array, at: number) => void) => {
    for (let at = 0; at < source.size; at += pieceBytes)
      work(await source.read(at, Math.min(pieceBytes, source.size - at)), at);
  };
  let lines = 1;
  let before = 0;
  await each((bytes, at) => {
    refuseBinary(bytes, at, file);
    lines += lineEnds(bytes, before);
    before = bytes[bytes.length - 1];
  });
  const rows = new ColumnRows(file, lines, layout);
  const decoder = new TextDecoder(head);
  await each((bytes) => rows.push(decoder.decode(bytes, { stream: true })));
  rows.push(decoder.decode(), true);
  return rows.finish();
}

/** How a text is written, by its first bytes. @throws Problem when there are none. */
function headOf(bytes: Uint8Array, file: string): 'utf-8' | 'windows-1252' | 'utf-16' {
  if (bytes.length === 0) decodeText(bytes, file);
  if ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)) return 'utf-16';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: true });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

function refuseBinary(bytes: Uint8Array, at: number, file: string): void {
  const zero = bytes.indexOf(0);
  if (zero < 0) return;
  throw new Problem('The file holds binary data, not text.', {
    code: 'file-encoding',
    file,
    place: `byte ${at + zero}`,
    remedy: 'Choose a text file in UTF-8.',
  });
}

/** Line ends in these bytes; one of two bytes counts once. @param before the byte in front of them. */
function lineEnds(bytes: Uint8Array, before: number): number {
  let count = 0;
  for (let i = 0; i < bytes.length; i++) {
    if (bytes[i] === CR) count++;
    else if (bytes[i] === LF && before !== CR) count++;
    before = bytes[i];
  }
  return count;
}
