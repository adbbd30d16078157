import { open, readFile, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { type InertialData } from '@longheron/core/inertial';
import { Problem } from '@longheron/core/shared';
import { nominalStepS } from '@longheron/core/trajectory';
import { decodeText, readDecimal, splitCsv } from '../csv';
import { CHUNK_ROWS, openHdf5, readRows, writeHdf5, type Hdf5Layout } from '../hdf5';

/** Header of the text layout, docs/formats/inertial.md. */
export const INERTIAL_COLUMNS = [
  ...['gps_week', 'gps_sow', 'gx_radps', 'gy_radps', 'gz_radps'],
  ...['ax_mps2', 'ay_mps2', 'az_mps2'],
] as const;

/** Text files beyond this are refused: they would not fit into a string. */
const MOST_TEXT_BYTES = 480e6;

/** Reads inertial data, HDF5 or CSV, by content. Only for worker threads and the command line. */
export async function readInertial(path: string, name = basename(path)): Promise<InertialData> {
  const text = await isText(path);
  const data = text ? readInertialCsv(await readFile(path), name) : await readInertialHdf5(path, name);
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
  const size = await stat(path).then(
    (s) => s.size,
    () => {
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    },
  );
  const file = await open(path, 'r');
  try {
    const head = new Uint8Array(4);
    await file.read(head, 0, 4, 0);
    const text = head[0] !== 0x89;
    if (text && size > MOST_TEXT_BYTES)
      throw new Problem(`The text file of ${(size / 1e6).toFixed(0)} MB is too long.`, {
        code: 'inertial-size',
        file: path,
        remedy: 'Split it by time, or convert it to HDF5.',
      });
    return text;
  } finally {
    await file.close();
  }
}

async function readInertialHdf5(path: string, name: string): Promise<InertialData> {
  const { file, info } = await openHdf5(path, 'inertial', name, describe);
  try {
    const { count } = info;
    const out = {
      ...{ week: info.week, rateHz: info.rateHz, sow: new Float64Array(count) },
      ...{ gyroRadps: new Float64Array(3 * count), accelMps2: new Float64Array(3 * count) },
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
    ...{ gps_sow: { width: 1, bytes: 8 }, gyro: { width: 3, bytes: 8 }, accel: { width: 3, bytes: 8 } },
  });
  const rateHz = layout.number('imu', 'rate_hz');
  if (!(rateHz >= 1 && rateHz <= 20000))
    throw layout.bad('/imu, attribute rate_hz', `A rate of ${rateHz} samples a second cannot be.`);
  return { count, week: layout.number('imu', 'gps_week'), rateHz };
}

/** Reads the text layout. Every wrong value is named by line and column. */
export function readInertialCsv(bytes: Uint8Array, file: string): InertialData {
  const table = splitCsv(decodeText(bytes, file), file);
  const places = INERTIAL_COLUMNS.map((name) => {
    const at = table.header.indexOf(name);
    if (at < 0)
      throw new Problem(`The column ${name} is missing.`, {
        code: 'inertial-columns',
        file,
        place: 'header line',
        remedy: 'See docs/formats/inertial.md for the columns; units are part of their names.',
      });
    return at;
  });
  const n = table.rows.length;
  const out = { week: 0, rateHz: 0, sow: new Float64Array(n) };
  const gyroRadps = new Float64Array(3 * n);
  const accelMps2 = new Float64Array(3 * n);
  const cells = new Int32Array(table.header.length + 1);
  for (let r = 0; r < n; r++) {
    const row = table.rows[r];
    let count = 0;
    cells[count++] = 0;
    for (let at = row.indexOf(','); at >= 0 && count < cells.length; at = row.indexOf(',', at + 1))
      cells[count++] = at + 1;
    if (count !== table.header.length)
      throw new Problem(`The line has ${count} values, the header ${table.header.length}.`, {
        code: 'inertial-line',
        file,
        place: `line ${table.lineNumbers[r]}`,
        remedy: r === n - 1 ? 'The file was cut off: copy it again from its origin.' : 'Correct the line.',
      });
    cells[count] = row.length + 1;
    const value = (k: number): number => {
      const [from, to] = [cells[places[k]], cells[places[k] + 1] - 1];
      const v = readDecimal(row, from, to);
      if (Number.isFinite(v)) return v;
      throw new Problem(`${INERTIAL_COLUMNS[k]} is "${row.slice(from, to)}": not a number.`, {
        code: 'inertial-value',
        file,
        place: `line ${table.lineNumbers[r]}, column ${INERTIAL_COLUMNS[k]}`,
        remedy: 'Correct the line, or export the data again.',
      });
    };
    const week = value(0);
    if (r === 0) out.week = week;
    out.sow[r] = value(1) + (week - out.week) * 604800;
    for (let k = 0; k < 3; k++) {
      gyroRadps[3 * r + k] = value(2 + k);
      accelMps2[3 * r + k] = value(5 + k);
    }
  }
  const step = nominalStepS(out.sow);
  return { ...out, rateHz: step > 0 ? Math.round(1e3 / step) / 1e3 : 0, gyroRadps, accelMps2 };
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
