import { stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Problem } from '@longheron/core/shared';
import { decoderFailed } from '../bytes';
import type H5wasm from 'h5wasm/node';
import { type Look } from '../format/look';

export type Hdf5File = InstanceType<typeof H5wasm.File>;

/** Deflate cannot make more than this of one byte. */
const MAX_EXPANSION = 1032;
/** Rows in a chunk as we write them. */
export const CHUNK_ROWS = 1 << 16;

/** A chunk is unpacked as a whole: larger ones are no recording's, bytes. */
const MAX_CHUNK_BYTES = 256 << 20;

const SIGNATURE = [0x89, 0x48, 0x44, 0x46, 0x0d, 0x0a, 0x1a, 0x0a];
/** As much of a file is looked through for the names of its columns. */
const LOOK_BYTES = 1 << 20;

export const isHdf5 = (look: Look) => SIGNATURE.every((b, i) => look.head[i] === b);

/** Whether one of these names stands in front of the data; the readers check the layout. */
export async function hdf5Names({ source }: Look, ...names: string[]): Promise<boolean> {
  const head = await source.read(0, Math.min(source.size, LOOK_BYTES));
  const text = Buffer.from(head.buffer, head.byteOffset, head.byteLength);
  return names.some((n) => text.includes(n));
}

let loading: Promise<typeof H5wasm> | undefined;

/** The library is WebAssembly: loaded when a file is first opened. */
async function library(): Promise<typeof H5wasm> {
  loading ??= import('h5wasm/node').then(async ({ default: h5wasm }) => {
    const module = await h5wasm.ready;
    (module as unknown as { activate_throwing_error_handler(): void }).activate_throwing_error_handler();
    return h5wasm;
  });
  return loading;
}

/**
 * Opens an HDF5 file and describes it; the file is closed again when the description fails. Only for worker threads
 * and the command line.
 * @param kind beginning of the codes of errors, for example `laser`.
 */
export async function openHdf5<T>(
  path: string,
  kind: string,
  name: string | undefined,
  describe: (layout: Hdf5Layout) => T,
): Promise<{ file: Hdf5File; info: T }> {
  const h5wasm = await library();
  const title = name ?? basename(path);
  const size = await stat(path).then(
    (s) => s.size,
    () => {
      throw new Problem('There is no such file.', { code: 'file-open', file: path, remedy: 'Check the path.' });
    },
  );
  const damaged = (message: string, remedy: string) =>
    new Problem(message, { code: `${kind}-hdf5`, file: title, place: 'HDF5 structure', remedy });
  let file: Hdf5File;
  try {
    file = new h5wasm.File(path, 'r');
    if (!(file.file_id > 0n)) throw new Error('not opened');
  } catch {
    decoderFailed();
    throw damaged(
      'The file is not a whole HDF5 file.',
      'It was cut off or is of another kind: copy it again from its origin.',
    );
  }
  try {
    return { file, info: describe(new Hdf5Layout(file, kind, title, size)) };
  } catch (error) {
    file.close();
    if (error instanceof Problem) throw error;
    decoderFailed();
    throw damaged('The HDF5 structure is damaged.', 'Copy the file again from its origin.');
  }
}

/** Looks at one group of an HDF5 file, and says by name what is wrong with it. */
export class Hdf5Layout {
  constructor(
    private readonly file: Hdf5File,
    private readonly kind: string,
    private readonly name: string,
    private readonly bytes: number,
  ) {}

  bad(place: string, message: string): Problem {
    return new Problem(message, {
      code: `${this.kind}-layout`,
      file: this.name,
      place,
      remedy: `See docs/formats/${this.kind}.md for the layout.`,
    });
  }

  mustHaveGroup(group: string): void {
    if (!this.file.get(group)) throw this.bad(`/${group}`, `There is no group "${group}" in the file.`);
  }

  /** Rows that all columns of a group have alike. @param columns width (1: a vector) and bytes of a value by name. */
  rows(group: string, columns: Record<string, { width: number; bytes: number }>): number {
    let count = -1;
    for (const [path, { width, bytes }] of Object.entries(columns)) {
      const place = `/${group}/${path}`;
      const { shape, metadata } = (this.file.get(`${group}/${path}`) ?? {}) as {
        shape?: number[] | null;
        metadata?: { chunks: number[] | null };
      };
      const good = width === 1 ? shape?.length === 1 : shape?.length === 2 && shape[1] === width;
      if (!shape || !good) throw this.bad(place, 'The column is missing or has the wrong shape.');
      const length = shape[0];
      if (count >= 0 && length !== count) throw this.bad(place, `The column has ${length} rows, the others ${count}.`);
      if (length * width * bytes > this.bytes * MAX_EXPANSION)
        throw this.bad(place, `The column declares ${length} rows, more than a file of ${this.bytes} bytes can hold.`);
      const chunk = (metadata?.chunks ?? []).reduce((product, v) => product * v, bytes);
      if (chunk > MAX_CHUNK_BYTES)
        throw this.bad(place, `The column is kept in chunks of ${(chunk / 1e6).toFixed(0)} MB.`);
      count = length;
    }
    return count;
  }

