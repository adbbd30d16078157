import { open } from 'node:fs/promises';
import { promisify } from 'node:util';
import { constants, inflateRaw, type InputType, type ZlibOptions } from 'node:zlib';
import { open as openZip, type Entry, type ZipFile } from 'yauzl';
import { Problem } from '@longheron/core/shared';

/** A file of an archive; its bytes are read when they are asked for. */
export interface ArchiveFile {
  /** With its folders, as the archive names it. */
  name: string;
  size: number;
  bytes(): Promise<Uint8Array>;
  /** From its beginning, about so many. */
  head(bytes: number): Promise<Uint8Array>;
}

/** What is looked for in an archive, and how its problems are named. */
export interface ArchiveUse {
  wanted(name: string): boolean;
  /** No file of it is larger, bytes. */
  mostOfOne: number;
  code: string;
  remedy: string;
}

/** An archive holds no more than this. */
const MOST_FILES = 20_000;
const MOST_BYTES = 1e12;
/** No packing of this kind makes more of its bytes. */
const MOST_RATIO = 1032;
/** Of a packed file, so many bytes more than asked for are read. */
const SPARE_BYTES = 1 << 12;
/** Length of a local header without its name, and where the lengths of name and extra field stand in it. */
const LOCAL = { bytes: 30, name: 26, extra: 28 } as const;
const STORED = 0;
const DEFLATED = 8;
/** What systems put into archives for themselves. */
const ASIDE = /(^|\/)(__MACOSX|\.)/;

/** No more is unpacked at once. */
const MOST_AT_ONCE = 4e9;

/** How a file that is an archive begins. */
export const IS_ARCHIVE = [0x50, 0x4b, 3, 4];

const inflate: (from: InputType, options: ZlibOptions) => Promise<Buffer> = promisify(inflateRaw);

/**
 * Files of a ZIP archive: its directory is read now, each file when it is asked for.
 * @throws Problem for what is no archive, leads outside of it, or claims more than can be believed.
 */
export async function filesOfArchive(path: string, file: string, use: ArchiveUse): Promise<ArchiveFile[]> {
  const entries = await directoryOf(path, file, use);
  return entries.map((entry) => ({
    name: entry.fileName,
    size: entry.uncompressedSize,
    bytes: () => unpack(path, file, entry, use),
    head: (bytes) => unpack(path, file, entry, use, bytes),
  }));
}

function directoryOf(path: string, file: string, use: ArchiveUse): Promise<Entry[]> {
  const wrong = wrongIn(use);
  const outside = (error: Error) =>
    // the reader names the entry behind a colon
    wrong('A name in the archive leads outside of it.', file, error.message.replace(/^[^:]*: /, ''));
  const broken = (error: Error) => wrong(`The archive cannot be read: ${error.message}.`, file, 'directory at its end');
  return new Promise((resolve, reject) => {
    openZip(path, { lazyEntries: true, decodeStrings: true, validateEntrySizes: true }, (error, zip) => {
      if (error) {
        reject(/relative path|absolute path/.test(error.message) ? outside(error) : broken(error));
        return;
      }
      const out: Entry[] = [];
      let [count, sum] = [0, 0];
      const stop = (problem: Error) => {
        zip.close();
        reject(problem);
      };
      zip.on('error', (e: Error) => stop(/relative path|absolute path/.test(e.message) ? outside(e) : broken(e)));
      zip.on('end', () => resolve(out));
      zip.on('entry', (entry: Entry) => {
        if (++count > MOST_FILES) {
          stop(wrong(`The archive holds more than ${MOST_FILES} files.`, file, entry.fileName));
          return;
        }
        if (!entry.fileName.endsWith('/') && !ASIDE.test(entry.fileName) && use.wanted(entry.fileName)) {
          sum += entry.uncompressedSize;
          const packs = entry.uncompressedSize > MOST_RATIO * (entry.compressedSize + 64);
          if (entry.uncompressedSize > use.mostOfOne || sum > MOST_BYTES || packs) {
            stop(wrong('The archive claims to hold more than can be believed.', file, entry.fileName));
            return;
          }
          out.push(entry);
        }
        (zip as ZipFile).readEntry();
      });
      zip.readEntry();
    });
  });
}

const wrongIn =
  ({ code, remedy }: ArchiveUse) =>
  (text: string, file: string, place: string) =>
    new Problem(text, { code, file, place, remedy });

/** Bytes of an entry. @param first only so many from its beginning, about. */
async function unpack(path: string, file: string, entry: Entry, use: ArchiveUse, first?: number): Promise<Uint8Array> {
  const source = await open(path, 'r');
  try {
    const local = Buffer.alloc(LOCAL.bytes);
    await source.read(local, 0, LOCAL.bytes, entry.relativeOffsetOfLocalHeader);
    const from =
      entry.relativeOffsetOfLocalHeader +
      LOCAL.bytes +
      local.readUInt16LE(LOCAL.name) +
      local.readUInt16LE(LOCAL.extra);
    const length = Math.min(entry.compressedSize, first === undefined ? Infinity : first + SPARE_BYTES);
    const packed = Buffer.alloc(length);
    const { bytesRead } = await source.read(packed, 0, length, from);
    if (bytesRead < length) throw new Error(`it ends ${length - bytesRead} bytes early`);
    if (entry.compressionMethod === STORED) return packed.subarray(0, first);
    if (entry.compressionMethod !== DEFLATED) throw new Error('it is packed in a way that is not known');
    const whole = first === undefined;
    const bytes = await inflate(packed, {
      maxOutputLength: whole ? Math.max(1, entry.uncompressedSize) : Math.min(use.mostOfOne, MOST_AT_ONCE),
      ...(whole ? {} : { finishFlush: constants.Z_SYNC_FLUSH }),
    });
    if (whole && bytes.length !== entry.uncompressedSize) throw new Error('it is shorter than its directory says');
    return bytes.subarray(0, first);
  } catch (error) {
    throw wrongIn(use)(`The file cannot be unpacked: ${(error as Error).message}.`, file, entry.fileName);
  } finally {
    await source.close();
  }
}

export * from './pack';
