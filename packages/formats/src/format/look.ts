import { constants, gunzipSync } from 'node:zlib';
import { type ByteSource } from '../bytes';

/** As much of a file is looked at. */
export const LOOK_BYTES = 4096;

/** The beginning of a file, as formats look at it to tell whether it is theirs. */
export class Look {
  private decoded?: string;
  private names?: string[];

  /**
   * @param head its first bytes, at most LOOK_BYTES; of a packed file those of what it holds.
   * @param size of the file, bytes. @param source to look further.
   */
  constructor(
    readonly head: Uint8Array,
    readonly size: number,
    readonly source: ByteSource,
    readonly packed = false,
  ) {}

  /** Whether the file begins with this text. */
  starts(text: string): boolean {
    return [...text].every((c, i) => this.head[i] === c.charCodeAt(0));
  }

  /** Whether there are bytes that no text has. */
  get binary(): boolean {
    return this.head.includes(0);
  }

  /** The head as text. */
  get text(): string {
    return (this.decoded ??= new TextDecoder('utf-8').decode(this.head).replace(/^\uFEFF/, ''));
  }

  get lines(): string[] {
    return this.text.split(/\r\n|\n|\r/);
  }

  /** The first line that is neither empty nor a comment. */
  get first(): string {
    return this.lines.find((l) => l.trim() && !l.startsWith('#')) ?? '';
  }

  /** Names of columns, small, as the first line has them; none in a binary file. */
  get columns(): readonly string[] {
    return (this.names ??= this.binary
      ? []
      : this.first
          .toLowerCase()
          .split(/[,;\t]/)
          .map((c) => c.trim()));
  }

  /** Whether there are columns of all these names. */
  has(...names: string[]): boolean {
    return names.every((n) => this.columns.includes(n));
  }
}

/** Looks at the beginning of a file, unpacked when it is packed by gzip. */
export async function lookAt(source: ByteSource): Promise<Look> {
  const head = await source.read(0, Math.min(source.size, LOOK_BYTES));
  if (head[0] !== 0x1f || head[1] !== 0x8b) return new Look(head, source.size, source);
  return new Look(unpackedHead(head), source.size, source, true);
}

/** The first bytes of what a gzip stream holds; empty when it is none. */
function unpackedHead(packed: Uint8Array): Uint8Array {
  try {
    return gunzipSync(packed, { finishFlush: constants.Z_SYNC_FLUSH, maxOutputLength: 1 << 22 });
  } catch {
    return new Uint8Array(0);
  }
}
