import { Problem } from '@longheron/core/shared';
import { type ByteSource } from '../bytes';

const TABLE = new Int32Array(256);
for (let n = 0; n < 256; n++) {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0x82f63b78 : c >>> 1;
  TABLE[n] = c;
}

/** CRC-32C (Castagnoli), as the E57 standard (ASTM E2807) puts it after every page. */
export function crc32c(bytes: Uint8Array): number {
  let c = -1;
  for (let i = 0; i < bytes.length; i++) c = TABLE[(c ^ bytes[i]) & 255] ^ (c >>> 8);
  return ~c >>> 0;
}

const CHECK_BYTES = 4;
const READ_PAGES = 256;

/**
 * The bytes of an E57 file without the checks that end each page. Places in the file are physical; lengths are of
 * bytes without checks. Each page is checked when read.
 */
export class Pages {
  private cached: Uint8Array = new Uint8Array(0);
  private cachedFrom = -1;

  constructor(
    private readonly source: ByteSource,
    private readonly pageBytes: number,
  ) {}

  private get payload(): number {
    return this.pageBytes - CHECK_BYTES;
  }

  /** Place without checks of a physical one. */
  logical(physical: number): number {
    const page = Math.floor(physical / this.pageBytes);
    return page * this.payload + Math.min(this.payload, physical - page * this.pageBytes);
  }

  /** @param at place without checks. */
  async read(at: number, length: number): Promise<Uint8Array> {
    const out = new Uint8Array(length);
    let done = 0;
    while (done < length) {
      const page = Math.floor((at + done) / this.payload);
      await this.load(page);
      const within = at + done - this.cachedFrom * this.payload;
      const take = Math.min(length - done, this.cached.length - within);
      if (take <= 0) throw this.beyond(page);
      out.set(this.cached.subarray(within, within + take), done);
      done += take;
    }
    return out;
  }

  private beyond(page: number): Problem {
    return new Problem(`The file ends before page ${page + 1}, which is needed.`, {
      code: 'file-truncated',
      file: this.source.name,
      place: `byte ${this.source.size}`,
      remedy: 'The file was cut off: copy it again from its origin.',
    });
  }

  private async load(page: number): Promise<void> {
    const count = this.cached.length / this.payload;
    if (this.cachedFrom >= 0 && page >= this.cachedFrom && page < this.cachedFrom + count) return;
    const whole = Math.floor(this.source.size / this.pageBytes);
    const pages = Math.min(READ_PAGES, whole - page);
    if (pages <= 0) throw this.beyond(page);
    const raw = await this.source.read(page * this.pageBytes, pages * this.pageBytes);
    const view = new DataView(raw.buffer, raw.byteOffset, raw.byteLength);
    const out = new Uint8Array(pages * this.payload);
    for (let k = 0; k < pages; k++) {
      const from = k * this.pageBytes;
      const body = raw.subarray(from, from + this.payload);
      if (
        crc32c(body) !== view.getUint32(from + this.payload, false) &&
        crc32c(body) !== view.getUint32(from + this.payload, true)
      )
        throw new Problem(`Page ${page + k + 1} of the file fails its check.`, {
          code: 'e57-page',
          file: this.source.name,
          place: `byte ${(page + k) * this.pageBytes}`,
          remedy: 'The file was damaged on its way: copy it again from its origin.',
        });
      out.set(body, k * this.payload);
    }
    this.cached = out;
    this.cachedFrom = page;
  }
}
