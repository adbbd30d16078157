import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Random } from '@longheron/core/numeric';
import { writeFileWhole } from '@longheron/formats/bytes';
import { LasFile, LasWriter, writeSelected } from '@longheron/formats/las';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;

/** Speed of writing LAZ, on profiles of a turning scanner with noise in place, intensity and precision. */
export async function benchLaz(folder: string, line: Line): Promise<void> {
  const count = 4_000_000;
  const path = join(folder, 'profiles.las');
  await writeFileWhole(path, async (out) => {
    const w = await LasWriter.create(out, 'PROJCS[""]', [467000, 6215000, 0], new Date());
    const random = new Random(5);
    const block = 500_000;
    const ones = new Uint8Array(block).fill(1);
    for (let done = 0; done < count; done += block) {
      const column = (f: (k: number, turn: number) => number) =>
        Float64Array.from({ length: block }, (_, i) => f(done + i, (2 * Math.PI * ((done + i) % 500)) / 500));
      const sd = Float32Array.from({ length: block }, (_, i) => 0.01 + 0.002 * Math.sin((done + i) / 3000));
      await w.append({
        easting: column((k, turn) => 467100 + k * 1e-4 + 20 * Math.sin(turn)),
        northing: column((_, turn) => 6215100 + 20 * Math.cos(turn) + 0.005 * random.normal()),
        height: column((_, turn) => 3 + 3 * Math.sin(turn) + 0.005 * random.normal()),
        intensity: Uint16Array.from({ length: block }, () => 20000 + 3000 * random.normal()),
        returnNumber: ones,
        returnCount: ones,
        scannerChannel: 0,
        strip: new Uint16Array(block).fill(1),
        gpsS: column((k) => 1.46e9 + k * 1e-6),
        sdE: sd,
        sdN: sd,
        sdH: sd,
      });
    }
    await w.finish();
  });
  const file = await LasFile.openPath(path);
  const keep = new Uint8Array(count).fill(1);
  const packed = join(folder, 'profiles.laz');
  const seconds = async (compress: boolean) => {
    const t = performance.now();
    await writeSelected(file, packed, keep, undefined, compress);
    return (performance.now() - t) / 1000;
  };
  const plain = Math.min(await seconds(false), await seconds(false));
  const laz = Math.min(await seconds(true), await seconds(true));
  await file.close();
  line('reference: the same points written as LAS', `${(count / plain / 1e6).toFixed(2)} million points/s`, '', null);
  line(
    'LAZ written, point format 6 with 6 extra bytes, one core',
    `${(count / laz / 1e6).toFixed(2)} million points/s, ${((await stat(packed)).size / count).toFixed(1)} bytes a point of 36`,
    'at least 0.7 million/s',
    count / laz / 1e6 >= 0.7,
  );
}
