import { allocatePoints, decodeRecords, hasColour, LasFile } from '@longheron/formats/las';
import { type PointBatch, type Stand } from '@longheron/formats/points';
import { formatId, openPoints, recogniseFile } from '@longheron/formats/registry';
import { Problem, type Watch } from '@longheron/core/shared';
import { type OpenedCloud } from '../computation/types';

/** A scan as it was given: a file, or one of several in a file. */
export interface OpenScan {
  name: string;
  file: string;
  path: string;
  /** Its number among the points of the file, from 1, where the file holds several or places them. */
  number?: number;
  /** The pose by which the file places it. */
  stand?: Stand;
  coloured: boolean;
}

/** Scans by their names; a file with poses gives each of its scans. @throws Problem for two of one name. */
export async function openScans(clouds: readonly OpenedCloud[], watch?: Watch): Promise<OpenScan[]> {
  const out: OpenScan[] = [];
  for (const cloud of clouds) {
    const base = cloud.name.replace(/\.[^.]+$/, '');
    const path = await cloud.las(watch);
    const look = await lookInto(path, cloud.name);
    const { coloured } = look;
    const stands = cloud.stands ?? look.stands;
    if (stands?.length)
      stands.forEach((stand, k) =>
        out.push({
          name: stands.length === 1 ? base : stand.name,
          file: cloud.name,
          path,
          number: k + 1,
          stand,
          coloured,
        }),
      );
    else out.push({ name: base, file: cloud.name, path, coloured });
  }
  const twice = out.find((s, k) => out.findIndex((o) => o.name === s.name) < k);
  if (twice)
    throw new Problem(`Two scans are called ${twice.name}.`, {
      code: 'register-name',
      file: twice.file,
      remedy: 'Rename one; targets and stations name them.',
    });
  return out;
}

async function lookInto(path: string, name: string): Promise<{ stands?: Stand[]; coloured: boolean }> {
  const format = await recogniseFile(path, name);
  if (format && formatId(format) === 'las') {
    const file = await LasFile.openPath(path, name);
    await file.close();
    return { coloured: hasColour(file.header.pointFormat) };
  }
  const { source } = await openPoints(path, name);
  await source.close();
  return { stands: source.stands, coloured: source.fields.colour };
}

/** Points of a scan in its own frame, as its file counts lengths, in batches; each is valid until the next. */
export async function* ownPoints(scan: OpenScan, watch?: Watch): AsyncGenerator<PointBatch> {
  for await (const batch of pointsOf(scan, watch)) {
    const own = usable(batch, scan.number);
    if (!own.count) continue;
    if (scan.stand) takeOffPose(own, scan.stand);
    yield own;
  }
}

async function* pointsOf({ path, file: name, number }: OpenScan, watch?: Watch): AsyncGenerator<PointBatch> {
  const format = await recogniseFile(path, name);
  if (!format || formatId(format) !== 'las') {
    const { source } = await openPoints(path, name);
    try {
      yield* source.batches(watch, number);
    } finally {
      await source.close();
    }
    return;
  }
  const file = await LasFile.openPath(path, name);
  try {
    const { header } = file;
    const { scale, offset } = header;
    for await (const records of file.records(watch)) {
      const p = allocatePoints(records.count, hasColour(header.pointFormat));
      decodeRecords(header, records.bytes, records.count, p, 0);
      const column = (raw: Int32Array, k: number) => {
        const out = new Float64Array(raw.length);
        for (let i = 0; i < raw.length; i++) out[i] = raw[i] * scale[k] + offset[k];
        return out;
      };
      yield {
        count: records.count,
        x: column(p.x, 0),
        y: column(p.y, 1),
        z: column(p.z, 2),
        intensity: p.intensity,
        source: p.pointSourceId,
        ...(p.red && p.green && p.blue ? { colour: [p.red, p.green, p.blue] } : {}),
      };
    }
  } finally {
    await file.close();
  }
}

/** Points that have coordinates and bear a number. */
function usable(batch: PointBatch, number: number | undefined): PointBatch {
  const { source, count, x, y, z } = batch;
  const keep = (i: number) =>
    Number.isFinite(x[i] + y[i] + z[i]) && (number === undefined || !source || source[i] === number);
  let first = 0;
  while (first < count && keep(first)) first++;
  if (first === count) return batch;
  const rows = Int32Array.from({ length: count }, (_, i) => i).filter(keep);
  const pick = <T extends Float64Array | Uint16Array | Uint8Array>(from: T): T => {
    const out = from.slice(0, rows.length) as T;
    for (let k = 0; k < rows.length; k++) out[k] = from[rows[k]];
    return out;
  };
  return {
    count: rows.length,
    x: pick(batch.x),
    y: pick(batch.y),
    z: pick(batch.z),
    ...(batch.intensity ? { intensity: pick(batch.intensity) } : {}),
    ...(batch.colour ? { colour: [pick(batch.colour[0]), pick(batch.colour[1]), pick(batch.colour[2])] } : {}),
    ...(source ? { source: pick(source) } : {}),
  };
}

/** From the file's frame back to the scanner's. */
function takeOffPose({ x, y, z, count }: PointBatch, { rotation: r, atM: t }: Stand): void {
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [x[i] - t[0], y[i] - t[1], z[i] - t[2]];
    x[i] = r[0] * a + r[3] * b + r[6] * c;
    y[i] = r[1] * a + r[4] * b + r[7] * c;
    z[i] = r[2] * a + r[5] * b + r[8] * c;
  }
}
