import { Problem } from '@longheron/core/shared';
import { type ByteSource, type OutputFile } from '../bytes';
import {
  chunkEncoder,
  chunkTable,
  CHUNK_POINTS,
  compressionRecord,
  LAZ_RECORD,
  LAZ_USER,
  oneChannel,
  type ChunkEncoder,
} from '../laz';
import { type LasHeader } from './header';
import { vlr } from './records';

/** Bits of the scanner channel. */
const CHANNEL = 0x30;
const MANY_CHUNKS = 1000;
const FEW_POINTS = 20;

/** Writes point records after the head of a file, as they are or compressed. */
export class RecordOutput {
  private readonly encoder?: ChunkEncoder;
  private readonly waiting?: Uint8Array;
  private waitingCount = 0;
  private readonly chunks: { bytes: number; points: number }[] = [];
  private readonly oneChannel: boolean;
  private readonly start: number;
  count = 0;

  private constructor(
    private readonly out: OutputFile,
    format: number,
    private readonly pointBytes: number,
    compress: boolean,
  ) {
    this.start = out.bytes;
    this.oneChannel = oneChannel(format, pointBytes);
    if (!compress) return;
    this.encoder = chunkEncoder(format, pointBytes);
    this.waiting = new Uint8Array(CHUNK_POINTS * pointBytes);
  }

  /** @param out with the head written; see `headFor`. */
  static async begin(out: OutputFile, format: number, pointBytes: number, compress: boolean): Promise<RecordOutput> {
    const made = new RecordOutput(out, format, pointBytes, compress);
    // where the table of chunks is, known at the end
    if (compress) await out.write(new Uint8Array(8));
    return made;
  }

  /** The bytes may be used again afterwards. */
  async append(records: Uint8Array, count: number): Promise<void> {
    const { waiting, pointBytes: step } = this;
    this.count += count;
    if (!waiting) {
      await this.out.write(records.subarray(0, count * step));
      return;
    }
    for (let at = 0; at < count;) {
      let take = Math.min(count - at, CHUNK_POINTS - this.waitingCount);
      if (this.oneChannel) {
        take = this.run(records, at, at + take);
        if (take === 0) {
          await this.flush();
          continue;
        }
      }
      waiting.set(records.subarray(at * step, (at + take) * step), this.waitingCount * step);
      this.waitingCount += take;
      at += take;
      if (this.waitingCount === CHUNK_POINTS) await this.flush();
    }
  }

  /** How many of the records from `at` are of the channel that waits (or of the first of them). */
  private run(records: Uint8Array, at: number, to: number): number {
    const { pointBytes: step } = this;
    const channel = (this.waitingCount ? this.waiting![15] : records[at * step + 15]) & CHANNEL;
    let i = at;
    while (i < to && (records[i * step + 15] & CHANNEL) === channel) i++;
    return i - at;
  }

  private async flush(): Promise<void> {
    if (!this.waitingCount) return;
    const points = this.waitingCount;
    const chunk = this.encoder!.encode(this.waiting!.subarray(0, points * this.pointBytes), points);
    this.waitingCount = 0;
    this.chunks.push({ bytes: chunk.length, points });
    this.refuseAlternating();
    await this.out.write(chunk);
  }

  /** Chunks of a few points would make the file larger than it was. */
  private refuseAlternating(): void {
    if (!this.oneChannel || this.chunks.length % MANY_CHUNKS !== 0) return;
    const points = this.chunks.slice(-MANY_CHUNKS).reduce((sum, c) => sum + c.points, 0);
    if (points >= MANY_CHUNKS * FEW_POINTS) return;
    throw new Problem(
      'Points of several scanner channels follow each other in turns and carry colours or extra bytes, which not every reader of LAZ can read.',
      {
        code: 'laz-channels',
        file: this.out.path,
        place: `point ${this.count}`,
        remedy: 'Write them as LAS.',
      },
    );
  }

  async finish(): Promise<void> {
    if (!this.encoder) return;
    await this.flush();
    const pointer = new Uint8Array(8);
    new DataView(pointer.buffer).setBigInt64(0, BigInt(this.out.bytes), true);
    await this.out.write(chunkTable(this.chunks, this.oneChannel));
    await this.out.writeAt(pointer, this.start);
  }
}

/**
 * The same header and variable length records for a file whose points are compressed or not.
 * @param change records to leave out, by user and number, and records to put in.
 */
export function headFor(
  head: Uint8Array,
  header: LasHeader,
  compress: boolean,
  change?: { without: (userId: string, recordId: number) => boolean; add: Uint8Array[] },
): Uint8Array {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const kept: Uint8Array[] = [];
  let at = header.headerBytes;
  for (let i = 0; i < header.vlrCount; i++) {
    const end = at + 54 + view.getUint16(at + 20, true);
    const { userId, recordId } = header.vlrs[i];
    if ((userId !== LAZ_USER || recordId !== LAZ_RECORD) && !change?.without(userId, recordId))
      kept.push(head.subarray(at, end));
    at = end;
  }
  kept.push(...(change?.add ?? []));
  if (compress)
    kept.push(vlr(LAZ_USER, LAZ_RECORD, 'compressed points', compressionRecord(header.pointFormat, header.pointBytes)));
  // what some writers leave between the records and the points
  const rest = head.subarray(at);
  const out = new Uint8Array(header.headerBytes + kept.reduce((sum, v) => sum + v.length, 0) + rest.length);
  out.set(head.subarray(0, header.headerBytes));
  let to = header.headerBytes;
  for (const part of [...kept, rest]) {
    out.set(part, to);
    to += part.length;
  }
  const made = new DataView(out.buffer);
  made.setUint32(96, out.length, true);
  made.setUint32(100, kept.length, true);
  out[104] = header.pointFormat | (compress ? 0x80 : 0);
  return out;
}

const COPY_BYTES = 1 << 20;
/** Where the header says where they begin. */
const WAVES_AT = 227;
const EXTENDED_AT = 235;

/**
 * Copies what follows the points: extended variable length records, wave packets, whatever else is there. The head
 * gets their new places.
 * @param head the head as written, which the caller writes again.
 */
export async function copyExtended(
  source: ByteSource,
  header: LasHeader,
  out: OutputFile,
  head: Uint8Array,
): Promise<void> {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const at = (place: number) => Number(view.getBigUint64(place, true));
  const wavesAt = header.version[1] >= 3 && header.headerBytes >= 235 && header.globalEncoding & 2 ? at(WAVES_AT) : 0;
  const extendedAt = header.version[1] >= 4 && view.getUint32(EXTENDED_AT + 8, true) > 0 ? at(EXTENDED_AT) : 0;
  const places = [wavesAt, extendedAt].filter((p) => p > 0 && p <= source.size);
  const plainEnd = header.pointOffset + header.pointCount * header.pointBytes;
  const from = places.length ? Math.min(...places) : header.compressed ? source.size : plainEnd;
  const moved = out.bytes - from;
  for (let p = from; p < source.size; p += COPY_BYTES)
    await out.write(await source.read(p, Math.min(COPY_BYTES, source.size - p)));
  if (wavesAt) view.setBigUint64(WAVES_AT, BigInt(wavesAt + moved), true);
  if (extendedAt) view.setBigUint64(EXTENDED_AT, BigInt(extendedAt + moved), true);
}
