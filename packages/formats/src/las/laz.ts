import { Problem, tick, type Watch } from '@longheron/core/shared';
import { decoderFailed, type ByteSource } from '../bytes';
import { findVlr, MAX_PACKED_POINTS_A_BYTE, POINT_BYTES, type LasHeader } from './header';
import { decodeBeside, LAZ_RECORD, LAZ_USER, oneChannel, readChunkTable, severalChannels } from '../laz';
import { type RecordBatch } from './batch';

interface ChunkDecoder {
  open(format: number, length: number, pointer: number): void;
  getPoint(pointer: number): void;
  delete(): void;
}

interface LazPerfModule {
  ChunkDecoder: new () => ChunkDecoder;
  _malloc(bytes: number): number;
  _free(pointer: number): void;
  HEAPU8: Uint8Array;
}

/** What a compression record holds at least. */
const RECORD_BYTES = 34;
/** More bytes beside those of its format no point has. */
const MAX_EXTRA_BYTES = 1024;
/** Points of an ordinary chunk. */
const USUAL_POINTS = 50_000;
/** Points decoded at once. */
const BATCH_POINTS = 1 << 16;
/** A chunk whose channels have to be told apart is decoded as a whole, up to so many bytes. */
const MAX_CHUNK_BYTES = 512 << 20;

let loading: Promise<LazPerfModule> | undefined;

async function lazPerf(): Promise<LazPerfModule> {
  loading ??= import('laz-perf').then(async (m) => {
    const made =
      (m as unknown as { createLazPerf?: unknown; default?: { createLazPerf?: unknown } }).createLazPerf ??
      (m as unknown as { default: { createLazPerf: unknown } }).default.createLazPerf;
    return (await (made as () => Promise<unknown>)()) as LazPerfModule;
  });
  return loading;
}

/**
 * Decompresses LAZ chunk by chunk: our reader of the chunk table feeds the chunk decoder of laz-perf. Whatever the
 * decoder throws becomes a Problem with file and place.
 */
export async function* openLaz(source: ByteSource, header: LasHeader, watch?: Watch): AsyncGenerator<RecordBatch> {
  const vlr = findVlr(header, LAZ_USER, LAZ_RECORD);
  if (!vlr || vlr.data.length < RECORD_BYTES)
    throw new Problem('The file says it is compressed but has no whole compression record.', {
      code: 'laz-record',
      file: source.name,
      place: 'variable length records',
      remedy: 'Ask for the file again.',
    });
  if (![0, 1, 2, 3, 6, 7, 8].includes(header.pointFormat))
    throw new Problem(`Compressed points of format ${header.pointFormat} cannot be read.`, {
      code: 'laz-format',
      file: source.name,
      place: 'byte 104',
      remedy: 'Ask for the cloud as uncompressed LAS.',
    });
  // the decoder keeps tables for each byte beside the point: thousands of them would be gigabytes
  if (header.pointBytes > POINT_BYTES[header.pointFormat] + MAX_EXTRA_BYTES)
    throw new Problem(`Compressed points of ${header.pointBytes} bytes cannot be read.`, {
      code: 'laz-length',
      file: source.name,
      place: 'byte 105',
      remedy: 'The file was damaged on its way, or ask for the cloud as uncompressed LAS.',
    });
  const damaged = (text: string, place: string) =>
    new Problem(text, {
      code: 'laz-chunk',
      file: source.name,
      place,
      remedy: 'The file was damaged on its way: copy it again from its origin.',
    });
  const chunkSize = new DataView(vlr.data.buffer, vlr.data.byteOffset).getUint32(12, true);
  const chunks = await readChunkTable(source, header, chunkSize);
  const besideVersion = versionBeside(vlr.data);
  const module = await lazPerf();
  let first = 0;
  for (const [number, chunk] of chunks.entries()) {
    const title = `Compressed chunk ${number + 1} of ${chunks.length}`;
    const place = `byte ${chunk.offset}`;
    if (chunk.points > Math.max(USUAL_POINTS, MAX_PACKED_POINTS_A_BYTE * chunk.bytes))
      throw damaged(`${title} promises ${chunk.points} points in ${chunk.bytes} bytes.`, place);
    const whole = oneChannel(header.pointFormat, header.pointBytes);
    if (whole && chunk.points * header.pointBytes > MAX_CHUNK_BYTES)
      throw new Problem(`${title} holds ${chunk.points} points, too many to be decoded at once.`, {
        code: 'laz-large-chunk',
        file: source.name,
        place,
        remedy: `Ask for the cloud with chunks of ${USUAL_POINTS} points, or as uncompressed LAS.`,
      });
    const data = await source.read(chunk.offset, chunk.bytes);
    const decoder = new OpenChunk(module, header, data);
    try {
      for (let done = 0; done < chunk.points;) {
        tick(watch, first / header.pointCount, 'Reading points');
        const count = whole ? chunk.points : Math.min(BATCH_POINTS, chunk.points - done);
        let bytes: Uint8Array;
        try {
          bytes = decoder.next(count);
          // with several channels in a chunk the decoder loses which one colours and extra bytes belong to
          if (whole && severalChannels(bytes, header.pointBytes, count))
            decodeBeside(header.pointFormat, header.pointBytes, data, bytes, count, besideVersion);
        } catch {
          // what it stumbled over may have left it unfit for good files
          loading = undefined;
          decoderFailed();
          throw damaged(`${title} is damaged.`, place);
        }
        yield { first, count, bytes };
        done += count;
        first += count;
      }
    } finally {
      decoder.close();
    }
  }
}

