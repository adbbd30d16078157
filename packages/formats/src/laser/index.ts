import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import h5wasm from 'h5wasm/node';
import { Problem } from '@longheron/core/shared';
import { type LaserNoise, type LaserReturns } from '@longheron/core/laser';

/** Laser returns in HDF5, docs/formats/laser.md. */
export interface LaserFileInfo extends LaserNoise {
  week: number;
  sensor: string;
  count: number;
}

const COLUMNS = {
  gps_sow: { key: 'sow', make: Float64Array, bytes: 8 },
  range: { key: 'rangeM', make: Float32Array, bytes: 4 },
  azimuth: { key: 'azimuthDeg', make: Float32Array, bytes: 4 },
  elevation: { key: 'elevationDeg', make: Float32Array, bytes: 4 },
  intensity: { key: 'intensity', make: Uint16Array, bytes: 2 },
  return_number: { key: 'returnNumber', make: Uint8Array, bytes: 1 },
  return_count: { key: 'returnCount', make: Uint8Array, bytes: 1 },
} as const;

/** Deflate cannot make more than this of one byte. */
const MOST_EXPANSION = 1032;
const CHUNK = 1 << 16;

let ready: Promise<void> | undefined;

async function library(): Promise<void> {
  ready ??= h5wasm.ready.then((module) => {
    (module as unknown as { activate_throwing_error_handler(): void }).activate_throwing_error_handler();
  });
  return ready;
}

/** Returns of one scanner head, read in blocks of whole chunks. Only for worker threads and the command line. */
export class LaserFile {
  private constructor(
    readonly info: LaserFileInfo,
    private readonly name: string,
    private readonly file: InstanceType<typeof h5wasm.File>,
  ) {}

  static async open(path: string, name = basename(path)): Promise<LaserFile> {
    await library();
    const size = await stat(path).then(
      (s) => s.size,
      () => {
        throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
      },
    );
    let file: InstanceType<typeof h5wasm.File>;
    try {
      file = new h5wasm.File(path, 'r');
      if (!(file.file_id > 0n)) throw new Error('not opened');
    } catch {
      throw new Problem('The file is not a whole HDF5 file.', {
        code: 'laser-hdf5',
        file: name,
        place: 'HDF5 structure',
        remedy: 'It was cut off or is of another kind: copy it again from its origin.',
      });
    }
    try {
      return new LaserFile(describe(file, name, size), name, file);
    } catch (error) {
      file.close();
      if (error instanceof Problem) throw error;
      throw new Problem('The HDF5 structure is damaged.', {
        code: 'laser-hdf5',
        file: name,
        place: 'HDF5 structure',
        remedy: 'Copy the file again from its origin.',
      });
    }
  }

  /** Reads returns [from, to). */
  read(from: number, to: number): LaserReturns {
    const out: Record<string, unknown> = { week: this.info.week };
    for (const [path, column] of Object.entries(COLUMNS)) {
      try {
        const dataset = this.file.get(`laser/${path}`) as unknown as { slice(r: number[][]): ArrayLike<number> };
        const got = dataset.slice([[from, to]]);
        out[column.key] = got instanceof column.make ? got : column.make.from(got as ArrayLike<number>);
      } catch {
        throw new Problem(`Returns ${from} to ${to} cannot be read.`, {
          code: 'laser-chunk',
          file: this.name,
          place: `/laser/${path}, rows ${from} to ${to}`,
          remedy: 'The file is damaged there: copy it again from its origin.',
        });
      }
    }
    return out as unknown as LaserReturns;
  }

  /** Blocks of whole chunks. */
  *blocks(size = CHUNK): Generator<{ from: number; returns: LaserReturns }> {
    for (let from = 0; from < this.info.count; from += size)
      yield { from, returns: this.read(from, Math.min(from + size, this.info.count)) };
  }

  close(): void {
    this.file.close();
  }
}

function describe(file: InstanceType<typeof h5wasm.File>, name: string, size: number): LaserFileInfo {
  const bad = (place: string, message: string) =>
    new Problem(message, {
      code: 'laser-layout',
      file: name,
      place,
      remedy: 'See docs/formats/laser.md for the layout.',
    });
  const group = file.get('laser') as unknown as { attrs: Record<string, { value: unknown }> } | null;
  if (!group) throw bad('/laser', 'There is no group "laser" in the file.');
  let count = -1;
  for (const [path, column] of Object.entries(COLUMNS)) {
    const dataset = file.get(`laser/${path}`) as unknown as { shape: number[] | null } | null;
    const length = dataset?.shape?.[0];
    if (length === undefined || dataset!.shape!.length !== 1)
      throw bad(`/laser/${path}`, 'The column is missing or has the wrong shape.');
    if (count >= 0 && length !== count)
      throw bad(`/laser/${path}`, `The column has ${length} rows, the others ${count}.`);
    if (length * column.bytes > size * MOST_EXPANSION)
      throw bad(`/laser/${path}`, `The column declares ${length} rows, more than a file of ${size} bytes can hold.`);
    count = length;
  }
  const attribute = (key: string) =>
    group.attrs[key]?.value ?? (file as unknown as { attrs: Record<string, { value: unknown }> }).attrs[key]?.value;
  const number = (key: string): number => {
    const value = Number(attribute(key));
    if (!Number.isFinite(value))
      throw bad(`/laser, attribute ${key}`, `The attribute ${key} is missing or not a number.`);
    return value;
  };
  return {
    count,
    week: number('gps_week'),
    sensor: String(attribute('sensor') ?? ''),
    rangeSdM: number('range_sd_m'),
    angleSdDeg: number('angle_sd_deg'),
  };
}

/** Writes a laser file: chunked, deflated. */
export async function writeLaserFile(path: string, info: Omit<LaserFileInfo, 'count'>, r: LaserReturns): Promise<void> {
  await library();
  const file = new h5wasm.File(path, 'w');
  try {
    file.create_group('laser');
    const n = r.sow.length;
    const put = (name: string, data: unknown, dtype: string) =>
      file.create_dataset({
        name: `laser/${name}`,
        data: data as never,
        shape: [n],
        dtype: dtype as never,
        chunks: [Math.min(CHUNK, Math.max(1, n))],
        compression: 'gzip',
        compression_opts: [3],
      });
    put('gps_sow', r.sow, '<d');
    put('range', r.rangeM, '<f');
    put('azimuth', r.azimuthDeg, '<f');
    put('elevation', r.elevationDeg, '<f');
    put('intensity', r.intensity, '<H');
    put('return_number', r.returnNumber, '<B');
    put('return_count', r.returnCount, '<B');
    const group = file.get('laser') as unknown as {
      create_attribute(name: string, data: unknown, shape: null, dtype?: string): void;
    };
    group.create_attribute('gps_week', info.week, null, '<i');
    group.create_attribute('sensor', info.sensor, null);
    group.create_attribute('range_sd_m', info.rangeSdM, null, '<d');
    group.create_attribute('angle_sd_deg', info.angleSdDeg, null, '<d');
  } finally {
    file.close();
  }
}
