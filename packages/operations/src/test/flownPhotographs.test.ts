import { readFile, truncate, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, mountingToJson, rotationFromAngles } from '@longheron/core/frames';
import { multiply3 } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import {
  AIR_CAMERAS,
  airPhotos,
  airSensors,
  AirTruth,
  drawAirPhoto,
  evenGroundAt,
  siteRelief,
  trueAirCamera,
  type AirPhoto,
} from '@longheron/site/airborne';
import { makeBlockFiles, POSITION_FAULTS, siteFlight, siteWriters, SITE_DEFAULTS } from '@longheron/site/files';
import { poseOf } from '@longheron/site/pictures';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '@longheron/site/terrain';
import { LasFile } from '@longheron/formats/las';
import { quaternionOf } from '../shared/photographs';
import { OnFiles, type Ran } from './onFiles';

/** Six photographs each of two lines flown side by side, by two bodies; the two whose positions are exchanged among them. */
const system = parseSystem(SITE_SYSTEM);
const flight = siteFlight(system);
const all = airPhotos(flight);
const photos = [...all.slice(28, 34), ...all.slice(39, 45)];
const truth = new AirTruth(flight, system);
const CELL_M = 0.17;
const SURFACE_M = 0.5;

/** Lines of a file that are of these photographs. */
async function only(name: string): Promise<string> {
  const names = new Set(photos.map((p) => p.name));
  const lines = (await readFile(files.path(name), 'utf8')).split('\n');
  return lines.filter((l) => !l.startsWith('air_') || names.has(l.split(',')[0])).join('\n');
}

let files: OnFiles;
let paths: { [name: string]: string };
let block: Ran<'block'>;
beforeAll(async () => {
  files = await OnFiles.create();
  await makeBlockFiles(files.path(''), system, SITE_DEFAULTS);
  const zip: { [name: string]: Uint8Array } = {};
  for (const p of photos) zip[p.name] = await siteWriters.photo(drawAirPhoto(flight, system, p, 5), p.camera, p.takenS);
  paths = {
    photos: await files.put('photos.zip', siteWriters.archive(zip)),
    positions: await files.put('positions.csv', await only('flight_20260616_positions.csv')),
    cameras: files.path('flight_cameras_nominal.json'),
    mounting: await files.put('mount.json', JSON.stringify(mountingToJson({ sensors: airSensors() }))),
  };
  block = await files.run(
    'block',
    {
      photos: [paths.photos],
      cameras: [paths.cameras],
      positions: [paths.positions],
      mounting: [paths.mounting],
    },
    {},
    { crs: SITE_SYSTEM },
  );
  // a part of the site that most of them show
  const relief = siteRelief();
  const [columns, rows, west, north] = [200, 240, 150, 380];
  const heightM = Float32Array.from({ length: columns * rows }, (_, k) => {
    const x = west + ((k % columns) + 0.5) * SURFACE_M;
    const y = north - (Math.floor(k / columns) + 0.5) * SURFACE_M;
    return relief.heightM[Math.floor(y / relief.cellM) * relief.columns + Math.floor(x / relief.cellM)];
  });
  paths.surface = files.path('dsm.tif');
  await writeGeoTiff(
    paths.surface,
    { cellM: SURFACE_M, westM: SITE_ORIGIN_E + west, northM: SITE_ORIGIN_N + north, columns, rows, heightM },
    system.definition,
  );
});
afterAll(() => files.remove());

describe('photographs that are tied by themselves', () => {
  it('are all joined, their bodies told apart, and those with exchanged positions are named', () => {
    const f = block.content.figures;
    expect([f.images, f.oriented, f.ties!.weak]).toEqual([12, 12, []]);
    expect(f.ties!.used).toBeGreaterThan(500);
    expect(block.notices.find((n) => n.code === 'ties-misplaced')!.text).toContain(POSITION_FAULTS.exchanged[0]);
    expect(f.places_out.map((p) => p.image)).toEqual(expect.arrayContaining([...POSITION_FAULTS.exchanged]));
    // true: 1497.4 and 1458.9, nominal 1480
    const focal = (name: string) => f.cameras[name].terms.find((t) => t.name === 'focal_px')!;
    for (const [name, is] of [
      ['body 1', 1497.4],
      ['body 2', 1458.9],
    ] as const) {
      const { value, sd, nominal } = focal(name);
      expect(nominal).toBe(1480);
      expect(Math.abs(value - is)).toBeLessThan(3 * sd);
      expect(sd).toBeLessThan(10);
    }
  });

  it('lie within a pixel of the truth when they are adjusted', async () => {
    const of = new Map(photos.map((p) => [p.name, p]));
    const by = new Map<string, Array<{ photo: AirPhoto; u: number; v: number }>>();
    for (const line of (await block.text('ties')).trim().split('\n').slice(1)) {
      const [image, point, u, v] = line.split(',');
      by.set(point, [...(by.get(point) ?? []), { photo: of.get(image)!, u: +u, v: +v }]);
    }
    let [near, count] = [0, 0];
    for (const rays of by.values()) {
      // where the beams truly meet the site, the middle one of them, and where the others should see that
      if (rays.length < 3) continue;
      const places = rays.map(({ photo, u, v }) => truth.placeAt(photo, u, v));
      const middle = [0, 1, 2].map((k) => places.map((p) => p[k]).sort((a, b) => a - b)[places.length >> 1]);
      const away = (p: readonly number[]) => Math.hypot(p[0] - middle[0], p[1] - middle[1]);
      const place = places.reduce((best, p) => (away(p) < away(best) ? p : best));
      rays.forEach(({ photo, u, v }, i) => {
        if (places[i] === place) return;
        const at = truth.pixelOf(photo, place);
        count++;
        if (at && Math.hypot(at[0] - u, at[1] - v) < 1) near++;
      });
    }
    expect(count).toBeGreaterThan(800);
    expect(near / count).toBeGreaterThan(0.99);
  });
});

