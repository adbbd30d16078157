import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ZipFile } from 'yazl';
import { Cancelled, tick, type Watch } from '@longheron/core/shared';
import { type ArchiveFile } from './index';

/** A file to be packed: from a path, from another archive, or as bytes. */
export interface ToPack {
  /** With folders, parted by slashes, inside the archive. */
  name: string;
  from: { path: string } | { entry: ArchiveFile } | { bytes: Uint8Array };
}

/** What an archive says of its files. */
export interface Manifest {
  made: string;
  files: Array<{ name: string; bytes: number; sha256: string }>;
}

export const MANIFEST = 'manifest.json';
/** Files that are packed themselves are stored as they are. */
const PACKED = /\.(laz|e57|jpe?g|png|zip)$/i;

/** Packs files with a list of their sizes and hashes. Times in the archive are those given, so that it is the same again. */
export async function packArchive(
  outPath: string,
  files: readonly ToPack[],
  made: Date,
  watch?: Watch,
): Promise<Manifest> {
  const zip = new ZipFile();
  const manifest: Manifest = { made: made.toISOString(), files: [] };
  const written = pipeline(zip.outputStream, createWriteStream(outPath));
  for (const [k, f] of files.entries()) {
    tick(watch, k / files.length, `Packing ${f.name}`);
    const { bytes, sha256 } = await described(f);
    manifest.files.push({ name: f.name, bytes, sha256 });
    const options = { mtime: made, compress: !PACKED.test(f.name) };
    if ('path' in f.from) zip.addFile(f.from.path, f.name, options);
    else if ('bytes' in f.from) zip.addBuffer(Buffer.from(f.from.bytes), f.name, options);
    else {
      const { entry } = f.from;
      zip.addReadStreamLazy(f.name, { ...options, size: bytes }, (give) => {
        entry.bytes().then(
          (b) => give(null, Readable.from([Buffer.from(b)])),
          (error: Error) => give(error, Readable.from([])),
        );
      });
    }
    if (watch?.signal?.aborted) throw new Cancelled();
  }
  zip.addBuffer(Buffer.from(`${JSON.stringify(manifest, null, 2)}\n`), MANIFEST, { mtime: made });
  zip.end();
  await written;
  return manifest;
}

async function described({ from }: ToPack): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256');
  if ('path' in from) {
    for await (const chunk of createReadStream(from.path)) hash.update(chunk as Buffer);
    return { bytes: (await stat(from.path)).size, sha256: hash.digest('hex') };
  }
  const bytes = 'bytes' in from ? from.bytes : await from.entry.bytes();
  return { bytes: bytes.length, sha256: hash.update(bytes).digest('hex') };
}

/** A file that is not as the archive's list has it. */
export interface Differing {
  name: string;
  why: 'missing' | 'other size' | 'other bytes';
}

/** Holds the files of an archive against its list. @returns undefined for an archive without one. */
export async function againstManifest(all: readonly ArchiveFile[], watch?: Watch): Promise<Differing[] | undefined> {
  const own = all.find((f) => f.name === MANIFEST);
  if (!own || own.size > MOST_LIST_BYTES) return undefined;
  let list: Manifest['files'];
  try {
    list = (JSON.parse(new TextDecoder().decode(await own.bytes())) as Manifest).files;
  } catch {
    return undefined;
  }
  if (!Array.isArray(list)) return undefined;
  const out: Differing[] = [];
  for (const [k, f] of list.entries()) {
    tick(watch, k / list.length, `Checking ${f.name}`);
    const there = all.find((a) => a.name === f.name);
    if (!there) out.push({ name: String(f.name), why: 'missing' });
    else if (there.size !== f.bytes) out.push({ name: f.name, why: 'other size' });
    else if (
      createHash('sha256')
        .update(await there.bytes())
        .digest('hex') !== f.sha256
    )
      out.push({ name: f.name, why: 'other bytes' });
  }
  return out;
}

const MOST_LIST_BYTES = 1 << 24;
