import { part, type Watch } from '@longheron/core/shared';
import { decodeRecords, allocatePoints, LasFile, WITHHELD, writeSelected } from '@longheron/formats/las';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Writes chosen classes and strips of a cloud to a LAS file, and says how many points were left out and why. */
export async function exportCloud(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as { las: string; crs: string; classes: number[]; strips: number[]; withRejected: boolean };
  const shelf = new Shelf(r.storeFolder);
  const file = await LasFile.openPath(objectPath(r.storeFolder, p.las));
  try {
    const { header } = file;
    const keep = new Uint8Array(header.pointCount);
    const classes = new Set(p.classes);
    const strips = new Set(p.strips);
    const left = { rejected: 0, otherClass: 0, otherStrip: 0 };
    let block = allocatePoints(1 << 16);
    for await (const batch of file.records(part(watch, 0, 0.3, 'Choosing points'))) {
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
    let written = 0;
    const las = await shelf.file(async (path) => {
      ({ written } = await writeSelected(file, path, keep, part(watch, 0.3, 1, 'Writing')));
    }, 'las');
    const figures = {
      points_in: header.pointCount,
      points_out: written,
      left_out_rejected: left.rejected,
      left_out_class: left.otherClass,
      left_out_strip: left.otherStrip,
    };
    return {
      content: { las: las.sha256, bytes: las.bytes, figures, crs: p.crs },
      contentHash: las.sha256,
      objects: shelf.objects,
      notices: [],
      log: [
        `${header.pointCount} points in, ${written} out; left out: ${left.rejected} rejected, ${left.otherClass} of other classes, ${left.otherStrip} of other strips.`,
      ],
    };
  } finally {
    await file.close();
  }
}
