import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { rotationFromAngles } from '@longheron/core/frames';

/** A sheet of points 40 by 30 m at 0.5 m, with a hole of 6 by 4 m in it; and a second that lies east of it. */
export const sheet = (east: number, hole: boolean) =>
  Array.from({ length: 80 * 60 }, (_, i) => [
    467_000 + east + 0.25 + (i % 80) / 2,
    6_215_000.25 + Math.floor(i / 80) / 2,
    3 + (i % 7) / 100,
  ])
    .filter(([e, n]) => !hole || e < 467_010 || e > 467_016 || n < 6_215_010 || n > 6_215_014)
    .map(([e, n, h]) => `${e} ${n} ${h}\n`)
    .join('');
export const ring = (w: number, s: number, e: number, n: number) => [
  ...[
    [w, s],
    [e, s],
    [e, n],
    [w, n],
    [w, s],
  ].map(([x, y]) => [467_000 + x, 6_215_000 + y]),
];

/** A place of the project in a frame that is turned by 40 degrees, leans by 3, and has true lengths. */
export const FACTOR = 0.9996064;
export const TURN = rotationFromAngles((3 * Math.PI) / 180, 0, (40 * Math.PI) / 180);
export const toLocal = (e: number, n: number, h: number): [number, number, number] => {
  const d = [(e - 467_020) / FACTOR, (n - 6_215_015) / FACTOR, h - 3];
  return [0, 1, 2].map((k) => TURN[k] * d[0] + TURN[3 + k] * d[1] + TURN[6 + k] * d[2]) as [number, number, number];
};
export const MARKS: Array<[string, number, number, number]> = [
  ['A', 467_001, 6_215_001, 3.01],
  ['B', 467_038, 6_215_002, 3.02],
  ['C', 467_021, 6_215_028, 3.5],
  ['D', 467_005, 6_215_025, 4.5],
];
export const LOCAL_MARKS = MARKS.map(
  ([name, e, n, h]) => [name, ...toLocal(e, n, h).map((v) => Number(v.toFixed(3)))] as [string, number, number, number],
);

/** Writes what the tests of whole clouds take in. */
export function writeFiles(root: string): void {
  writeFileSync(join(root, 'west.xyz'), sheet(0, true));
  const local = sheet(0, true)
    .trim()
    .split('\n')
    .map((line) => toLocal(...(line.split(' ').map(Number) as [number, number, number])).map((v) => v.toFixed(3)));
  writeFileSync(join(root, 'local.xyz'), local.map((p) => `${p.join(' ')}\n`).join(''));
  const rows = MARKS.map(([name, ...p]) => `${name},check,${p.join(',')},0.005,0.005,0.005,\n`);
  const head = 'name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note\n';
  writeFileSync(join(root, 'marks.csv'), `${head}${rows.join('')}`);
  writeFileSync(join(root, 'east.xyz'), sheet(40, false));
  const feature = (name: string, rings: number[][][]) => ({
    type: 'Feature',
    properties: { name },
    geometry: { type: 'Polygon', coordinates: rings },
  });
  const area = {
    type: 'FeatureCollection',
    crs: { type: 'name', properties: { name: 'urn:ogc:def:crs:EPSG::25832' } },
    features: [feature('ordered', [ring(0, 0, 45, 30), ring(30, 20, 35, 25)]), feature('other', [ring(0, 0, 5, 5)])],
  };
  writeFileSync(join(root, 'area.geojson'), JSON.stringify(area));
  const tile = (file: string, points: number, at: number[][]) => ({
    type: 'Feature',
    properties: { file, points },
    geometry: { type: 'Polygon', coordinates: [at] },
  });
  const tiles = [
    tile('west.xyz', 4800 - 12 * 8, ring(0, 0, 40, 30)),
    tile('tiles/EAST.xyz', 5000, ring(40, 0, 80, 30)),
    tile('north.xyz', 77, ring(0, 30, 40, 60)),
  ];
  const sample = (cls: number, at: number[][]) => ({
    type: 'Feature',
    properties: { class: cls },
    geometry: { type: 'Polygon', coordinates: [at] },
  });
  const samples = [sample(2, ring(50, 0, 58, 30)), sample(6, ring(58, 0, 70, 30))];
  writeFileSync(join(root, 'samples.geojson'), JSON.stringify({ ...area, features: samples }));
  writeFileSync(join(root, 'tiles.geojson'), JSON.stringify({ ...area, features: tiles }));
  writeFileSync(join(root, 'bad.geojson'), '{"type":"Polygon","coordinates":[[[1,2],[3,"x"],[5,6]]]}');
}
