import { quantileOfSorted } from '@longheron/core/numeric';
import { tick, type Watch } from '@longheron/core/shared';
import { type CubeCounter } from './chunks';
import { type RecordReader } from './records';
import { type Survey } from './surveyed';

/** First pass: extent, time span, classes, percentiles of a sample, density, and points by cube. */
export async function surveyPoints(reader: RecordReader, counter: CubeCounter, watch?: Watch): Promise<Survey> {
  const lo = [Infinity, Infinity, Infinity];
  const hi = [-Infinity, -Infinity, -Infinity];
  let t0 = Infinity;
  let t1 = -Infinity;
  const classes = new Float64Array(256);
  const sample: Record<string, number[]> = {
    height: [],
    intensity: [],
    precision: [],
    time: [],
    easting: [],
    northing: [],
  };
  const every = Math.max(1, Math.floor(reader.count / 100_000));
  let seen = 0;
  let next = 0;
  const density = reader.densityGrid();
  let withheld: Uint8Array | null = null;
  let brightest = 0;
  for await (const b of reader.blocks()) {
    tick(watch, (0.2 * seen) / Math.max(1, reader.count), 'Counting points');
    for (let i = 0; i < b.count; i++) {
      const x = b.x[i];
      const y = b.y[i];
      const z = b.z[i];
      if (x < lo[0]) lo[0] = x;
      if (x > hi[0]) hi[0] = x;
      if (y < lo[1]) lo[1] = y;
      if (y > hi[1]) hi[1] = y;
      if (z < lo[2]) lo[2] = z;
      if (z > hi[2]) hi[2] = z;
      const t = b.time[i];
      if (t < t0) t0 = t;
      if (t > t1) t1 = t;
      classes[b.cls[i]]++;
      if (b.withheld[i]) {
        withheld ??= new Uint8Array(Math.ceil(reader.count / 8));
        withheld[(seen + i) >> 3] |= 1 << ((seen + i) & 7);
      }
    }
    for (; next < seen + b.count; next += every) {
      const i = next - seen;
      sample.height.push(b.z[i]);
      sample.intensity.push(b.intensity[i]);
      sample.precision.push(b.sdH[i]);
      sample.time.push(b.time[i]);
      sample.easting.push(b.x[i]);
      sample.northing.push(b.y[i]);
    }
    if (reader.coloured)
      for (const colour of [b.red, b.green, b.blue])
        for (let i = 0; i < b.count; i++) if (colour[i] > brightest) brightest = colour[i];
    if (density) density.add(b.x, b.y, b.count);
    counter.add(b);
    seen += b.count;
  }
  const timeOrigin = Number.isFinite(t0) ? Math.floor(t0) : 0;
  const timeStepS = Math.max(1e-4, (t1 - timeOrigin) / 4e9);
  const ranges = Object.fromEntries(
    Object.entries(sample).map(([name, values]) => {
      if (name === 'time') values.forEach((v, i) => (values[i] = v - timeOrigin));
      values.sort((a, b) => a - b);
      // in plan nearly everything is to be seen; colours are clipped harder
      const tail = /ing$/.test(name) ? 0.001 : 0.02;
      return [
        name,
        [values[0], quantileOfSorted(values, tail), quantileOfSorted(values, 1 - tail), values[values.length - 1]],
      ];
    }),
  ) as Record<string, [number, number, number, number]>;
  ranges.height[0] = lo[2];
  ranges.height[3] = hi[2];
  ranges.time[3] = t1 - timeOrigin;
  return {
    min: lo as [number, number, number],
    max: hi as [number, number, number],
    timeOrigin,
    timeStepS,
    ranges,
    countsByClass: Object.fromEntries([...classes].map((n, c) => [String(c), n] as const).filter(([, n]) => n > 0)),
    density: density?.finish() ?? null,
    withheld,
    // all black: room for colours that were never taken
    colourShift: brightest === 0 ? null : brightest > 255 ? 8 : 0,
  };
}
