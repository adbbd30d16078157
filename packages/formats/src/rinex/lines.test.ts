import { gzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { decodeText } from '../csv';
import { Lines, rinexBytes } from './lines';

const TEXT = 'first\r\n\nthird line\r\nlast one';
const all = (text: string, piece?: number) => {
  const lines = new Lines(new TextEncoder().encode(text), 'f.rnx', piece);
  const out: string[] = [];
  for (let line = lines.next(); line !== undefined; line = lines.next()) out.push(line);
  return { out, number: lines.number };
};

describe('the lines of a file', () => {
  it('are the same however it is cut into pieces', () => {
    for (let piece = 1; piece < 40; piece++)
      expect(all(TEXT, piece)).toEqual({ out: ['first', '', 'third line', 'last one'], number: 4 });
    expect(all('')).toEqual({ out: [], number: 0 });
    expect(all('one\n')).toEqual({ out: ['one'], number: 1 });
  });

  it('of a packed file are those of the plain one; a damaged one is named', () => {
    const plain = new TextEncoder().encode(TEXT);
    expect(rinexBytes(gzipSync(plain), 'f.rnx.gz')).toEqual(Buffer.from(plain));
    expect(() => rinexBytes(gzipSync(plain).subarray(0, 20), 'f.rnx.gz')).toThrow(/damaged or cut off/);
  });
});

it('a text that would be longer than a string can be is refused before it is decoded', () => {
  // pages that are never touched take no memory
  const long = new Uint8Array(401e6);
  long[0] = 65;
  expect(() => decodeText(long, 'long.csv')).toThrow(/401 MB; of this kind 400 MB can be read/);
});
