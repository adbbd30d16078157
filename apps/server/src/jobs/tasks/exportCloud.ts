import { rm } from 'node:fs/promises';
import { part, Problem, type Notice, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { decodeRecords, allocatePoints, LasFile, WITHHELD } from '@longheron/formats/las';
import { POINT_EXTENSION, writeAs, type PointFormat } from '@longheron/operations/convert';
import { reprojectCloud } from '@longheron/operations/combine';
import { tileIndex, writeStrips, writeTiles, type WrittenPiece } from '@longheron/operations/pieces';
import { incoming, objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

interface Payload {
  las: string;
  crs: string;
  /** Other than the project's. */
  system?: string;
  classes: number[];
  strips: number[];
  withRejected: boolean;
  format: PointFormat;
  split: 'one' | 'strips' | 'tiles';
  /** Lengths in metres. */
  tileM: number;
  bufferM: number;
  capPoints: number;
}

/** Writes chosen classes and strips of a cloud to files, and says how many points were left out and why. */
export async function exportCloud(r: TaskRequest, whole: Watch): Promise<TaskResult> {
  const given = r.payload as unknown as Payload;
  const system = given.system && given.system !== given.crs ? given.system : undefined;
  // points are carried into another system first, in a file of their own
  const carried = system ? incoming(r.storeFolder) : undefined;
  if (system && carried) {
    const name = 'the cloud';
    const path = objectPath(r.storeFolder, given.las);
    await reprojectCloud(path, carried, parseSystem(system), undefined, part(whole, 0, 0.3), name);
  }
  const watch = system ? part(whole, 0.3, 1) : whole;
  const p = system ? { ...given, crs: system } : given;
  const shelf = new Shelf(r.storeFolder);
  const file = await LasFile.openPath(carried ?? objectPath(r.storeFolder, p.las));
  try {
    const { header } = file;
    const { keep, left } = await choose(file, p, part(watch, 0, 0.2, 'Choosing points'));
    const rest = part(watch, 0.2, 1, 'Writing');
    const content: Record<string, unknown> = { format: p.format, split: p.split, crs: p.crs };
    const notices: Notice[] = [];
    let written: number;
    let hash: string;
    if (p.split === 'one') {
      const made = await writeOne(shelf, file, keep, p, rest);
      written = made.written;
      hash = made.sha256;
      Object.assign(content, { file: made.sha256, bytes: made.bytes, lost: made.lost });
    } else {
      const made = await writePieces(r.storeFolder, shelf, file, keep, p, rest, notices);
      written = made.pieces.reduce((sum, x) => sum + x.own, 0);
      hash = made.index ?? made.pieces[0].sha256;
      Object.assign(content, made);
    }
    const figures = {
      points_in: header.pointCount,
      points_out: written,
      left_out_rejected: left.rejected,
      left_out_class: left.otherClass,
      left_out_strip: left.otherStrip,
    };
    const out = header.pointCount - left.rejected - left.otherClass - left.otherStrip;
    if (out !== written)
      throw new Problem(`${out} points were chosen and ${written} written.`, {
        code: 'export-count',
        file: file.source.name,
        remedy: 'Please keep the cloud and report this.',
      });
    return {
      content: { ...content, figures },
      contentHash: hash,
      objects: shelf.objects,
      notices,
      log: [
        `${header.pointCount} points in, ${written} out; left out: ${left.rejected} rejected, ${left.otherClass} of other classes, ${left.otherStrip} of other strips.`,
      ],
    };
  } finally {
    await file.close();
    if (carried) await rm(carried, { force: true });
  }
}

async function choose(
  file: LasFile,
  p: Payload,
  watch: Watch | undefined,
): Promise<{ keep: Uint8Array; left: { rejected: number; otherClass: number; otherStrip: number } }> {
  const { header } = file;
  const keep = new Uint8Array(header.pointCount);
  const classes = new Set(p.classes);
  const strips = new Set(p.strips);
  const left = { rejected: 0, otherClass: 0, otherStrip: 0 };
  let block = allocatePoints(1 << 16);
  for await (const batch of file.records(watch)) {
    if (batch.count > block.count) block = allocatePoints(batch.count);
    decodeRecords(header, batch.bytes, batch.count, block, 0);
    for (let i = 0; i < batch.count; i++) {
      const cls = block.classification[i];
      if (!p.withRejected && (block.flags[i] & WITHHELD || cls === 7 || cls === 18)) left.rejected++;
      else if (classes.size && !classes.has(cls)) left.otherClass++;
      else if (strips.size && !strips.has(block.pointSourceId[i])) left.otherStrip++;
      else keep[batch.first + i] = 1;
    }
  }
  return { keep, left };
}

async function writeOne(
  shelf: Shelf,
  file: LasFile,
  keep: Uint8Array,
  p: Payload,
  watch: Watch | undefined,
): Promise<{ sha256: string; bytes: number; written: number; lost: string[] }> {
  let written = 0;
  let lost: string[] = [];
  const made = await shelf.file(async (path) => {
    ({ written, lost } = await writeAs(file, path, keep, p.format, p.crs, watch));
  }, POINT_EXTENSION[p.format]);
  return { ...made, written, lost };
}

interface StoredPiece extends Omit<WrittenPiece, 'path'> {
  sha256: string;
  bytes: number;
}

async function writePieces(
  storeFolder: string,
  shelf: Shelf,
  file: LasFile,
  keep: Uint8Array,
  p: Payload,
  watch: Watch | undefined,
  notices: Notice[],
): Promise<{ pieces: StoredPiece[]; index?: string; cap?: number }> {
  const paths: string[] = [];
  const pathOf = () => {
    const path = incoming(storeFolder);
    paths.push(path);
    return path;
  };
  const compress = p.format === 'laz';
  try {
    if (p.split === 'strips') {
      const pieces = await writeStrips(file, keep, pathOf, compress, watch);
      return { pieces: await take(shelf, pieces, p.format) };
    }
    const { metresPerUnit } = parseSystem(p.crs).definition;
    const settings = { edge: p.tileM / metresPerUnit, buffer: p.bufferM / metresPerUnit, cap: p.capPoints };
    const { pieces, plan } = await writeTiles(file, keep, settings, pathOf, compress, watch);
    if (plan.overCap.length)
      notices.push({
        code: 'tile-cap',
        severity: 'warning',
        text: `${plan.overCap.length} of ${plan.tiles.length} tiles hold more than ${p.capPoints} points at the smallest edge: ${plan.overCap.slice(0, 5).join(', ')}${plan.overCap.length > 5 ? ' …' : ''}.`,
        effect: 'Programs that need the cap cannot open them.',
        remedy: 'Thin the cloud first, or choose a larger cap or a smaller buffer.',
      });
    const index = await shelf.bytes(
      Buffer.from(tileIndex(pieces, (name) => `${name}.${POINT_EXTENSION[p.format]}`, p.crs)),
      'geojson',
    );
    return { pieces: await take(shelf, pieces, p.format), index, cap: p.capPoints };
  } finally {
    await Promise.all(paths.map((path) => rm(path, { force: true })));
  }
}

async function take(shelf: Shelf, pieces: WrittenPiece[], format: PointFormat): Promise<StoredPiece[]> {
  const out: StoredPiece[] = [];
  for (const { path, ...piece } of pieces) {
    const sha256 = await shelf.take(path, POINT_EXTENSION[format]);
    const { bytes } = shelf.objects.at(-1)!;
    out.push({ ...piece, sha256, bytes });
  }
  return out;
}
