import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { inflateSync } from 'node:zlib';

/**
 * Unwraps a WOFF 1.0 file to the TrueType or OpenType font inside it (W3C WOFF File Format 1.0): table directory and
 * tables, each inflated when it was deflated. PDF writers need the bare font.
 */
export function unwrapWoff(woff: Buffer): Buffer {
  if (woff.toString('latin1', 0, 4) !== 'wOFF') throw new Error('not a WOFF file');
  const count = woff.readUInt16BE(12);
  const tables = Array.from({ length: count }, (_, i) => {
    const o = 44 + 20 * i;
    const offset = woff.readUInt32BE(o + 4);
    const packed = woff.readUInt32BE(o + 8);
    const length = woff.readUInt32BE(o + 12);
    const raw = woff.subarray(offset, offset + packed);
    return {
      tag: woff.subarray(o, o + 4),
      checksum: woff.readUInt32BE(o + 16),
      data: packed < length ? inflateSync(raw) : raw,
    };
  });
  const power = 2 ** Math.floor(Math.log2(count));
  const head = Buffer.alloc(12 + 16 * count);
  head.writeUInt32BE(woff.readUInt32BE(4), 0);
  head.writeUInt16BE(count, 4);
  head.writeUInt16BE(power * 16, 6);
  head.writeUInt16BE(Math.log2(power), 8);
  head.writeUInt16BE(count * 16 - power * 16, 10);
  const parts: Buffer[] = [head];
  let at = head.length;
  tables.forEach((t, i) => {
    const o = 12 + 16 * i;
    t.tag.copy(head, o);
    head.writeUInt32BE(t.checksum, o + 4);
    head.writeUInt32BE(at, o + 8);
    head.writeUInt32BE(t.data.length, o + 12);
    const padding = (4 - (t.data.length % 4)) % 4;
    parts.push(t.data, Buffer.alloc(padding));
    at += t.data.length + padding;
  });
  return Buffer.concat(parts);
}

/** Code points a TrueType font has glyphs for (cmap formats 4 and 12). */
export function codePoints(font: Buffer): Set<number> {
  const out = new Set<number>();
  const count = font.readUInt16BE(4);
  for (let i = 0; i < count; i++) {
    const o = 12 + 16 * i;
    if (font.toString('latin1', o, o + 4) !== 'cmap') continue;
    const cmap = font.readUInt32BE(o + 8);
    for (let s = 0; s < font.readUInt16BE(cmap + 2); s++) {
      const sub = cmap + font.readUInt32BE(cmap + 4 + 8 * s + 4);
      const format = font.readUInt16BE(sub);
      if (format === 4) {
        const segments = font.readUInt16BE(sub + 6) / 2;
        for (let k = 0; k < segments; k++) {
          const end = font.readUInt16BE(sub + 14 + 2 * k);
          const start = font.readUInt16BE(sub + 16 + 2 * segments + 2 * k);
          for (let c = start; c <= end && c !== 0xffff; c++) out.add(c);
        }
      } else if (format === 12)
        for (let k = 0; k < font.readUInt32BE(sub + 12); k++) {
          const g = sub + 16 + 12 * k;
          for (let c = font.readUInt32BE(g); c <= font.readUInt32BE(g + 4); c++) out.add(c);
        }
    }
  }
  return out;
}

const require = createRequire(import.meta.url);
const load = (family: 'sans' | 'mono', weight: 400 | 600) =>
  unwrapWoff(
    readFileSync(
      require.resolve(`@fontsource/ibm-plex-${family}/files/ibm-plex-${family}-latin-${weight}-normal.woff`),
    ),
  );

let fonts: Record<'sans' | 'sansBold' | 'mono' | 'monoBold', Buffer> | undefined;
/** The fonts of reports, read once. */
export function reportFonts() {
  fonts ??= {
    sans: load('sans', 400),
    sansBold: load('sans', 600),
    mono: load('mono', 400),
    monoBold: load('mono', 600),
  };
  return fonts;
}
