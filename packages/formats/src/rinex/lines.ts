import { gunzipSync } from 'node:zlib';
import { Problem } from '@longheron/core/shared';
import { gpsFromUnix } from '@longheron/core/time';

/** Deflate cannot make more than this of one byte; a larger text than this is refused. */
const MAX_BYTES = 1 << 30;

/** Bytes of a RINEX file, unpacked when it is gzip-compressed. */
export function rinexBytes(bytes: Uint8Array, file: string): Uint8Array {
  let plain = bytes;
  if (bytes[0] === 0x1f && bytes[1] === 0x8b)
    try {
      plain = gunzipSync(bytes, { maxOutputLength: MAX_BYTES });
    } catch (error) {
      const large = (error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE';
      throw new Problem(large ? 'The file unpacks to more than 1 GB.' : 'The compressed file is damaged or cut off.', {
        code: 'rinex-gzip',
        file,
        place: 'gzip stream',
        remedy: large ? 'Unpack it and cut it into shorter spans.' : 'Copy it again from its origin.',
      });
    }
  else if (bytes[0] === 0x1f && bytes[1] === 0x9d)
    throw new Problem('The file is packed by the old "compress".', {
      code: 'rinex-packed',
      file,
      place: 'byte 0',
      remedy: 'Unpack it first (uncompress), or ask for it as gzip.',
    });
  return plain;
}

/** So much of a file is text at a time: strings end at half a gigabyte. */
const PIECE_BYTES = 1 << 24;
const LF = 10;

/** Walks through the lines of a file, decoding it piece by piece. */
export class Lines {
  /** Number of the line last given, from 1. */
  number = 0;
  private text = '';
  private at = 0;
  /** Bytes that have become text. */
  private decoded = 0;

  constructor(
    private readonly bytes: Uint8Array,
    readonly file: string,
    private readonly pieceBytes = PIECE_BYTES,
  ) {}

  next(): string | undefined {
    if (this.at >= this.text.length && !this.more()) return undefined;
    let end = this.text.indexOf('\n', this.at);
    if (end < 0) end = this.text.length;
    const stop = end > this.at && this.text.charCodeAt(end - 1) === 13 ? end - 1 : end;
    const line = this.text.slice(this.at, stop);
    this.at = end + 1;
    this.number++;
    return line;
  }

  /** Decodes the next piece, up to the end of a line; false at the end of the file. */
  private more(): boolean {
    const { bytes, decoded } = this;
    if (decoded >= bytes.length) return false;
    let end = Math.min(bytes.length, decoded + this.pieceBytes);
    if (end < bytes.length) {
      const line = bytes.indexOf(LF, end - 1);
      end = line < 0 ? bytes.length : line + 1;
    }
    this.text = new TextDecoder('latin1').decode(bytes.subarray(decoded, end));
    this.decoded = end;
    this.at = 0;
    return true;
  }

  problem(message: string, code: string, remedy: string): Problem {
    return new Problem(message, { code, file: this.file, place: `line ${this.number}`, remedy });
  }
}

export const label = (line: string) => line.slice(60, 80).trim();

/** A number in columns [from, to); NaN when blank. Fortran's D stands for an exponent too. */
export function field(line: string, from: number, to: number): number {
  const text = line.slice(from, to).trim();
  return text === '' ? Number.NaN : Number(text.replace(/[dD]/, 'e'));
}

/** Seconds to add to a file's times to reach GPS time, by the time system it names. */
export type TimeSystem = 'GPS' | 'GAL' | 'QZS' | 'BDT' | 'GLO' | 'UTC';

/** GPS week and seconds of a date in a time system. */
export function gpsOfDate(
  system: TimeSystem,
  year: number,
  month: number,
  day: number,
  hour: number,
  minute: number,
  second: number,
): { week: number; sow: number } {
  const full = year < 80 ? year + 2000 : year < 100 ? year + 1900 : year;
  const unix = Date.UTC(full, month - 1, day, hour, minute) / 1000;
  // the civil date is read as if it were UTC; GPS time has no leap seconds, so none are added for it
  const whole =
    system === 'GLO' || system === 'UTC' ? gpsFromUnix(unix) : unix - 315964800 + (system === 'BDT' ? 14 : 0);
  const week = Math.floor(whole / 604800);
  return { week, sow: whole - week * 604800 + second };
}

/** Head of a RINEX file: version and kind; refuses what is none, and the compact form. */
export function rinexHead(line: string | undefined, file: string): { version: number; kind: string; system: string } {
  if (line !== undefined && /CRINEX/.test(line))
    throw new Problem('The file is a RINEX file in the compact (Hatanaka) form.', {
      code: 'rinex-compact',
      file,
      place: 'line 1',
      remedy: 'Turn it into plain RINEX first, or ask the sender for plain RINEX.',
    });
  const version = line === undefined ? Number.NaN : field(line, 0, 9);
  if (line === undefined || label(line) !== 'RINEX VERSION / TYPE' || !(version >= 2 && version < 5))
    throw new Problem('The file does not begin as a RINEX file does.', {
      code: 'rinex-head',
      file,
      place: 'line 1, columns 61 to 80',
      remedy: 'Choose a RINEX 2 or 3 file.',
    });
  return { version, kind: line[20].toUpperCase(), system: (line[40] ?? ' ').toUpperCase() };
}

/** What a RINEX file holds by its first line; undefined when it is none. The compact form is refused by the reader. */
export function rinexContent(text: string): 'observations' | 'other' | undefined {
  const first = /^.{20}(.).{39}(RINEX VERSION \/ TYPE|CRINEX VERS)/.exec(text);
  if (!first) return undefined;
  return first[2].startsWith('C') || first[1].toUpperCase() === 'O' ? 'observations' : 'other';
}
