import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gridText } from '@longheron/core/frames';
import { localGeoidGrid } from '@longheron/site/geoid';
import { memorySource } from '../bytes';
import { writeContoursDxf } from '../dxf';
import { readOutlines, writeContoursGeoJson } from '../geojson';
import { writeGeoTiff } from '../geotiff';
import { type LasHeader } from '../las';
import { labelNamed } from '../las/named';
import { systemRecords } from '../las/system';
import { readTiffPlace } from '../tiff';
import { modelOfSystem, parseSystem, systemParts, systemWkt2, useGrid } from '.';

const folder = mkdtempSync(join(tmpdir(), 'lh-named-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const put = (name: string, data: string | Uint8Array) => {
  writeFileSync(join(folder, name), data);
  return gridText(useGrid(join(folder, name)));
};
let geoid: string;
let quay: string;
let depths: string;
beforeAll(() => {
  geoid = put('site_geoid.gtx', localGeoidGrid());
  const { plan, heights } = modelOfSystem('EPSG:25832+5773');
  const similarity = { fromM: [467000, 6215000], toM: [5000, 2000], scale: 1.0004, turnRad: 0.2 } as const;
  quay = put('quay.wkt', systemWkt2({ name: 'Quay', plan: { ...plan!, site: { name: 'Quay', similarity } }, heights }));
  const correction = { lat0Rad: 0, lon0Rad: 0, offsetM: -39.21, slopeNorth: 0, slopeEast: 0 };
  const unit = { name: 'metre', metres: 1 };
  depths = put(
    'cd.wkt',
    systemWkt2({
      name: 'Reach datum',
      heights: { name: 'Reach datum', base: 'ellipsoid', unit, depths: true, correction },
    }),
  );
});

/** The head of a LAS file with these records alone. */
function headOf(records: Uint8Array[]): LasHeader {
  const vlrs = records.map((r) => {
    const view = new DataView(r.buffer, r.byteOffset, r.byteLength);
    const userId = new TextDecoder().decode(r.subarray(2, 18)).replace(/\0+$/, '');
    return { userId, recordId: view.getUint16(18, true), description: '', data: r.subarray(54) };
  });
  return { vlrs } as unknown as LasHeader;
}

const LABELS: Array<[string, () => string]> = [
  ['codes', () => 'EPSG:25832+5773'],
  ['ellipsoidal heights', () => 'EPSG:25832'],
  ['heights above a grid', () => `EPSG:25832+${geoid}`],
  ['a file of its own', () => quay],
  ['plan of a file, ellipsoidal heights', () => `${quay}+0`],
  ['plan of a file, heights of the list', () => `${quay}+5773`],
  ['plan of a file, heights above a grid', () => `${quay}+${geoid}`],
  ['plan of the list, heights of a file', () => `EPSG:25832+${quay}`],
  ['a chart datum', () => `EPSG:25832+${depths}`],
];

describe('a system as files name it', () => {
  it.each(LABELS)('by %s comes back from LAS, old point formats and new', (_, of) => {
    const { definition, label } = parseSystem(of());
    expect(label).toBe(of());
    for (const format of [0, 3, 6, 7]) expect(labelNamed(headOf(systemRecords(definition, format)))).toBe(label);
  });

  it('is taken apart by its text', () => {
    expect(systemParts('25832 + 5773')).toEqual({ plan: 25832, heights: 5773 });
    expect(systemParts(`${quay}+0`)).toMatchObject({ plan: { name: 'quay.wkt' }, heights: 0 });
    expect(systemParts(`EPSG:31467~old.gsb@0123456789AB+${geoid}`)).toMatchObject({
      plan: 31467,
      shift: { name: 'old.gsb', sha12: '0123456789ab' },
      heights: { name: 'site_geoid.gtx' },
    });
    for (const text of ['', 'utm', 'EPSG:25832+', 'quay.wkt', 'EPSG:25832+site.gtx@0123'])
      expect(systemParts(text)).toBeUndefined();
  });

  it('stands in the citations of a GeoTIFF, depths with their sign', async () => {
    const grid = {
      columns: 2,
      rows: 2,
      westM: 5000,
      northM: 2002,
      cellM: 1,
      heightM: Float32Array.of(-3, -3.5, Number.NaN, -4),
    };
    const path = join(folder, 'd.tif');
    await writeGeoTiff(
      path,
      grid as unknown as Parameters<typeof writeGeoTiff>[1],
      parseSystem(`${quay}+${depths}`).definition,
      true,
    );
    const bytes = readFileSync(path);
    const text = bytes.toString('latin1');
    expect(text).toContain(`Quay, defined by ${quay}|`);
    expect(text).toContain(`Reach datum ${depths}, depths positive down|`);
    const place = await readTiffPlace(memorySource(bytes, 'd.tif'));
    expect([place.horizontal, gridText(place.file!)]).toEqual([null, quay]);
  });

  it('stands in GeoJSON and DXF, and outlines in it are known again', async () => {
    const system = parseSystem(quay);
    const contour = { heightM: 3, index: true, coordinates: Float64Array.of(5000, 2000, 5010, 2000) };
    const contours = [contour] as unknown as Parameters<typeof writeContoursGeoJson>[1];
    await writeContoursGeoJson(join(folder, 'c.geojson'), contours, system);
    const { horizontal, outlines } = readOutlines(readFileSync(join(folder, 'c.geojson')), 'c.geojson');
    expect(horizontal).toEqual({ name: 'quay.wkt', sha12: quay.slice(-12) });
    expect(outlines[0].parts[0]).toEqual([5000, 2000, 5010, 2000]);
    await writeContoursDxf(join(folder, 'c.dxf'), contours, system.definition);
    expect(readFileSync(join(folder, 'c.dxf'), 'utf8')).toMatch(
      /^999\nQuay \(quay\.wkt\), EGM96 height, heights positive up\n/,
    );
  });
});
