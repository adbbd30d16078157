import { type SystemDefinition } from '@longheron/core/frames';
import { part, Problem, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '../bytes';
import { hasWaves, wideFormatOf, widenRecord } from './convertRecord';
import { PointCount, patchHead } from './counts';
import { POINT_BYTES, type LasHeader } from './header';
import { RecordOutput } from './output';
import { hasTime } from './points';
import { type LasFile } from './reader';
import { putText, vlr } from './records';
import { markSystem, systemRecords } from './system';

const HEADER = 375;
const DESCRIPTOR = 192;
const TYPE_BYTES = [0, 1, 1, 2, 2, 4, 4, 8, 8, 4, 8];
/** Bit of the global encoding: times are GPS seconds less 1e9. */
const ADJUSTED = 1;

/** Whether strips of one number are one: always, never, or when their times are near each other. */
export type MergedStrips = 'same' | 'apart' | 'by time';

export interface Merged {
  written: number;
  pointFormat: number;
  /** What some of the files hold that the merged one does not, in words. */
  lost: string[];
  /** What was added to the strip numbers of each file. */
  stripsMovedBy: number[];
}

/** Colours of the rows of one file, in place of what it has. */
export interface Paint {
  /** Three bytes a row. */
  rgb: Uint8Array;
  has: (row: number) => boolean;
}

/** Byte of a wide record at which its colour begins. */
const WIDE_COLOUR_AT = 30;

/** An extra dimension of the merged file, and where it comes from in each. */
interface Extra {
  descriptor: Uint8Array;
  bytes: number;
  /** Byte in the records of each file; −1 where it has none. */
  from: number[];
}

/**
 * Writes several clouds of one system as one, file after file: LAS 1.4 in the point format that holds what all hold,
 * extra bytes by their names. Where two files give one number to different strips, those of the later are moved up.
 * @throws Problem when their times count differently, or a place does not fit the common scale.
 */
export async function writeMerged(
  files: LasFile[],
  path: string,
  system: SystemDefinition | undefined,
  created: Date,
  strips: MergedStrips = 'by time',
  watch?: Watch,
  paint?: Paint,
): Promise<Merged> {
  const headers = files.map((f) => f.header);
  const lost = refuseOrList(files);
  const holding = wideFormatOf(headers.map((h) => h.pointFormat));
  const pointFormat = paint && holding === 6 ? 7 : holding;
  const extras = extrasOf(files, lost);
  const base = POINT_BYTES[pointFormat];
  const step = base + extras.reduce((n, e) => n + e.bytes, 0);
  const scale = [0, 1, 2].map((k) => Math.min(...headers.map((h) => h.scale[k]))) as LasHeader['scale'];
  const offset = headers[0].offset.map((_, k) => {
    const all = headers.flatMap((h) => [h.min[k], h.max[k]]);
    return Math.round((Math.min(...all) + Math.max(...all)) / 2000) * 1000;
  }) as LasHeader['offset'];
  const stripsMovedBy = await stripMoves(files, strips, part(watch, 0, 0.3));
  const made = { ...headers[0], version: [1, 4] as [number, number], pointFormat, pointBytes: step, scale, offset };
  const count = new PointCount(made);
  await writeFileWhole(path, async (out) => {
    const head = headOf(
      made,
      extras,
      system,
      created,
      headers.some((h) => h.globalEncoding & ADJUSTED),
    );
    await out.write(head);
    const points = await RecordOutput.begin(out, pointFormat, step, false);
    let buffer = new Uint8Array(0);
    for (const [f, file] of files.entries()) {
      const { header, source } = file;
      const { pointBytes: width, pointFormat: format } = header;
      const same = [0, 1, 2].every((k) => header.scale[k] === scale[k] && header.offset[k] === offset[k]);
      const share = (n: number) => 0.3 + (0.7 * n) / files.length;
      for await (const { bytes, count: n, first } of file.records(part(watch, share(f), share(f + 1)))) {
        if (buffer.length < n * step) buffer = new Uint8Array(n * step);
        const view = new DataView(bytes.buffer, bytes.byteOffset, n * width);
        const to = new DataView(buffer.buffer);
        for (let i = 0; i < n; i++) {
          const [a, o] = [i * width, i * step];
          widenRecord(bytes, view, a, format, buffer, to, o, pointFormat);
          if (paint?.has(first + i))
            for (let k = 0; k < 3; k++)
              to.setUint16(o + WIDE_COLOUR_AT + 2 * k, 257 * paint.rgb[3 * (first + i) + k], true);
          if (!same)
            for (let k = 0; k < 3; k++) {
              const value = view.getInt32(a + 4 * k, true) * header.scale[k] + header.offset[k];
              const v = Math.round((value - offset[k]) / scale[k]);
              if (!(v >= -2147483648 && v <= 2147483647)) throw tooFar(source.name, first + i);
              to.setInt32(o + 4 * k, v, true);
            }
          if (stripsMovedBy[f]) {
            const strip = to.getUint16(o + 20, true);
            if (strip) to.setUint16(o + 20, strip + stripsMovedBy[f], true);
          }
          let e = o + base;
          for (const x of extras) {
            if (x.from[f] < 0) buffer.fill(0, e, e + x.bytes);
            else buffer.set(bytes.subarray(a + x.from[f], a + x.from[f] + x.bytes), e);
            e += x.bytes;
          }
          count.add(buffer, o, pointFormat);
        }
        await points.append(buffer, n);
      }
    }
    await points.finish();
    patchHead(head, made, count);
    await out.writeAt(head, 0);
  });
  return { written: count.count, pointFormat, lost, stripsMovedBy };
}

const tooFar = (file: string, point: number) =>
  new Problem('The clouds lie too far from each other for one file.', {
    code: 'merge-extent',
    file,
    place: `point ${point + 1}`,
    remedy: 'Check their systems; merge those that lie together.',
  });

function refuseOrList(files: LasFile[]): string[] {
  const timed = files.filter((f) => hasTime(f.header.pointFormat));
  const [first] = timed;
  const other = timed.find((f) => (f.header.globalEncoding ^ first.header.globalEncoding) & ADJUSTED);
  if (other)
    throw new Problem('The times of one cloud are GPS seconds, of another seconds of a week.', {
      code: 'merge-times',
      file: other.source.name,
      place: 'byte 6',
      remedy: 'Merge only clouds whose times count alike.',
    });
  const lost: string[] = [];
  if (files.some((f) => hasWaves(f.header.pointFormat))) lost.push('wave packets');
  if (timed.length && timed.length < files.length) lost.push('times where a cloud has none: they are 0');
  return lost;
}

function extrasOf(files: LasFile[], lost: string[]): Extra[] {
  const out: Extra[] = [];
  files.forEach((file, f) => {
    const { header } = file;
    let at: number = POINT_BYTES[header.pointFormat];
    const data = header.vlrs.find((v) => v.userId === 'LASF_Spec' && v.recordId === 4)?.data ?? new Uint8Array(0);
    for (let o = 0; o + DESCRIPTOR <= data.length; o += DESCRIPTOR) {
      const descriptor = data.subarray(o, o + DESCRIPTOR);
      const bytes = descriptor[2] === 0 ? descriptor[3] : (TYPE_BYTES[descriptor[2]] ?? 0);
      if (at + bytes > header.pointBytes) break;
      const name = nameOf(descriptor);
      const known = out.find((x) => nameOf(x.descriptor) === name);
      if (!known) out.push({ descriptor, bytes, from: files.map((_, k) => (k === f ? at : -1)) });
      else if (alike(known.descriptor, descriptor)) known.from[f] = at;
      else lost.push(`"${name}" of ${file.source.name}, which is stored otherwise`);
      at += bytes;
    }
    if (at < header.pointBytes)
      lost.push(`${header.pointBytes - at} bytes a point of ${file.source.name} without a name`);
  });
  return out;
}

const nameOf = (d: Uint8Array) => new TextDecoder('latin1').decode(d.subarray(4, 36)).replace(/\0.*$/s, '');

/** Whether values are stored alike: type, options, scale and offset. */
const alike = (a: Uint8Array, b: Uint8Array) =>
  [...a.keys()].every((i) => !((i >= 2 && i < 4) || (i >= 112 && i < 160)) || a[i] === b[i]);

/**
 * What is added to the strip numbers of each file, so that strips that are not the same keep apart. By their times: of the
 * tiles of one delivery a strip is seen at about one time, strips of two sessions are not.
 */
async function stripMoves(files: LasFile[], strips: MergedStrips, watch: Watch | undefined): Promise<number[]> {
  if (strips === 'same') return files.map(() => 0);
  const used = new Map<number, [number, number]>();
  const moves: number[] = [];
  let most = 0;
  for (const [f, file] of files.entries()) {
    const own = await stripTimes(file, part(watch, f / files.length, (f + 1) / files.length));
    const clashes = [...own].some(([s, span]) => {
      const known = used.get(s);
      return known && (strips === 'apart' || known[0] - span[1] > ONE_STRIP_S || span[0] - known[1] > ONE_STRIP_S);
    });
    const by = clashes ? most : 0;
    const highest = Math.max(0, ...own.keys());
    if (by + highest > 65535)
      throw new Problem('The clouds have more strips together than a file can number.', {
        code: 'merge-strips',
        file: file.source.name,
        place: 'strip numbers',
        remedy: 'Merge fewer clouds at once, or as tiles whose strips are the same.',
      });
    for (const [s, [from, to]] of own) {
      const known = used.get(s + by) ?? [Infinity, -Infinity];
      used.set(s + by, [Math.min(known[0], from), Math.max(known[1], to)]);
    }
    most = Math.max(most, highest + by);
    moves.push(by);
  }
  return moves;
}

/** Strips of one number whose times lie farther apart are two, seconds. */
const ONE_STRIP_S = 120;
const TIME_AT: Record<number, number> = { 1: 20, 3: 20, 4: 20, 5: 20 };

/** When each strip of a file was seen, first and last; all at 0 where the file has no times. */
async function stripTimes(file: LasFile, watch: Watch | undefined): Promise<Map<number, [number, number]>> {
  const { pointFormat, pointBytes: step } = file.header;
  const at = pointFormat >= 6 ? 20 : 18;
  const timeAt = pointFormat >= 6 ? 22 : TIME_AT[pointFormat];
  const first = new Float64Array(65536).fill(Infinity);
  const last = new Float64Array(65536).fill(-Infinity);
  for await (const { bytes, count } of file.records(watch)) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, count * step);
    for (let i = 0, o = 0; i < count; i++, o += step) {
      const s = view.getUint16(o + at, true);
      const t = timeAt ? view.getFloat64(o + timeAt, true) : 0;
      if (t < first[s]) first[s] = t;
      if (t > last[s]) last[s] = t;
    }
  }
  const out = new Map<number, [number, number]>();
  for (let s = 1; s < 65536; s++) if (first[s] <= last[s]) out.set(s, [first[s], last[s]]);
  return out;
}

