import { type AdjustedBlock, type Block } from '@longheron/core/photo';

const BLOCK = 36;

/**
 * Covariances of the poses of an adjusted block as bytes, little-endian: count of pictures (32 bits), the first picture each
 * hangs together with (32 bits each), then of each picture 6 × 6 numbers (32 bits) with every one from that first to itself.
 */
export function posesOf({ images }: Block, { imageAt, covariances, oriented }: AdjustedBlock): Uint8Array {
  const kept = images.flatMap((_, i) => (oriented[i] ? [i] : []));
  const known = (i: number, k: number) => Number.isFinite(covariances.of(imageAt[i], imageAt[k]));
  const first = kept.map((i) => kept.findIndex((k) => known(i, k)));
  const blocks = first.reduce((n, f, i) => n + i - f + 1, 0);
  const out = new DataView(new ArrayBuffer(4 + 4 * kept.length + 4 * BLOCK * blocks));
  out.setUint32(0, kept.length, true);
  first.forEach((f, i) => out.setUint32(4 + 4 * i, f, true));
  let at = 4 + 4 * kept.length;
  kept.forEach((i, row) => {
    for (let column = first[row]; column <= row; column++)
      for (let a = 0; a < 6; a++)
        for (let b = 0; b < 6; b++) {
          const v = covariances.of(imageAt[i] + a, imageAt[kept[column]] + b);
          out.setFloat32(at, Number.isFinite(v) ? v : 0, true);
          at += 4;
        }
  });
  return new Uint8Array(out.buffer);
}

/** The same read: 6 × 6 numbers of two pictures by their places among those oriented; undefined where none are known. */
export function readPoses(bytes: Uint8Array): (a: number, b: number) => Float64Array | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint32(0, true);
  const first = Array.from({ length: count }, (_, i) => view.getUint32(4 + 4 * i, true));
  const from: number[] = [];
  let at = 4 + 4 * count;
  for (let i = 0; i < count; i++) {
    from.push(at);
    at += 4 * BLOCK * (i - first[i] + 1);
  }
  return (a, b) => {
    const [row, column] = a < b ? [b, a] : [a, b];
    if (row >= count || column < first[row]) return undefined;
    const begin = from[row] + 4 * BLOCK * (column - first[row]);
    const turned = a < b;
    return Float64Array.from({ length: BLOCK }, (_, k) => {
      const [p, q] = [Math.floor(k / 6), k % 6];
      return view.getFloat32(begin + 4 * (turned ? 6 * q + p : k), true);
    });
  };
}
