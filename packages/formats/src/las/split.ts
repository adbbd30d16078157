import { OutputFile } from '../bytes';
import { patchHead, PointCount, refuseCompressed } from './counts';
import { copyExtended, headFor, RecordOutput } from './output';
import { type LasFile } from './reader';

const STAGED = 1024;

/** What marks points in a piece that belong to another: their user data is this. */
export const NEIGHBOUR = 1;

interface Piece {
  out: OutputFile;
  head: Uint8Array;
  points: RecordOutput;
  count: PointCount;
  staged: Uint8Array;
  filled: number;
}

/** Writes the points of a cloud to several files at once, byte for byte, each with a header of its own. */
export class PieceWriter {
  private constructor(
    private readonly file: LasFile,
    private readonly pieces: Piece[],
  ) {}

  /** @param paths a file for each piece. */
  static async create(file: LasFile, paths: string[], compress: boolean): Promise<PieceWriter> {
    const { header, source } = file;
    refuseCompressed(header, source.name, compress);
    const pieces: Piece[] = [];
    try {
      for (const path of paths) {
        const out = await OutputFile.create(path);
        const head = headFor(await source.read(0, header.pointOffset), header, compress);
        await out.write(head);
        pieces.push({
          out,
          head,
          points: await RecordOutput.begin(out, header.pointFormat, header.pointBytes, compress),
          count: new PointCount(header),
          staged: new Uint8Array(STAGED * header.pointBytes),
          filled: 0,
        });
      }
    } catch (error) {
      await Promise.all(pieces.map((p) => p.out.discard()));
      throw error;
    }
    return new PieceWriter(file, pieces);
  }

  /** Puts the record at this byte to a piece. @returns true when the piece must be flushed before the next. */
  put(piece: number, records: Uint8Array, at: number, neighbour: boolean): boolean {
    const { pointBytes: step, pointFormat } = this.file.header;
    const p = this.pieces[piece];
    const to = p.filled * step;
    p.staged.set(records.subarray(at, at + step), to);
    // the byte of user data is the same in all formats
    if (neighbour) p.staged[to + 17] = NEIGHBOUR;
    p.count.add(p.staged, to, pointFormat);
    return ++p.filled === STAGED;
  }

  async flush(piece: number): Promise<void> {
    const p = this.pieces[piece];
    if (p.filled) await p.points.append(p.staged, p.filled);
    p.filled = 0;
  }

  /** @returns points in each piece. */
  async finish(): Promise<number[]> {
    const { header, source } = this.file;
    for (const [k, p] of this.pieces.entries()) {
      await this.flush(k);
      await p.points.finish();
      await copyExtended(source, header, p.out, p.head);
      patchHead(p.head, header, p.count);
      await p.out.writeAt(p.head, 0);
      await p.out.finish();
    }
    return this.pieces.map((p) => p.count.count);
  }

  async discard(): Promise<void> {
    await Promise.all(this.pieces.map((p) => p.out.discard()));
  }
}
