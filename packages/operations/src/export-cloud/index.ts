import { rm } from 'node:fs/promises';
import { type PieceContent, type PointsContent } from '@longheron/contract/kinds/export';
import { type SettingsOf } from '@longheron/contract/declare';
import declaration from '@longheron/contract/operations/export-cloud';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { pointFormat } from '@longheron/contract/formats';
import { parseSystem } from '@longheron/formats/crs';
import { allocatePoints, decodeRecords, LasFile, WITHHELD } from '@longheron/formats/las';
import { writePoints } from '@longheron/formats/registry';
import { computation, type Output } from '../computation/types';
import { reprojectCloud } from '../reproject/reproject';
import { ReportBuilder } from '../shared/report';
import { type Store } from '../shared/store';
import { crsFrom } from '../shared/words';
import { tileIndex, writeStrips, writeTiles, type WrittenPiece } from './pieces';

export { tileIndex, writeStrips, writeTiles } from './pieces';

type Settings = SettingsOf<(typeof declaration)['settings']>;

/** Writes chosen classes and strips of a cloud to files, and says how many points were left out and why. */
export default computation(declaration, async ({ cloud }, settings, context, out, whole) => {
  const builder = new ReportBuilder('export-cloud', settings);
  const own = crsFrom(context);
  const other = settings.system && settings.system !== own ? settings.system : undefined;
  const crs = other ?? own;
  const path = await cloud.las();
  // points are carried into another system first, in a file of their own
  const carried = other ? out.store.scratch() : undefined;
  if (other && carried)
    await reprojectCloud(path, carried, parseSystem(other), undefined, part(whole, 0, 0.3), 'the cloud');
  const watch = other ? part(whole, 0.3, 1) : whole;
  const file = await LasFile.openPath(carried ?? path);
  try {
    const { header } = file;
    const { keep, left } = await choose(file, settings, part(watch, 0, 0.2, 'Choosing points'));
    const rest = part(watch, 0.2, 1, 'Writing');
    const { written, hash, ...made } =
      settings.split === 'one'
        ? await writeOne(out, file, keep, settings, crs, rest)
        : await writePieces(builder, out.store, file, keep, settings, crs, rest);
    const wanted = header.pointCount - left.rejected - left.otherClass - left.otherStrip;
    if (wanted !== written)
      throw new Problem(`${wanted} points were chosen and ${written} written.`, {
        code: 'export-count',
        file: file.source.name,
        remedy: 'Please keep the cloud and report this.',
      });
    const figures: PointsContent['figures'] = {
      points_in: header.pointCount,
      points_out: written,
      left_out_rejected: left.rejected,
      left_out_class: left.otherClass,
      left_out_strip: left.otherStrip,
    };
    return {
      content: { format: settings.format, split: settings.split, crs, ...made, figures },
      hash,
      report: builder.finish(crs, figures),
      log: [
        `${header.pointCount} points in, ${written} out; left out: ${left.rejected} rejected, ${left.otherClass} of other classes, ${left.otherStrip} of other strips.`,
      ],
    };
  } finally {
    await file.close();
    if (carried) await rm(carried, { force: true });
  }
});

async function choose(
  file: LasFile,
  s: Settings,
  watch: Watch | undefined,
): Promise<{ keep: Uint8Array; left: { rejected: number; otherClass: number; otherStrip: number } }> {
  const { header } = file;
  const keep = new Uint8Array(header.pointCount);
  const classes = new Set(s.classes);
  const strips = new Set(s.strips);
  const left = { rejected: 0, otherClass: 0, otherStrip: 0 };
  let block = allocatePoints(1 << 16);
  for await (const batch of file.records(watch)) {
    if (batch.count > block.count) block = allocatePoints(batch.count);
    decodeRecords(header, batch.bytes, batch.count, block, 0);
    for (let i = 0; i < batch.count; i++) {
      const cls = block.classification[i];
      if (!s.withRejected && (block.flags[i] & WITHHELD || cls === 7 || cls === 18)) left.rejected++;
      else if (classes.size && !classes.has(cls)) left.otherClass++;
      else if (strips.size && !strips.has(block.pointSourceId[i])) left.otherStrip++;
      else keep[batch.first + i] = 1;
    }
  }
  return { keep, left };
}

/** What was written, and what stands for it. */
type Written = Pick<PointsContent, 'file' | 'bytes' | 'lost' | 'pieces' | 'index' | 'cap'> & {
  written: number;
  hash: string;
};

async function writeOne(
  out: Output,
  file: LasFile,
  keep: Uint8Array,
  { format }: Settings,
  crs: string,
  watch: Watch | undefined,
): Promise<Written> {
  let written = 0;
  let lost: string[] = [];
  const made = await out.file('points', pointFormat(format).extension, async (path) => {
    ({ written, lost } = await writePoints(format, { file, keep, crs }, path, watch));
  });
  return { file: made.sha256, bytes: made.bytes, lost, written, hash: made.sha256 };
}

async function writePieces(
  builder: ReportBuilder,
  store: Store,
  file: LasFile,
  keep: Uint8Array,
  s: Settings,
  crs: string,
  watch: Watch | undefined,
): Promise<Written> {
  const paths: string[] = [];
  const pathOf = () => {
    const path = store.scratch();
    paths.push(path);
    return path;
  };
  const compress = s.format === 'laz';
  const extension = pointFormat(s.format).extension;
  try {
    if (s.split === 'strips') {
      const pieces = await take(store, await writeStrips(file, keep, pathOf, compress, watch), extension);
      return { pieces, written: ownOf(pieces), hash: pieces[0].sha256 };
    }
    const { metresPerUnit } = parseSystem(crs).definition;
    const settings = { edge: s.tileM / metresPerUnit, buffer: s.bufferM / metresPerUnit, cap: s.capPoints };
    const { pieces: made, plan } = await writeTiles(file, keep, settings, pathOf, compress, watch);
    if (plan.overCap.length)
      builder.notice({
        code: 'tile-cap',
        severity: 'warning',
        text: `${plan.overCap.length} of ${plan.tiles.length} tiles hold more than ${s.capPoints} points at the smallest edge: ${plan.overCap.slice(0, 5).join(', ')}${plan.overCap.length > 5 ? ' …' : ''}.`,
        effect: 'Programs that need the cap cannot open them.',
        remedy: 'Thin the cloud first, or choose a larger cap or a smaller buffer.',
      });
    const index = await store.bytes(Buffer.from(tileIndex(made, (name) => `${name}.${extension}`, crs)), 'geojson');
    const pieces = await take(store, made, extension);
    return { pieces, index, cap: s.capPoints, written: ownOf(pieces), hash: index };
  } finally {
    await Promise.all(paths.map((path) => rm(path, { force: true })));
  }
}

const ownOf = (pieces: PieceContent[]) => pieces.reduce((sum, p) => sum + p.own, 0);

async function take(store: Store, pieces: WrittenPiece[], kind: string): Promise<PieceContent[]> {
  const out: PieceContent[] = [];
  for (const { path, ...piece } of pieces) out.push({ ...piece, ...(await store.take(path, kind)) });
  return out;
}
