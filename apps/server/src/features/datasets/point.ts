import { open, readFile } from 'node:fs/promises';
import {
  allocatePoints,
  ADJUSTED_GPS_OFFSET_S,
  decodeExtra,
  decodeRecords,
  hasTime,
  LasFile,
  WITHHELD,
} from '@longheron/formats/las';
import { type CloudEditEntry, type CloudIndex } from '@longheron/contract/api';
import { applyEdits, LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { unpackRuns } from '@longheron/operations/shared/stored';
import { type ObjectStore } from '../../storage';
import { formatGps } from '@longheron/core/time';

/** Class and rejection of a point after what was done to the cloud by hand. */
export interface EditedPoint {
  cls: number;
  /** Undefined where no act said anything of it. */
  rejected?: boolean;
}

/** @param row place in the stored cloud. */
export async function editedPoint(
  store: ObjectStore,
  indexSha: string,
  entries: CloudEditEntry[],
  row: number,
): Promise<EditedPoint | undefined> {
  const index = JSON.parse(await readFile(store.path(indexSha), 'utf8')) as CloudIndex;
  if (row >= index.count) return undefined;
  const edits = await Promise.all(
    entries.map(async (e) => ({ act: e.act, runs: unpackRuns(await readFile(store.path(e.object))) })),
  );
  const cls = new Uint8Array(1);
  const handle = await open(store.path(index.objects.classes), 'r');
  try {
    await handle.read(cls, 0, 1, row);
  } finally {
    await handle.close();
  }
  const [flags, decided] = [new Uint8Array(1), new Uint8Array(1)];
  applyEdits(edits, row, cls, flags, decided);
  return { cls: cls[0], rejected: decided[0] ? flags[0] === 1 : undefined };
}

/**
 * Every attribute of one point as its file holds it.
 * @param orderPath object with the row in the file of each stored point. @param row place in the stored cloud.
 */
export async function pointAttributes(
  lasPath: string,
  orderPath: string,
  row: number,
  edited?: EditedPoint,
): Promise<Array<[string, string]>> {
  const handle = await open(orderPath, 'r');
  let record: number;
  try {
    const { size } = await handle.stat();
    if (4 * row + 4 > size) return [];
    const { buffer } = await handle.read(Buffer.alloc(4), 0, 4, 4 * row);
    record = buffer.readUInt32LE(0);
  } finally {
    await handle.close();
  }
  const file = await LasFile.openPath(lasPath);
  try {
    const { header } = file;
    // compressed files have no place for a single record
    if (header.compressed) return [['Record', String(record)]];
    const bytes = await file.source.read(header.pointOffset + record * header.pointBytes, header.pointBytes);
    const p = allocatePoints(1, true);
    decodeRecords(header, bytes, 1, p, 0);
    const [x, y, z] = [p.x[0], p.y[0], p.z[0]].map((v, k) => (v * header.scale[k] + header.offset[k]).toFixed(4));
    const cls = edited?.cls ?? p.classification[0];
    const out: Array<[string, string]> = [
      ['Record in the file', String(record)],
      ['Easting, northing', `${x} ${y}`],
      ['Height', z],
      ['Intensity', String(p.intensity[0])],
      ['Echo', `${p.returnNumber[0]} of ${p.returnCount[0]}`],
      ['Class', `${cls} ${(LAS_CLASS_NAMES[cls] ?? '').toLowerCase()}`],
      ['Rejected', (edited?.rejected ?? (p.flags[0] & WITHHELD) !== 0) ? 'yes' : 'no'],
      ['Strip (point source)', String(p.pointSourceId[0])],
      ['Scanner channel', String(p.scannerChannel[0])],
    ];
    if (hasTime(header.pointFormat))
      out.push([
        'GPS time',
        header.globalEncoding & 1
          ? formatGps(p.gpsTime[0] + ADJUSTED_GPS_OFFSET_S, 'gps', 6)
          : `second of week ${p.gpsTime[0].toFixed(6)}`,
      ]);
    const value = new Float32Array(1);
    for (const d of file.extraDimensions()) {
      decodeExtra(header, bytes, 1, d, value, 0);
      out.push([d.name, String(Number(value[0].toPrecision(6)))]);
    }
    return out;
  } finally {
    await file.close();
  }
}
