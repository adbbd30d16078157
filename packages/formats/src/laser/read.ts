import { basename } from 'node:path';
import { type LaserNoise, type LaserReturns } from '@longheron/core/laser';
import { CHUNK_ROWS, openHdf5, readRows, writeHdf5, type Hdf5File, type Hdf5Layout } from '../hdf5';

/** Laser returns in HDF5, docs/formats/laser.md. */
export interface LaserFileInfo extends LaserNoise {
  week: number;
  sensor: string;
  /** Serial number of the instrument; empty when the file does not say. */
  serial: string;
  count: number;
}

const COLUMNS = {
  gps_sow: { key: 'sow', make: Float64Array, dtype: '<d' },
  range: { key: 'rangeM', make: Float32Array, dtype: '<f' },
  azimuth: { key: 'azimuthDeg', make: Float32Array, dtype: '<f' },
  elevation: { key: 'elevationDeg', make: Float32Array, dtype: '<f' },
  intensity: { key: 'intensity', make: Uint16Array, dtype: '<H' },
  return_number: { key: 'returnNumber', make: Uint8Array, dtype: '<B' },
  return_count: { key: 'returnCount', make: Uint8Array, dtype: '<B' },
} as const;

/** Returns of one scanner head, read in blocks of whole chunks. Only for worker threads and the command line. */
export class LaserFile {
  private constructor(
    readonly info: LaserFileInfo,
    private readonly name: string,
    private readonly file: Hdf5File,
  ) {}

  static async open(path: string, name = basename(path)): Promise<LaserFile> {
    const { file, info } = await openHdf5(path, 'laser', name, describe);
    return new LaserFile(info, name, file);
  }

  /** Reads returns [from, to). */
  read(from: number, to: number): LaserReturns {
    const out: Record<string, unknown> = { week: this.info.week };
    for (const [path, column] of Object.entries(COLUMNS)) {
      const got = readRows(this.file, `laser/${path}`, from, to, 1, 'laser', this.name);
      out[column.key] = got instanceof column.make ? got : column.make.from(got);
    }
    return out as unknown as LaserReturns;
  }

  /** Blocks of whole chunks. */
  *blocks(size = CHUNK_ROWS): Generator<{ from: number; returns: LaserReturns }> {
    for (let from = 0; from < this.info.count; from += size)
      yield { from, returns: this.read(from, Math.min(from + size, this.info.count)) };
  }

  close(): void {
    this.file.close();
  }
}

function describe(layout: Hdf5Layout): LaserFileInfo {
  layout.mustHaveGroup('laser');
  const columns = Object.entries(COLUMNS).map(([name, c]) => [name, { width: 1, bytes: c.make.BYTES_PER_ELEMENT }]);
  return {
    count: layout.rows('laser', Object.fromEntries(columns)),
    week: layout.number('laser', 'gps_week'),
    sensor: String(layout.attribute('laser', 'sensor') ?? ''),
    serial: String(layout.attribute('laser', 'serial') ?? ''),
    rangeSdM: layout.number('laser', 'range_sd_m'),
    angleSdDeg: layout.number('laser', 'angle_sd_deg'),
  };
}

/** Writes a laser file: chunked, deflated. */
export async function writeLaserFile(path: string, info: Omit<LaserFileInfo, 'count'>, r: LaserReturns): Promise<void> {
  const columns = Object.entries(COLUMNS).map(([name, c]) => [name, { data: r[c.key], dtype: c.dtype }]);
  await writeHdf5(path, 'laser', Object.fromEntries(columns), {
    gps_week: { value: info.week, dtype: '<i' },
    sensor: { value: info.sensor },
    ...(info.serial ? { serial: { value: info.serial } } : {}),
    range_sd_m: { value: info.rangeSdM, dtype: '<d' },
    angle_sd_deg: { value: info.angleSdDeg, dtype: '<d' },
  });
}
