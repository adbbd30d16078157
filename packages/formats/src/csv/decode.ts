import { Problem } from '@longheron/core/shared';

/** A text as a whole may be this long: strings end at half a gigabyte, and decoding more ends the process. */
const MAX_TEXT_BYTES = 400e6;

/** Decodes UTF-8 (with or without a mark); falls back to UTF-16 with a mark; refuses binary. */
export function decodeText(bytes: Uint8Array, file: string): string {
  if (bytes.length === 0)
    throw new Problem('The file is empty.', {
      code: 'file-empty',
      file,
      place: 'byte 0',
      remedy: 'Copy the file again from its origin.',
    });
  if (bytes.length > MAX_TEXT_BYTES)
    throw new Problem(
      `The text has ${(bytes.length / 1e6).toFixed(0)} MB; of this kind ${MAX_TEXT_BYTES / 1e6} MB can be read.`,
      {
        code: 'text-long',
        file,
        place: `byte ${MAX_TEXT_BYTES}`,
        remedy: 'Cut it into shorter files, or bring it as HDF5 or LAS where the kind has such a layout.',
      },
    );
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const zero = bytes.indexOf(0);
  if (zero >= 0)
    throw new Problem('The file holds binary data, not text.', {
      code: 'file-encoding',
      file,
      place: `byte ${zero}`,
      remedy: 'Choose a text file in UTF-8.',
    });
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    // old spreadsheets write Windows-1252; its bytes above 127 only ever stand in names and notes
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
