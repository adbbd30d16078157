import { Problem, tick, type Watch } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';
import { findVlr, POINT_BYTES, type LasHeader } from './header';
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
const MOST_EXTRA_BYTES = 1024;
/** Points of an ordinary chunk, and so many that a byte could stand for at the very most. */
const USUAL_POINTS = 50_000;
const MOST_POINTS_A_BYTE = 200;

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
  if (header.pointBytes > POINT_BYTES[header.pointFormat] + MOST_EXTRA_BYTES)
    throw new Problem(`Compressed points of ${header.pointBytes} bytes cannot be read.`, {
      ...{ code: 'laz-length', file: source.name, place: 'byte 105' },
      remedy: 'The file was damaged on its way, or ask for the cloud as uncompressed LAS.',
    });
  const chunkSize = new DataView(vlr.data.buffer, vlr.data.byteOffset).getUint32(12, true);
  const chunks = await readChunkTable(source, header, chunkSize);
  const besideVersion = versionBeside(vlr.data);
  const module = await lazPerf();
  const outPointer = module._malloc(header.pointBytes);
  let first = 0;
  try {
    for (const [number, chunk] of chunks.entries()) {
      tick(watch, first / header.pointCount, 'Reading points');
      if (chunk.points > Math.max(USUAL_POINTS, MOST_POINTS_A_BYTE * chunk.bytes))
        throw new Problem(
          `Compressed chunk ${number + 1} of ${chunks.length} promises ${chunk.points} points in ${chunk.bytes} bytes.`,
          {
            ...{ code: 'laz-chunk', file: source.name, place: `byte ${chunk.offset}` },
            remedy: 'The file was damaged on its way: copy it again from its origin.',
          },
        );
      const data = await source.read(chunk.offset, chunk.bytes);
      const bytes = new Uint8Array(chunk.points * header.pointBytes);
      const pointer = module._malloc(data.length);
      module.HEAPU8.set(data, pointer);
      let decoder: ChunkDecoder | undefined;
      try {
        if (header.pointFormat >= 6 && !layersFit(data, header)) throw new Error('layers beyond the chunk');
        decoder = new module.ChunkDecoder();
        decoder.open(header.pointFormat, header.pointBytes, pointer);
        for (let i = 0; i < chunk.points; i++) {
          decoder.getPoint(outPointer);
          bytes.set(module.HEAPU8.subarray(outPointer, outPointer + header.pointBytes), i * header.pointBytes);
        }
        // with several channels in a chunk the decoder loses which one colours and extra bytes belong to
        if (
          oneChannel(header.pointFormat, header.pointBytes) &&
          severalChannels(bytes, header.pointBytes, chunk.points)
        )
          decodeBeside(header.pointFormat, header.pointBytes, data, bytes, chunk.points, besideVersion);
      } catch {
        // what it stumbled over may have left it unfit for good files
        loading = undefined;
        throw new Problem(`Compressed chunk ${number + 1} of ${chunks.length} is damaged.`, {
          code: 'laz-chunk',
          file: source.name,
          place: `byte ${chunk.offset}`,
          remedy: 'The file was damaged on its way: copy it again from its origin.',
        });
      } finally {
        decoder?.delete();
        module._free(pointer);
      }
      yield { first, count: chunk.points, bytes };
      first += chunk.points;
    }
  } finally {
    module._free(outPointer);
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
