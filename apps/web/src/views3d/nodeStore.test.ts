import { expect, it } from 'vitest';
import { type CloudNode } from './cloudTree';
import { decodeNode } from './nodeStore';

it('turns the bytes of a node into columns about its corner', () => {
  const node = { first: 10, count: 2, corner: [100, 200, 0] } as CloudNode;
  const position = new Int32Array([100_500, 200_250, 1_000, 101_000, 200_000, -2_000]).buffer;
  // as docs/formats/cloud-store.md has them: intensity, strip, time, deviation, echo, echoes
  const attributes = new DataView(new ArrayBuffer(24));
  [
    [700, 3, 4_000_000_000, 123, 1, 2],
    [65_535, 65_535, 5, 0, 3, 3],
  ].forEach(([intensity, strip, time, sd, echo, echoes], i) => {
    attributes.setUint16(12 * i, intensity, true);
    attributes.setUint16(12 * i + 2, strip, true);
    attributes.setUint32(12 * i + 4, time, true);
    attributes.setUint16(12 * i + 8, sd, true);
    attributes.setUint8(12 * i + 10, echo);
    attributes.setUint8(12 * i + 11, echoes);
  });
  const points = decodeNode(node, 0.001, 0.01, position, attributes.buffer, Uint8Array.of(2, 6).buffer);
  expect(points.colour).toHaveLength(0);
  const colour = Uint8Array.of(255, 0, 1, 2, 3, 4).buffer;
  expect([...decodeNode(node, 1, 1, position, attributes.buffer, new ArrayBuffer(2), colour).colour]).toHaveLength(6);
  expect([...points.position].map((v) => +v.toFixed(4))).toEqual([0.5, 0.25, 1, 1, 0, -2]);
  expect([[...points.intensity], [...points.strip], [...points.sdH]]).toEqual([
    [700, 65_535],
    [3, 65_535],
    [123, 0],
  ]);
  // whole steps stay exact where seconds in 32 bits do not
  expect([...points.timeSteps]).toEqual([4_000_000_000, 5]);
  expect(points.time[0]).toBeCloseTo(40_000_000, -1);
  expect([...points.codes]).toEqual([2, 1, 2, 0, 6, 3, 3, 0]);
  expect([...points.stored]).toEqual([2, 6]);
});