describe('the orthophoto of a block', () => {
  let ran: Ran<'ortho'>;
  beforeAll(async () => {
    ran = await files.run(
      'ortho',
      {
        photos: [paths.photos],
        oriented: [block.path('oriented')],
        cameras: [block.path('cameras')],
        surface: [paths.surface],
      },
      { cellM: CELL_M },
    );
  });

  it('covers its surface, in tiles with overviews, in the plan of the surface', async () => {
    const f = ran.content.figures;
    expect(f.cells).toBe(f.columns * f.rows);
    expect((f.empty + f.no_height) / f.cells).toBeLessThan(0.02);
    const picture = sharp(ran.path('geotiff'));
    const m = await picture.metadata();
    expect([m.width, m.height, m.channels, m.pages]).toEqual([f.columns, f.rows, 4, 3]);
    const { width } = await sharp(ran.path('geotiff'), { page: 1 }).metadata();
    expect(width).toBe(Math.ceil(f.columns / 2));
  });

  it('is refused in words: a photograph that was cut off, another size, a surface elsewhere', async () => {
    const ortho = (change: { [role: string]: string[] }) =>
      files.run(
        'ortho',
        {
          photos: [paths.photos],
          oriented: [block.path('oriented')],
          cameras: [block.path('cameras')],
          surface: [paths.surface],
          ...change,
        },
        { cellM: 1 },
      );
    const first = await siteWriters.photo(
      drawAirPhoto(flight, system, photos[0], 5),
      photos[0].camera,
      photos[0].takenS,
    );
    const cut = await files.put(
      'cut.zip',
      siteWriters.archive({ [photos[0].name]: first.subarray(0, Math.floor(first.length / 2)) }),
    );
    await expect(ortho({ photos: [cut] })).rejects.toMatchObject({ code: 'picture', file: photos[0].name });
    const small = await sharp(Buffer.from(first)).resize(600, 400).jpeg().toBuffer();
    const other = await files.put('small.zip', siteWriters.archive({ [photos[0].name]: small }));
    await expect(ortho({ photos: [other] })).rejects.toThrow(/600 × 400 pixels, its camera "body 1" 1200 × 800/);
    const away = files.path('away.tif');
    await writeGeoTiff(
      away,
      { cellM: 1, westM: 460_000, northM: 6_200_000, columns: 50, rows: 50, heightM: new Float32Array(2500).fill(3) },
      system.definition,
    );
    await expect(ortho({ surface: [away] })).rejects.toMatchObject({ code: 'ortho-none' });
    const broken = files.path('broken.tif');
    await writeFile(broken, await readFile(paths.surface));
    await truncate(broken, 900);
    await expect(ortho({ surface: [broken] })).rejects.toMatchObject({ code: 'tiff', file: 'broken.tif' });
    await expect(ortho({ cameras: [] })).rejects.toMatchObject({ code: 'ortho-cameras' });
  });
});

