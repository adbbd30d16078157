import { describe, expect, it } from 'vitest';
import { chunkEncoder, decodeBeside, severalChannels } from '.';

const STEP = 41;

/** Records of format 8 with three extra bytes, all of whose bytes beside the fields are as they fall. */
function records(channels: number[]): Uint8Array {
  const out = new Uint8Array(STEP * channels.length);
  let s = 77;
  channels.forEach((channel, i) => {
    const o = i * STEP;
    out[o + 14] = 0x11;
    out[o + 15] = channel << 4;
    for (let k = 30; k < STEP; k++) {
      s = (Math.imul(s, 1103515245) + 12345) >>> 0;
      // colours that are grey now and then, and stay now and then
      out[o + k] = i % 3 === 0 ? 40 + (k & 1) : i % 7 === 0 && i > 0 ? out[o - STEP + k] : s >>> 24;
    }
  });
  return out;
}

describe('colours and extra bytes of several channels in a chunk', () => {
  it('decodes them as they were', () => {
    const channels = Array.from({ length: 4000 }, (_, i) => Math.floor(Math.abs(3.9 * Math.sin(i * i))));
    const body = records(channels);
    expect(severalChannels(body, STEP, 4000)).toBe(true);
    const chunk = chunkEncoder(8, STEP).encode(body, 4000);
    const fields = body.slice();
    for (let o = STEP; o < fields.length; o += STEP) fields.fill(0, o + 30, o + STEP);
    decodeBeside(8, STEP, chunk, fields, 4000, 3);
    expect(Buffer.compare(fields, body)).toBe(0);
  });

  it('sees layers that reach beyond the chunk', () => {
    const body = records([0, 1, 2, 1]);
    const chunk = chunkEncoder(8, STEP).encode(body, 4);
    expect(() => decodeBeside(8, STEP, chunk.subarray(0, chunk.length - 1), body, 4, 3)).toThrow('beyond');
  });

  it('agrees with the independent decoder where the channel changes at every point', async () => {
    const { createLazPerf } = (await import('laz-perf')) as unknown as {
      createLazPerf(): Promise<{
        _malloc(n: number): number;
        HEAPU8: Uint8Array;
        ChunkDecoder: new () => { open(f: number, n: number, p: number): void; getPoint(p: number): void };
      }>;
    };
    const body = records(Array.from({ length: 300 }, (_, i) => i % 3));
    const chunk = chunkEncoder(8, STEP).encode(body, 300);
    const general = await createLazPerf();
    const at = general._malloc(chunk.length + STEP);
    general.HEAPU8.set(chunk, at);
    const decoder = new general.ChunkDecoder();
    decoder.open(8, STEP, at);
    const out = new Uint8Array(body.length);
    for (let i = 0; i < 300; i++) {
      decoder.getPoint(at + chunk.length);
      out.set(general.HEAPU8.subarray(at + chunk.length, at + chunk.length + STEP), i * STEP);
    }
    expect(Buffer.compare(out, body)).toBe(0);
  });
});
