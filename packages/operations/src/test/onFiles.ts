import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { complete, faultOf, type Declaration, type Given } from '@longheron/contract/declare';
import { type Contents } from '@longheron/contract/kinds';
import { OPERATIONS, type Operation } from '@longheron/contract/operations';
import { type Notice } from '@longheron/core/shared';
import { loadComputation, openPaths, type Context, type Made } from '../computation';
import { convertCloud } from '../shared/convert';
import { FolderStore } from '../shared/store';

type ContentOf<N extends Operation> = Contents[(typeof OPERATIONS)[N]['result']];

/** What a run on files has made. */
export interface Ran<N extends Operation> {
  content: ContentOf<N>;
  made: Made<(typeof OPERATIONS)[N]['result']>;
  /** Of opening the files and of the computation. */
  notices: Notice[];
  /** A file that was written, as text. */
  text(name: string): Promise<string>;
  path(name: string): string;
}

/** A folder in which operations are run on small files, as the command line does. */
export class OnFiles {
  /** Where results are kept; one for all, so that nothing of one is in the way of another. */
  readonly store: FolderStore;

  private constructor(readonly folder: string) {
    this.store = new FolderStore(folder);
  }

  static async create(): Promise<OnFiles> {
    return new OnFiles(await mkdtemp(join(tmpdir(), 'longheron-operations-')));
  }

  remove(): Promise<void> {
    return rm(this.folder, { recursive: true, force: true });
  }

  path(name: string): string {
    return join(this.folder, name);
  }

  async put(name: string, data: string | Uint8Array): Promise<string> {
    await writeFile(this.path(name), data);
    return this.path(name);
  }

  /** A cloud as LAS: easting, northing, height, and what `columns` names beside them. */
  async cloud(name: string, points: ReadonlyArray<readonly number[]>, crs = 'EPSG:25832+5773', more: string[] = []) {
    const text = await this.put(
      `${name}.xyz`,
      points.map((p) => `${p.map((v) => +v.toFixed(6)).join(' ')}\n`).join(''),
    );
    const columns = { x: 0, y: 1, z: 2, ...Object.fromEntries(more.map((c, k) => [c, 3 + k])) };
    await convertCloud(text, this.path(`${name}.las`), { columns, crs: crs || undefined, created: new Date(0) });
    return this.path(`${name}.las`);
  }

  /**
   * @param context what the project knows, and whether pictures and stores are made (`keeps`), as the application does.
   * `beside`: inputs by role that are no files.
   */
  async run<N extends Operation>(
    name: N,
    paths: { [role: string]: string[] },
    settings: Given = {},
    { keeps = false, beside = {}, ...context }: Partial<Context> & { keeps?: boolean; beside?: object } = {},
  ): Promise<Ran<N>> {
    const declaration: Declaration = OPERATIONS[name];
    const chosen = Object.fromEntries(
      Object.keys(declaration.roles).map((r) => [r, r in beside ? 1 : (paths[r]?.length ?? 0)]),
    );
    const fault = faultOf(declaration, settings, chosen);
    if (fault) throw new Error(`${fault.field}: ${fault.message}`);
    const { store } = this;
    const findings: Notice[] = [];
    const roles = Object.fromEntries(Object.entries(declaration.roles).filter(([r]) => !(r in beside)));
    const { inputs } = await openPaths({ ...declaration, roles }, paths, { store, crs: context.crs, findings });
    const written = new Map<string, string>();
    const { run } = await loadComputation(name);
    const made = (await run(
      { ...inputs, ...beside },
      complete(declaration.settings, settings),
      {
        projectName: 'Site',
        usedMarks: {},
        classNames: Array.from({ length: 256 }, (_, c) => `class ${c}`),
        ...context,
      },
      {
        store,
        keeps,
        wanted: () => true,
        async file(file, _kind, write) {
          const path = store.scratch();
          await write(path);
          written.set(file, path);
          return keeps
            ? store.file(async (to) => writeFile(to, await readFile(path)))
            : { sha256: '', bytes: (await stat(path)).size };
        },
      },
      {},
      // the computation is that of the operation
    )) as Made<(typeof OPERATIONS)[N]['result']>;
    const path = (file: string) => written.get(file) ?? this.path(file);
    return {
      content: made.content as ContentOf<N>,
      made,
      notices: [...findings, ...made.report.notices],
      path,
      text: (file) => readFile(path(file), 'utf8'),
    };
  }
}

/** Rows of a trajectory by time, degrees and metres; level, north, all deviations a centimetre. */
export function trajectoryText(
  rows: ReadonlyArray<{ sow: number; latDeg: number; lonDeg: number; hM: number }>,
  head = '# crs: EPSG:4937\n# epoch: 2026.5\n# point: imu\n',
): string {
  const columns =
    'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m,solution';
  const line = (r: (typeof rows)[number]) =>
    `2423,${r.sow.toFixed(6)},${r.latDeg.toFixed(10)},${r.lonDeg.toFixed(10)},${r.hM.toFixed(4)},0,0,0,0.01,0.01,0.01,fixed\n`;
  return `${head}${columns}\n${rows.map(line).join('')}`;
}

/** Lines of a table, split, without comments; the first is the header. */
export const cellsOf = (text: string): string[][] =>
  text
    .trim()
    .split('\n')
    .filter((l) => !l.startsWith('#'))
    .map((l) => l.split(','));