function headOf(
  made: LasHeader,
  extras: Extra[],
  system: SystemDefinition | undefined,
  created: Date,
  adjusted: boolean,
): Uint8Array {
  const records: Uint8Array[] = [];
  if (system) records.push(...systemRecords(system, made.pointFormat));
  if (extras.length) {
    const data = new Uint8Array(DESCRIPTOR * extras.length);
    extras.forEach((x, i) => data.set(x.descriptor, DESCRIPTOR * i));
    records.push(vlr('LASF_Spec', 4, 'Extra bytes', data));
  }
  const out = new Uint8Array(HEADER + records.reduce((n, r) => n + r.length, 0));
  const view = new DataView(out.buffer);
  putText(out, 0, 'LASF', 4);
  view.setUint16(6, adjusted ? ADJUSTED : 0, true);
  out[24] = 1;
  out[25] = 4;
  putText(out, 26, 'MERGE', 32);
  putText(out, 58, 'Long Heron 0.1', 32);
  const year = created.getUTCFullYear();
  view.setUint16(90, Math.floor((created.getTime() - Date.UTC(year, 0, 1)) / 86400000) + 1, true);
  view.setUint16(92, year, true);
  view.setUint16(94, HEADER, true);
  view.setUint32(96, out.length, true);
  view.setUint32(100, records.length, true);
  out[104] = made.pointFormat;
  view.setUint16(105, made.pointBytes, true);
  for (let k = 0; k < 3; k++) {
    view.setFloat64(131 + 8 * k, made.scale[k], true);
    view.setFloat64(155 + 8 * k, made.offset[k], true);
  }
  if (system) markSystem(out, made.pointFormat);
  let at = HEADER;
  for (const r of records) {
    out.set(r, at);
    at += r.length;
  }
  return out;
}
