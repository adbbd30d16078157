import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { factsOf, type DatasetDto, type NoticeDto, type ProjectDto } from '@longheron/contract/api';
import { DEG } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { contentOf, isStored, testServer, type TestServer } from './server';

/** One shift for all, arc seconds to the north and to the east: the old datum lies that far from the frame. */
const [NORTH_SEC, EAST_SEC] = [-3.6, -5.4];
const [SOUTH, WEST, ROWS, COLUMNS] = [50, 8, 3, 4];
/** An NTv2 grid of one shift, a value a degree. */
function ntv2(): Uint8Array {
  const out = new Uint8Array(16 * (22 + ROWS * COLUMNS));
  const v = new DataView(out.buffer);
  const rows: Array<[string, number | string, 'int' | 'real' | 'text']> = [
    ['NUM_OREC', 11, 'int'],
    ['NUM_SREC', 11, 'int'],
    ['NUM_FILE', 1, 'int'],
    ['GS_TYPE', 'SECONDS', 'text'],
    ['VERSION', 'NTv2.0', 'text'],
    ['SYSTEM_F', 'OLD', 'text'],
    ['SYSTEM_T', 'ETRS89', 'text'],
    ['MAJOR_F', 6377397.155, 'real'],
    ['MINOR_F', 6356078.963, 'real'],
    ['MAJOR_T', 6378137, 'real'],
    ['MINOR_T', 6356752.314, 'real'],
    ['SUB_NAME', 'WHOLE', 'text'],
    ['PARENT', 'NONE', 'text'],
    ['CREATED', '20260101', 'text'],
    ['UPDATED', '20260101', 'text'],
    ['S_LAT', 3600 * SOUTH, 'real'],
    ['N_LAT', 3600 * (SOUTH + ROWS - 1), 'real'],
    ['E_LONG', -3600 * (WEST + COLUMNS - 1), 'real'],
    ['W_LONG', -3600 * WEST, 'real'],
    ['LAT_INC', 3600, 'real'],
    ['LONG_INC', 3600, 'real'],
    ['GS_COUNT', ROWS * COLUMNS, 'int'],
  ];
  rows.forEach(([key, value, kind], k) => {
    out.set(new TextEncoder().encode(key), 16 * k);
    if (kind === 'int') v.setInt32(16 * k + 8, Number(value), true);
    else if (kind === 'real') v.setFloat64(16 * k + 8, Number(value), true);
    else out.set(new TextEncoder().encode(String(value)), 16 * k + 8);
  });
  for (let i = 0; i < ROWS * COLUMNS; i++) {
    v.setFloat32(16 * (22 + i), NORTH_SEC, true);
    v.setFloat32(16 * (22 + i) + 4, -EAST_SEC, true);
  }
  return out;
}

let s: TestServer;
const root = mkdtempSync(join(tmpdir(), 'longheron-grids-'));
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const reference = (change: object) =>
  s.send('PUT', '/projects/1/reference', { horizontal: 31467, vertical: 0, unit: 'metre', time: 'gps', ...change });
async function take(name: string, bytes: Uint8Array | string): Promise<DatasetDto> {
  writeFileSync(join(root, name), bytes);
  await s.send('POST', '/projects/1/take', { paths: [join(root, name)] });
  return s.until(async () =>
    (await datasets()).find((d) => d.name === name && (d.kind !== 'point-cloud' || isStored(d))),
  );
}
beforeAll(async () => {
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'On an old datum' });
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('a project on an old datum', () => {
  let grid: DatasetDto;
  it('needs a grid, which is named; a grid that is brought is recognised by its content', async () => {
    const without = await reference({});
    expect([without.status, without.body.code]).toEqual([422, 'crs-datum']);
    expect(without.body.remedy).toMatch(/^Import BETA2007\.gsb \(NTv2 or GeoTIFF\) in Gather/);
    grid = await take('renamed.bin', ntv2());
    expect(grid.kind).toBe('datum-grid');
    expect(factsOf(grid)!.details).toEqual(
      expect.arrayContaining([
        ['From', 'OLD'],
        ['To', 'ETRS89'],
        ['Latitude', '50.0000° to 52.0000°'],
        ['Longitude', '8.0000° to 11.0000°'],
      ]),
    );
    const other = await reference({ shift: 999 });
    expect(other).toMatchObject({ status: 400, body: { code: 'grid-missing' } });
  });

  it('is shifted by it, said in the reference line, and carried out of it by exactly that much', async () => {
    const set = (await reference({ shift: grid.id })).body as unknown as ProjectDto;
    expect(set.reference).toMatchObject({
      statement: 'datum shift by the grid renamed.bin, OLD to ETRS89, bilinear; ellipsoidal heights',
      shift: { dataset: grid.id, name: 'renamed.bin', sha12: contentOf(grid, 'datum-grid').object.slice(0, 12) },
    });
    const cloud = await take(
      'points.xyz',
      Array.from({ length: 300 }, (_, i) => `${3500000 + i} 5650000 ${i / 10}\n`).join(''),
    );
    const { las } = contentOf(cloud, 'point-cloud');
    const bytes = Buffer.from(await (await fetch(`${s.base}/api/objects/${las}`)).arrayBuffer());
    expect(bytes.toString('latin1')).toContain(`shifted by renamed.bin@${set.reference!.shift!.sha12}`);
    // out of the old datum into the frame: where 9° east of the old meridian lies
    const known = new Set((await datasets()).map((d) => d.id));
    await s.send('POST', '/projects/1/runs', {
      operation: 'export-cloud',
      inputs: { cloud: cloud.id },
      settings: { format: 'csv', system: 'EPSG:25832' },
    });
    const made = await s.until(async () => (await datasets()).find((d) => !known.has(d.id)));
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${made.id}/export/points`)).text();
    const [e, n] = csv
      .split('\n')
      .find((l) => /^\d/.test(l))!
      .split(',')
      .map(Number);
    const geo = new Float64Array(3);
    parseSystem('EPSG:25832').unproject(e, n, 0, geo);
    expect(3600 * (geo[1] / DEG - 9)).toBeCloseTo(EAST_SEC, 2);
  });

  it('a grid that does not reach the trajectory is noticed', async () => {
    const rows = [0, 1, 2].map((k) => `2423,${100 + k},56.08,${8.47 + k * 1e-5},45,0,0,0\n`).join('');
    await take(
      'far.csv',
      `# crs: EPSG:4937\ngps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg\n${rows}`,
    );
    const codes = async () =>
      (await s.get<NoticeDto[]>('/projects/1/notices')).filter((n) => n.datasetId === grid.id).map((n) => n.code);
    await s.until(async () => (await codes()).includes('grid-elsewhere'));
  });
});