  /** Lengths of a dataset's axes; undefined when there is none. */
  shape(path: string): number[] | undefined {
    const found = this.file.get(path) as { shape?: number[] | null } | null;
    return found?.shape ?? undefined;
  }

  has(group: string): boolean {
    return !!this.file.get(group);
  }

  /** Names of what a group holds. */
  members(group: string): string[] {
    const found = this.file.get(group) as { keys?: () => string[] } | null;
    return found?.keys?.() ?? [];
  }

  /** An attribute of the group or, failing that, of the file. */
  attribute(group: string, key: string): unknown {
    const of = (holder: unknown) => (holder as { attrs: Record<string, { value: unknown }> }).attrs[key]?.value;
    return of(this.file.get(group)) ?? of(this.file);
  }

  number(group: string, key: string): number {
    const value = Number(this.attribute(group, key));
    if (!Number.isFinite(value))
      throw this.bad(`/${group}, attribute ${key}`, `The attribute ${key} is missing or not a number.`);
    return value;
  }
}

/** Rows [from, to) of a column; `width` numbers a row. Throws a Problem that names the rows when they are damaged. */
export function readRows(
  file: Hdf5File,
  place: string,
  from: number,
  to: number,
  width: number,
  kind: string,
  name: string,
): ArrayLike<number> {
  try {
    const dataset = file.get(place) as unknown as { slice(r: number[][]): ArrayLike<number> };
    return dataset.slice(
      width === 1
        ? [[from, to]]
        : [
            [from, to],
            [0, width],
          ],
    );
  } catch {
    decoderFailed();
    throw new Problem(`Rows ${from} to ${to} cannot be read.`, {
      code: `${kind}-chunk`,
      file: name,
      place: `/${place}, rows ${from} to ${to}`,
      remedy: 'The file is damaged there: copy it again from its origin.',
    });
  }
}

/** A column to write: values, row after row, and HDF5 type. */
export interface Hdf5Column {
  data: ArrayLike<number>;
  dtype: string;
  width?: number;
}

export type Hdf5Attributes = Record<string, { value: number | string; dtype?: string }>;

/** Writes one group of columns, chunked and deflated, with attributes. */
export function writeHdf5(
  path: string,
  group: string,
  columns: Record<string, Hdf5Column>,
  attributes: Hdf5Attributes,
): Promise<void> {
  return writeHdf5Groups(path, { [group]: { columns, attributes } });
}

/** The same for several groups, those within others by their path; '/' is the file itself. */
export async function writeHdf5Groups(
  path: string,
  groups: Record<string, { columns?: Record<string, Hdf5Column>; attributes?: Hdf5Attributes }>,
): Promise<void> {
  const h5wasm = await library();
  const file = new h5wasm.File(path, 'w');
  try {
    for (const [group, { columns = {}, attributes = {} }] of Object.entries(groups))
      writeGroup(file, group, columns, attributes);
  } finally {
    file.close();
  }
}

function writeGroup(
  file: Hdf5File,
  group: string,
  columns: Record<string, Hdf5Column>,
  attributes: Hdf5Attributes,
): void {
  if (group !== '/') file.create_group(group);
  for (const [name, { data, dtype, width = 1 }] of Object.entries(columns)) {
    const rows = data.length / width;
    const chunk = Math.min(Math.max(1, Math.floor(CHUNK_ROWS / width)), Math.max(1, rows));
    file.create_dataset({
      name: `${group}/${name}`,
      data: data as never,
      shape: width === 1 ? [rows] : [rows, width],
      dtype: dtype as never,
      chunks: width === 1 ? [chunk] : [chunk, width],
      compression: 'gzip',
      compression_opts: [3],
    });
  }
  const holder = (group === '/' ? file : file.get(group)) as unknown as {
    create_attribute(name: string, data: unknown, shape: null, dtype?: string): void;
  };
  for (const [name, { value, dtype }] of Object.entries(attributes)) holder.create_attribute(name, value, null, dtype);
}
