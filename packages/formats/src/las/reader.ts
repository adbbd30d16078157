import { Problem, tick, type Watch } from '@longheron/core/shared';
import { openFile, type ByteSource } from '../bytes';
import { POINT_BYTES, readLasHeader, type LasHeader } from './header';
import { allocatePoints, decodeRecords, extraDimensions, hasColour, type LasPoints } from './points';
import { type RecordBatch } from './batch';
import { openLaz } from './laz';

const BATCH_POINTS = 1 << 16;

/** A LAS or LAZ file open for reading. */
export class LasFile {
  private constructor(
    readonly source: ByteSource,
    readonly header: LasHeader,
  ) {}

  static async open(source: ByteSource): Promise<LasFile> {
    return new LasFile(source, await readLasHeader(source));
  }

  static async openPath(path: string, name?: string): Promise<LasFile> {
    const source = await openFile(path, name);
    try {
      return await LasFile.open(source);
    } catch (error) {
      await source.close();
      throw error;
    }
  }

  /** Raw records in file order, decompressed when need be. */
  async *records(watch?: Watch): AsyncGenerator<RecordBatch> {
    const { header, source } = this;
    if (header.compressed) {
      yield* openLaz(source, header, watch);
      return;
    }
    const buffers = [0, 1].map(() => new Uint8Array(Math.min(BATCH_POINTS, header.pointCount) * header.pointBytes));
    const batch = async (first: number): Promise<RecordBatch> => {
      const count = Math.min(BATCH_POINTS, header.pointCount - first);
      const into = buffers[(first / BATCH_POINTS) & 1];
      const from = header.pointOffset + first * header.pointBytes;
      return { first, count, bytes: await source.read(from, count * header.pointBytes, into) };
    };
    // the next batch is read while this one is worked on
    let coming = header.pointCount > 0 ? batch(0) : undefined;
    while (coming) {
      const here: RecordBatch = await coming;
      const next = here.first + BATCH_POINTS;
      coming = next < header.pointCount ? batch(next) : undefined;
      coming?.catch(() => undefined);
      tick(watch, here.first / header.pointCount, 'Reading points');
      yield here;
    }
  }

  /** All points in columns, for clouds that fit in memory. */
  async readAll(watch?: Watch): Promise<LasPoints> {
    const { header } = this;
    if (header.pointCount > 400e6)
      throw new Problem(`${header.pointCount} points do not fit in memory at once.`, {
        code: 'las-too-large',
        file: this.source.name,
        remedy: 'Cut the cloud into tiles first.',
      });
    const out = allocatePoints(header.pointCount, hasColour(header.pointFormat));
    for await (const batch of this.records(watch)) decodeRecords(header, batch.bytes, batch.count, out, batch.first);
    return out;
  }

  extraDimensions() {
    return extraDimensions(this.header, POINT_BYTES[this.header.pointFormat]);
  }

  close(): Promise<void> {
    return this.source.close();
  }
}
