import { open } from 'node:fs/promises';
import { basename } from 'node:path';
import { type InertialData } from '@longheron/core/inertial';
import { Problem } from '@longheron/core/shared';
import { nominalStepS } from '@longheron/core/trajectory';
import { WEEK_S } from '@longheron/core/time';
import { columnsOf, openColumns, type ColumnLayout, type ColumnRows } from '../csv';
import { CHUNK_ROWS, openHdf5, readRows, writeHdf5, type Hdf5Layout } from '../hdf5';

/** Header of the text layout, docs/formats/inertial.md. */
export const INERTIAL_COLUMNS = [
  'gps_week',
  'gps_sow',
  'gx_radps',
  'gy_radps',
  'gz_radps',
  'ax_mps2',
  'ay_mps2',
  'az_mps2',
] as const;

/** Reads inertial data, HDF5 or CSV, by content. Only for worker threads and the command line. */
export async function readInertial(path: string, name = basename(path)): Promise<InertialData> {
  const text = await isText(path);
  const data = text ? await openInertialCsv(path, name) : await readInertialHdf5(path, name);
  const { sow, gyroRadps, accelMps2 } = data;
  if (sow.length < 2)
    throw new Problem('The file has no samples.', {
      code: 'inertial-empty',
      file: name,
      place: text ? 'after the header line' : '/imu/gps_sow',
      remedy: 'Copy the file again from its origin.',
    });
  for (let i = 0; i < sow.length; i++) {
    const place = text ? `sample ${i + 1}` : `/imu, row ${i}`;
    let sum = sow[i];
    for (let k = 3 * i; k < 3 * i + 3; k++) sum += gyroRadps[k] + accelMps2[k];
    if (!Number.isFinite(sum))
      throw new Problem('A value is not a number.', {
        code: 'inertial-value',
        file: name,
        place,
        remedy: 'Export the data again.',
      });
    if (i > 0 && !(sow[i] > sow[i - 1]))
      throw new Problem(`Time does not go forward: ${sow[i]} s after ${sow[i - 1]} s.`, {
        code: 'inertial-order',
        file: name,
        place,
        remedy: 'Export the data again in the order of time; seconds run past 604800, they do not begin anew.',
      });
  }
  return data;
}

async function isText(path: string): Promise<boolean> {
  const file = await open(path, 'r').catch(() => {
    throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
  });
  try {
    const head = new Uint8Array(4);
    await file.read(head, 0, 4, 0);
    return head[0] !== 0x89;
  } finally {
    await file.close();
  }
}

async function readInertialHdf5(path: string, name: string): Promise<InertialData> {
  const { file, info } = await openHdf5(path, 'inertial', name, describe);
  try {
    const { count } = info;
    const out = {
      week: info.week,
      rateHz: info.rateHz,
      sow: new Float64Array(count),
      gyroRadps: new Float64Array(3 * count),
      accelMps2: new Float64Array(3 * count),
    };
    for (let from = 0; from < count; from += CHUNK_ROWS) {
      const to = Math.min(count, from + CHUNK_ROWS);
      out.sow.set(readRows(file, 'imu/gps_sow', from, to, 1, 'inertial', name), from);
      out.gyroRadps.set(readRows(file, 'imu/gyro', from, to, 3, 'inertial', name), 3 * from);
      out.accelMps2.set(readRows(file, 'imu/accel', from, to, 3, 'inertial', name), 3 * from);
    }
    return out;
  } finally {
    file.close();
  }
}

function describe(layout: Hdf5Layout): { count: number; week: number; rateHz: number } {
  layout.mustHaveGroup('imu');
  const count = layout.rows('imu', {
    gps_sow: { width: 1, bytes: 8 },
    gyro: { width: 3, bytes: 8 },
    accel: { width: 3, bytes: 8 },
  });
  const rateHz = layout.number('imu', 'rate_hz');
  if (!(rateHz >= 1 && rateHz <= 20000))
    throw layout.bad('/imu, attribute rate_hz', `A rate of ${rateHz} samples a second cannot be.`);
  return { count, week: layout.number('imu', 'gps_week'), rateHz };
}

/** Reads the text layout from memory. Every wrong value is named by line and column. */
export async function readInertialCsv(bytes: Uint8Array, file: string): Promise<InertialData> {
  const { layout, data } = layoutOf();
  return data(await columnsOf(bytes, file, layout));
}

async function openInertialCsv(path: string, file: string): Promise<InertialData> {
  const { layout, data } = layoutOf();
  return data(await openColumns(path, file, layout));
}

function layoutOf(): { layout: ColumnLayout; data: (rows: ColumnRows) => InertialData } {
  let [weeks, sow, gyro, accel] = [0, 0, 0, 0].map((n) => new Float64Array(n));
  const layout: ColumnLayout = {
    code: 'inertial',
    required: INERTIAL_COLUMNS,
    empty: 'The file has no samples.',
    target(name, rows) {
      const k = (INERTIAL_COLUMNS as readonly string[]).indexOf(name);
      if (k < 0) return undefined;
      if (k === 0) weeks = new Float64Array(rows);
      if (k === 1) sow = new Float64Array(rows);
      if (k < 2) return { into: k === 0 ? weeks : sow, from: 0, step: 1 };
      if (gyro.length === 0) [gyro, accel] = [new Float64Array(3 * rows), new Float64Array(3 * rows)];
      return k < 5 ? { into: gyro, from: k - 2, step: 3 } : { into: accel, from: k - 5, step: 3 };
    },
    missing: 'See docs/formats/inertial.md for the columns; units are part of their names.',
  };
  const data = (rows: ColumnRows): InertialData => {
    const n = rows.count;
    [sow, gyro, accel] = [sow.subarray(0, n), gyro.subarray(0, 3 * n), accel.subarray(0, 3 * n)];
    for (let r = 0; r < n; r++) {
      let sum = weeks[r] + sow[r];
      for (let k = 3 * r; k < 3 * r + 3; k++) sum += gyro[k] + accel[k];
      if (Number.isNaN(sum)) {
        const row = [weeks[r], sow[r], ...gyro.subarray(3 * r, 3 * r + 3), ...accel.subarray(3 * r, 3 * r + 3)];
        throw rows.bad(rows.lines[r], INERTIAL_COLUMNS[row.findIndex(Number.isNaN)], '', 'not a number');
      }
      sow[r] += (weeks[r] - weeks[0]) * WEEK_S;
    }
    const step = nominalStepS(sow);
    const rateHz = step > 0 ? Math.round(1e3 / step) / 1e3 : 0;
    return { week: weeks[0], rateHz, sow, gyroRadps: gyro, accelMps2: accel };
  };
  return { layout, data };
}

/** Writes inertial data as HDF5. */
export async function writeInertialFile(path: string, data: InertialData): Promise<void> {
  await writeHdf5(
    path,
    'imu',
    {
      gps_sow: { data: data.sow, dtype: '<d' },
      gyro: { data: data.gyroRadps, dtype: '<d', width: 3 },
      accel: { data: data.accelMps2, dtype: '<d', width: 3 },
    },
    { gps_week: { value: data.week, dtype: '<i' }, rate_hz: { value: data.rateHz, dtype: '<d' } },
  );
}