/** A chunk in the memory of the decoder. */
class OpenChunk {
  private decoder: ChunkDecoder | undefined;
  private readonly chunkPointer: number;
  private readonly pointPointer: number;

  constructor(
    private readonly module: LazPerfModule,
    private readonly header: LasHeader,
    private readonly data: Uint8Array,
  ) {
    this.pointPointer = module._malloc(header.pointBytes);
    this.chunkPointer = module._malloc(data.length);
    module.HEAPU8.set(data, this.chunkPointer);
  }

  /** The next records; throws whatever the decoder throws. */
  next(count: number): Uint8Array {
    const { module, header, pointPointer: from } = this;
    const { pointFormat, pointBytes } = header;
    if (!this.decoder) {
      if (pointFormat >= 6 && !layersFit(this.data, header)) throw new Error('layers beyond the chunk');
      this.decoder = new module.ChunkDecoder();
      this.decoder.open(pointFormat, pointBytes, this.chunkPointer);
    }
    const bytes = new Uint8Array(count * pointBytes);
    for (let i = 0; i < count; i++) {
      this.decoder.getPoint(from);
      bytes.set(module.HEAPU8.subarray(from, from + pointBytes), i * pointBytes);
    }
    return bytes;
  }

  close(): void {
    this.decoder?.delete();
    this.module._free(this.chunkPointer);
    this.module._free(this.pointPointer);
  }
}

/** Layers of a point of format 6: place, height, class, flags, intensity, angle, user data, source, time. */
const LAYERS = 9;

/** Whether the layers of a chunk (formats 6 to 8) lie within it: their sizes stand behind its first point and its count. */
function layersFit(data: Uint8Array, { pointFormat, pointBytes }: LasHeader): boolean {
  const count = LAYERS + pointFormat - 6 + pointBytes - POINT_BYTES[pointFormat];
  let end = pointBytes + 4 + 4 * count;
  if (end > data.length) return false;
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  for (let k = 0; k < count; k++) end += view.getUint32(pointBytes + 4 + 4 * k, true);
  return end <= data.length;
}

/** Version of the fields after the first, as the compression record lists them. */
function versionBeside(record: Uint8Array): number {
  const view = new DataView(record.buffer, record.byteOffset, record.byteLength);
  return view.getUint16(32, true) > 1 && record.length >= 46 ? view.getUint16(44, true) : 3;
}
