import { describe, expect, it } from 'vitest';
import { XMLParser } from 'fast-xml-parser';
import { parseSystem } from '../crs';
import { featuresCsv, featuresGeoJson, featuresLandXml, type DeliveredFeature } from '.';

const corner = (e: number, n: number, h: number) => ({
  at: [e, n, h],
  sd: [0.01, 0.012, 0.03],
  angleDeg: 31.25,
  rays: [1, 2],
});
/** A square of 10 m, drawn with the clock, and a line and a point beside it. */
const FEATURES: DeliveredFeature[] = [
  { name: 'p1', shape: 'point', code: 'LAMP', note: '', corners: [corner(467_100, 6_215_000, 4.25)] },
  {
    name: 'k "1"',
    shape: 'line',
    code: 'KERB',
    note: 'new & low',
    corners: [corner(467_100, 6_215_000, 4), corner(467_103, 6_215_004, 4.5)],
  },
  {
    name: 'slab',
    shape: 'area',
    code: '',
    note: '',
    corners: [
      corner(467_100, 6_215_000, 3),
      corner(467_100, 6_215_010, 3),
      corner(467_110, 6_215_010, 3),
      corner(467_110, 6_215_000, 3),
    ],
  },
];

describe('features measured in photographs', () => {
  it('go out as CSV, corner by corner, in metres', () => {
    const lines = featuresCsv(FEATURES, 'EPSG:25832+5773').split('\n');
    expect(lines[0]).toBe('# crs: EPSG:25832+5773');
    expect(lines[2]).toBe('p1,point,LAMP,1,467100.0000,6215000.0000,4.2500,0.0100,0.0120,0.0300,2,31.25,');
    expect(lines[4]).toBe(
      '"k ""1""",line,KERB,2,467103.0000,6215004.0000,4.5000,0.0100,0.0120,0.0300,2,31.25,new & low',
    );
    expect(lines).toHaveLength(10);
    expect(featuresCsv([], undefined)).toMatch(/^# frame: local\nname,shape,code,corner,x_m,/);
  });

  it('go out as GeoJSON: rings against the clock, grid or longitude and latitude', () => {
    const system = parseSystem('EPSG:25832+5773');
    const grid = JSON.parse(featuresGeoJson(FEATURES, system, true));
    expect(grid.crs.properties.name).toBe('urn:ogc:def:crs:EPSG::25832');
    expect(grid.features[0].geometry).toEqual({ type: 'Point', coordinates: [467_100, 6_215_000, 4.25] });
    const [ring] = grid.features[2].geometry.coordinates;
    expect(ring).toHaveLength(5);
    expect(ring[0]).toEqual(ring[4]);
    const twice = ring
      .slice(1)
      .reduce((s: number, b: number[], k: number) => s + ring[k][0] * b[1] - b[0] * ring[k][1], 0);
    expect(twice / 2).toBeCloseTo(100, 6);
    const lonLat = JSON.parse(featuresGeoJson(FEATURES, system));
    expect(lonLat.crs).toBeUndefined();
    const [lon, lat, h] = lonLat.features[0].geometry.coordinates;
    // PROJ 9.1.1, EPSG:25832 to EPSG:4258
    expect([lon, lat]).toEqual([8.471402486, 56.079017375]);
    expect(h - 4.25).toBeGreaterThan(35);
  });

  it('go out as LandXML in the unit of the system, northing first', () => {
    const xml = featuresLandXml(FEATURES, parseSystem('EPSG:25832+5773'), 'Reach', new Date(Date.UTC(2026, 5, 16)));
    const read = new XMLParser({ ignoreAttributes: false, parseTagValue: false }).parse(xml).LandXML;
    expect(read.CgPoints.CgPoint).toMatchObject({
      '@_name': 'p1',
      '@_code': 'LAMP',
      '#text': '6215000.0000 467100.0000 4.2500',
    });
    const [kerb, slab] = read.PlanFeatures.PlanFeature;
    expect(kerb).toMatchObject({ '@_name': 'k "1"', '@_desc': 'new & low', Feature: { '@_code': 'KERB' } });
    expect(kerb.CoordGeom.IrregularLine.Start).toBe('6215000.0000 467100.0000 4.0000');
    expect(kerb.CoordGeom.IrregularLine.End).toBe('6215004.0000 467103.0000 4.5000');
    // an area ends where it begins
    expect(slab.CoordGeom.IrregularLine.PntList3D.split(' ')).toHaveLength(15);
    expect(slab.CoordGeom.IrregularLine.End).toBe(slab.CoordGeom.IrregularLine.Start);
  });
});
