// @vitest-environment happy-dom
import { get as getProjection, transform } from 'ol/proj';
import { describe, expect, it } from 'vitest';
import { type DatasetOf, type ProjectDto, type RasterDto, type ReferenceDto } from '@longheron/contract/api';
import { dataset, PROJECT } from '../test/project';
import { markStyle, RESIDUAL_SCALE_M } from './marks';
import { projectionOf } from './projection';
import { extentOf, rasterOf } from './underlay';

const UTM: ReferenceDto = {
  horizontal: 25832,
  horizontalName: 'ETRS89 / UTM zone 32N',
  proj4: '+proj=utm +zone=32 +ellps=GRS80 +towgs84=0,0,0,0,0,0,0 +units=m +no_defs',
  bbox: [84, 6, 38, 12],
  vertical: 5773,
  verticalName: 'EGM96 height',
  unit: 'metre',
  time: 'gps',
  statement: '',
};
const project = (reference: ReferenceDto | null): ProjectDto => ({ ...PROJECT, reference });

describe('the plan that a map is drawn in', () => {
  it('is that of the project, and knows where it lies', () => {
    const code = projectionOf(project(UTM));
    expect(code).toBe('EPSG:25832');
    // on the central meridian the easting is 500 000; the northing by PROJ
    const [e, n] = transform([9, 56], 'EPSG:4326', code);
    expect(e).toBeCloseTo(500000, 3);
    expect(n).toBeCloseTo(6206079.587, 2);
  });

  it('of feet is drawn in metres', () => {
    const feet = { ...UTM, horizontal: 2225, proj4: UTM.proj4.replace('+units=m', '+units=us-ft') };
    const [e] = transform([9, 56], 'EPSG:4326', projectionOf(project(feet)));
    expect(e).toBeCloseTo(500000, 3);
  });

  it('of a local system is paper in metres, without longitude and latitude', () => {
    const plan = { dataset: 21, name: 'quay.wkt', sha12: 'b692fc050571' };
    const code = projectionOf(project({ ...UTM, horizontal: 0, plan, proj4: '', bbox: null }));
    expect(code).toBe('quay.wkt@b692fc050571');
    expect(getProjection(code)!.getMetersPerUnit()).toBe(1);
    expect(projectionOf(project({ ...UTM, horizontal: 0, plan, proj4: '', bbox: null }))).toBe(code);
  });

  it('of a project without a system is the usual one of maps', () => {
    expect([projectionOf(project(null)), projectionOf(null)]).toEqual(['EPSG:3857', 'EPSG:3857']);
  });
});

describe('a picture under the map', () => {
  const raster: RasterDto = { westM: 100, northM: 50, stepM: 0.5, columns: 40, rows: 20 } as RasterDto;
  const of = (crs: string | null) =>
    dataset(5, 'raster', { raster, facts: { extent: { crs } } }) as DatasetOf<'raster'>;

  it('lies there only when it is in the plan of the project', () => {
    expect(rasterOf(of('EPSG:25832'), 'EPSG:25832')).toBe(raster);
    expect(rasterOf(of('EPSG:25833'), 'EPSG:25832')).toBeUndefined();
    expect(rasterOf(of('quay.wkt@b692fc050571'), 'quay.wkt@b692fc050571')).toBe(raster);
    // one that names none is shown where its numbers put it
    expect(rasterOf(of(null), 'EPSG:25832')).toBe(raster);
  });

  it('reaches from its west and north by its cells', () => {
    expect(extentOf(raster)).toEqual([100, 40, 120, 50]);
  });
});

describe('a mark on the map', () => {
  const mark = { name: 'K1', role: 'check' as const, eastingM: 0, northingM: 0 };
  const colours = (styles: ReturnType<typeof markStyle>) =>
    styles.flatMap((s) => {
      const image = s.getImage() as { getFill?: () => { getColor: () => unknown } | null } | null;
      const fill = image?.getFill?.();
      return fill ? [String(fill.getColor())] : [];
    });

  it('is white without a residual, neutral at none, and coloured by its sign', () => {
    expect(colours(markStyle(mark, false))).toContain('#ffffff');
    const at = (residualM: number) => colours(markStyle({ ...mark, residualM }, false));
    expect(at(RESIDUAL_SCALE_M)).toContain('rgb(138 90 0)');
    expect(at(-RESIDUAL_SCALE_M)).toContain('rgb(29 79 145)');
    // beyond the scale no other colour
    expect(at(10)).toContain('rgb(138 90 0)');
  });
});
