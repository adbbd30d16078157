import { rotationFromAngles, type ReferenceSystem } from '@longheron/core/frames';
import { Random } from '@longheron/core/numeric';
import { Orthophoto, View, type Camera, type Pixels } from '@longheron/core/photo';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;

const [EAST, NORTH] = [467_000, 6_215_000];
const WIDE = 300;
const LONG = 500;
const ABOVE_M = 250;
const CELL_M = 0.1;
const CAMERA: Camera = {
  widthPx: 3000,
  heightPx: 2000,
  focalPx: 3700,
  cxPx: 1499.5,
  cyPx: 999.5,
  k1: -0.03,
  k2: 0.01,
  k3: 0,
  p1: 0.0002,
  p2: -0.0001,
};

/** An orthophoto of fifteen million cells from sixteen pictures over rolling ground with houses, without decoding and writing. */
export function benchOrthophoto(system: ReferenceSystem, line: Line): void {
  const [columns, rows] = [WIDE, LONG];
  const heightM = Float32Array.from({ length: columns * rows }, (_, k) => {
    const [x, y] = [k % columns, Math.floor(k / columns)];
    return 4 + 2 * Math.sin(x / 40) + Math.cos(y / 55) + (x % 90 < 12 && y % 70 < 9 ? 7 : 0);
  });
  const surface = { columns, rows, cellM: 1, westM: EAST, northM: NORTH + LONG, heightM };
  const random = new Random(3, 'grain');
  const rgb = Uint8Array.from({ length: 3 * CAMERA.widthPx * CAMERA.heightPx }, () => 40 + (random.uint32() & 127));
  const pixels: Pixels = { widthPx: CAMERA.widthPx, heightPx: CAMERA.heightPx, rgb };
  const views = Array.from({ length: 16 }, (_, k) => {
    const geo = new Float64Array(3);
    system.unproject(EAST + 60 + 60 * (k % 4), NORTH + 70 + 120 * Math.floor(k / 4), ABOVE_M, geo);
    const rotation = rotationFromAngles(0.01 * ((k % 3) - 1), 0.008 * ((k % 5) - 2), Math.PI / 2);
    return new View({ latRad: geo[0], lonRad: geo[1], hEllM: geo[2], rotation }, CAMERA, system);
  });
  const grid = { cellM: CELL_M, westM: EAST, northM: NORTH + LONG, columns: WIDE / CELL_M, rows: LONG / CELL_M };
  const cells = grid.columns * grid.rows;
  const reference = sampled(pixels, cells);
  const started = performance.now();
  const made = new Orthophoto(grid, surface, views);
  views.forEach((_, k) => made.look(k, pixels));
  made.settle(true);
  views.forEach((_, k) => made.fill(k, pixels));
  for (const k of made.patching()) made.patch(k, pixels);
  const s = (performance.now() - started) / 1000;
  const { empty } = made.count();
  line(
    `orthophoto, ${(cells / 1e6).toFixed(0)} million cells of ${views.length} pictures`,
    `${(cells / s / 1e6).toFixed(1)} million cells/s, ${(s / reference).toFixed(0)} times one look-up each; ${((100 * empty) / cells).toFixed(1)} % empty`,
    'at least 2 million cells/s',
    cells / s >= 2e6,
  );
}

/** Seconds for one bilinear look-up a cell, three colours: what no orthophoto can do without. */
function sampled({ widthPx, heightPx, rgb }: Pixels, cells: number): number {
  const started = performance.now();
  let sum = 0;
  for (let k = 0; k < cells; k++) {
    const u = 0.7 * (k % (widthPx - 2)) + 0.3;
    const v = (k * 0.37) % (heightPx - 2);
    const [c, r] = [u | 0, v | 0];
    const [x, y] = [u - c, v - r];
    const at = 3 * (r * widthPx + c);
    for (let j = 0; j < 3; j++)
      sum +=
        (1 - y) * ((1 - x) * rgb[at + j] + x * rgb[at + 3 + j]) +
        y * ((1 - x) * rgb[at + 3 * widthPx + j] + x * rgb[at + 3 * widthPx + 3 + j]);
  }
  return sum > 0 ? (performance.now() - started) / 1000 : Number.NaN;
}