describe('a cloud made from them', () => {
  /** A part of the site with meadow, banks and buildings, metres from its origin. */
  const PART = { west: 190, south: 300, east: 240, north: 345 };
  const corners = [
    SITE_ORIGIN_E + PART.west,
    SITE_ORIGIN_N + PART.south,
    SITE_ORIGIN_E + PART.east,
    SITE_ORIGIN_N + PART.north,
  ].join(',');
  let orientations: string;
  let cameras: string;
  beforeAll(async () => {
    orientations = await files.put('true.csv', trueOrientations());
    cameras = await files.put('true.json', trueCameras());
  });
  const match = (settings: object, change: { [role: string]: string[] } = {}) =>
    files.run(
      'match',
      { photos: [paths.photos], oriented: [orientations], cameras: [cameras], ...change },
      { corners, heights: '-3,12', cellM: CELL_M, ...settings },
      { crs: SITE_SYSTEM },
    );

  it('lies on the hard ground within two pixels, errs by what it states, and is coloured', async () => {
    const ran = await match({});
    const f = ran.content.matched!;
    expect(f).toMatchObject({ cell_m: CELL_M, photographs: 12, heights_m: [-3, 12] });
    const file = await LasFile.openPath(ran.path('cloud'));
    const { offset, scale, pointCount, pointBytes, pointFormat, pointOffset } = file.header;
    const bytes = await readFile(ran.path('cloud'));
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    await file.close();
    expect([pointFormat, pointCount]).toEqual([7, f.points]);
    let [level, good, colours] = [0, 0, 0];
    const normal: number[] = [];
    const has = new Set<number>();
    for (let i = 0; i < pointCount; i++) {
      const at = pointOffset + i * pointBytes;
      const [e, n, h] = [0, 1, 2].map((k) => view.getInt32(at + 4 * k, true) * scale[k] + offset[k]);
      has.add(Math.floor((e - SITE_ORIGIN_E) / CELL_M) * 1e6 + Math.floor((n - SITE_ORIGIN_N) / CELL_M));
      colours += view.getUint16(at + 30, true) !== view.getUint16(at + 34, true) ? 1 : 0;
      const is = evenGroundAt(e - SITE_ORIGIN_E, n - SITE_ORIGIN_N);
      if (is === undefined) continue;
      const off = h - is;
      // sd_h stands last of the extra bytes, in tenths of a millimetre
      const sdM = view.getUint16(at + 40, true) * 1e-4;
      if (Math.abs(off / sdM) < 6) normal.push(off / sdM);
      if (Math.abs(off) < 2 * CELL_M) good++;
    }
    for (let x = PART.west; x < PART.east; x += CELL_M)
      for (let y = PART.south; y < PART.north; y += CELL_M) if (evenGroundAt(x, y) !== undefined) level++;
    expect(has.size).toBe(pointCount);
    expect(good / level).toBeGreaterThan(0.9);
    const rms = Math.sqrt(normal.reduce((s, v) => s + v * v, 0) / normal.length);
    expect(rms).toBeGreaterThan(0.7);
    expect(rms).toBeLessThan(1.4);
    expect(colours / pointCount).toBeGreaterThan(0.5);
  });

  it('is refused in words: no area, no heights, a frame of its own, photographs of another block', async () => {
    await expect(match({ corners: '100,100,200,200' })).rejects.toMatchObject({ code: 'match-area' });
    await expect(match({ heights: '' })).rejects.toMatchObject({ code: 'match-heights' });
    await expect(match({ heights: '300,400' })).rejects.toMatchObject({ code: 'match-none' });
    await expect(match({ cellM: 0.001 })).rejects.toMatchObject({ code: 'match-cells' });
    await expect(match({}, { cameras: [] })).rejects.toMatchObject({ code: 'match-cameras' });
    const local = await files.put('local.csv', '# frame: local\nimage,camera,x_m,y_m,z_m,qw,qx,qy,qz\n');
    await expect(match({}, { oriented: [local] })).rejects.toMatchObject({ code: 'match-local' });
    const grey = { create: { width: 30, height: 20, channels: 3 as const, background: '#888' } };
    const other = siteWriters.archive({ 'other.jpg': new Uint8Array(await sharp(grey).jpeg().toBuffer()) });
    await expect(match({}, { photos: [await files.put('other.zip', other)] })).rejects.toMatchObject({
      code: 'match-photographs',
    });
  });
});

/** Where the photographs truly were taken and how they were turned, as an adjusted block writes it. */
function trueOrientations(): string {
  // of the camera's x and y in the axes of its sensor, which has x ahead: the top of the picture is ahead
  const inSensor = Float64Array.of(0, -1, 0, 1, 0, 0, 0, 0, 1);
  const rows = photos.map((p) => {
    const at = poseOf(flight, system, p.sow, trueAirCamera());
    const turn = multiply3(rotationFromAngles(at.rollRad, at.pitchRad, at.headingRad), inSensor);
    const place = [at.latRad / DEG, at.lonRad / DEG, at.hEllM].map((v) => v.toFixed(10));
    return `${p.name},${p.camera.name},${place.join(',')},${quaternionOf(turn).join(',')},0.01,0.01,0.01,0.001\n`;
  });
  return `# crs: EPSG:4937\n# point: camera\nimage,camera,lat_deg,lon_deg,h_ell_m,qw,qx,qy,qz,sd_n_m,sd_e_m,sd_d_m,sd_rot_deg\n${rows.join('')}`;
}

function trueCameras(): string {
  const all = AIR_CAMERAS.map((c) => [
    c.name,
    {
      width_px: c.widthPx,
      height_px: c.heightPx,
      focal_px: c.focalPx,
      cx_px: c.cxPx,
      cy_px: c.cyPx,
      k1: c.k1,
      k2: c.k2,
      p1: c.p1,
      p2: c.p2,
    },
  ]);
  return JSON.stringify({ cameras: Object.fromEntries(all) });
}
