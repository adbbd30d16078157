import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { type BlockFigures } from '@longheron/contract/kinds/block';
import { type OrthophotoFigures } from '@longheron/contract/kinds/orthophoto';
import { type MatchFigures } from '@longheron/contract/kinds/point-cloud';
import { parseSystem } from '@longheron/formats/crs';
import { writeGeoTiff } from '@longheron/formats/geotiff';
import { LasFile } from '@longheron/formats/las';
import {
  airPhotos,
  airSensors,
  AirTruth,
  evenGroundAt,
  siteRelief,
  AIR_CAMERAS,
  type AirPhoto,
} from '@longheron/site/airborne';
import {
  JOURNEY_FILES,
  makeBlockFiles,
  makeChamberFiles,
  makeFlightPhotos,
  POSITION_FAULTS,
} from '@longheron/site/files';
import { SITE_DEFAULTS, siteFlight, siteWriters } from '@longheron/site/files';
import { surveyedMarks, trueMarks } from '@longheron/site/marks';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '@longheron/site/terrain';
import { command } from './command';

type Line = (what: string, value: string, target: string, good: boolean) => void;
/** What a pixel shows of the ground, metres. */
const PIXEL_M = 0.17;
const SURFACE_M = 0.5;

/** The demo's photographs by their commands: ties by themselves, the block at its marks, the orthophoto at its targets. */
export async function demoPhotographs(line: Line): Promise<void> {
  console.log('The photographs of the demo’s flight …');
  const folder = mkdtempSync(join(tmpdir(), 'longheron-photographs-'));
  try {
    const system = parseSystem(SITE_SYSTEM);
    await makeFlightPhotos(folder, system, siteWriters, SITE_DEFAULTS);
    await makeBlockFiles(folder, system, SITE_DEFAULTS);
    await makeChamberFiles(folder, siteWriters);
    writeFileSync(
      join(folder, 'mount.json'),
      siteWriters.mounting({ gnssLeverArmM: [0.15, 0, -0.92], gnssLeverArmSdM: 0.003, sensors: airSensors() }),
    );
    writeFileSync(join(folder, 'marks.csv'), siteWriters.marks(surveyedMarks(SITE_DEFAULTS.seed), SITE_SYSTEM));
    const f = JOURNEY_FILES;
    const what = ['--photos', f.flightPhotos, '--cameras', f.flightNominal, '--positions', f.flightPositions];
    const more = ['--mount', 'mount.json', '--marks', 'marks.csv', '--picks', f.flightPicks, '--crs', SITE_SYSTEM];
    const made = ['--out', 'o.csv', '--points-out', 'p.csv', '--cameras-out', 'c.json', '--ties-out', 't.csv'];
    const b = command<BlockFigures & { seconds: number }>(folder, 'block', ...what, ...more, ...made);
    line('Demo photographs: joined', `${b.oriented} of ${b.images}`, 'all', b.oriented === b.images);
    // times are for the bench; here they only say what to expect
    console.log(`      tied and adjusted in ${b.seconds.toFixed(0)} s`);
    const named = POSITION_FAULTS.exchanged.every((n) => b.places_out.some((p) => p.image === n));
    line('Demo photographs: exchanged positions', named ? 'named' : 'not named', 'named', named);
    for (const camera of AIR_CAMERAS) {
      const { value, sd } = b.cameras[camera.name].terms.find((t) => t.name === 'focal_px')!;
      const off = value - camera.focalPx;
      const text = `off by ${off.toFixed(2)} px, 1 SD ${sd.toFixed(2)} px`;
      line(`Demo photographs: focal length of ${camera.name}`, text, 'within 3 SD', Math.abs(off) < 3 * sd);
    }
    const near = tiesNear(new AirTruth(siteFlight(system), system), airPhotos(siteFlight(system)), folder);
    line('Demo photographs: ties within a pixel of truth', `${(100 * near).toFixed(2)} %`, '>= 99 %', near >= 0.99);
    const plan = Math.max(b.check_rmse_e_m ?? Infinity, b.check_rmse_n_m ?? Infinity);
    const height = b.check_rmse_h_m ?? Infinity;
    const predicted = Math.sqrt(mean(b.check.flatMap((m) => (m.sd_h_m === null ? [] : [m.sd_h_m ** 2]))));
    line('Demo photographs: check marks in plan', `${(100 * plan).toFixed(1)} cm`, '<= 8.5 cm', plan <= PIXEL_M / 2);
    line('Demo photographs: check marks in height', `${(100 * height).toFixed(1)} cm`, '<= 17 cm', height <= PIXEL_M);
    const ratio = height / predicted;
    line('Demo photographs: heights over their prediction', ratio.toFixed(2), '<= 1.3', ratio <= 1.3);
    await orthophoto(line, folder);
    await matched(line, folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const mean = (v: readonly number[]) => v.reduce((s, x) => s + x, 0) / v.length;

/** Share of the rays that fit which lie within a pixel of where the middle one of their places is truly seen. */
function tiesNear(truth: AirTruth, photos: readonly AirPhoto[], folder: string): number {
  const of = new Map(photos.map((p) => [p.name, p]));
  const by = new Map<string, Array<{ photo: AirPhoto; u: number; v: number }>>();
  for (const text of readFileSync(join(folder, 't.csv'), 'utf8').trim().split('\n').slice(1)) {
    const [image, point, u, v] = text.split(',');
    const list = by.get(point) ?? [];
    list.push({ photo: of.get(image)!, u: Number(u), v: Number(v) });
    by.set(point, list);
  }
  let [near, count] = [0, 0];
  for (const rays of by.values()) {
    const places = rays.map((r) => truth.placeAt(r.photo, r.u, r.v));
    const middle = [0, 1].map((k) => places.map((p) => p[k]).sort((a, b) => a - b)[places.length >> 1]);
    const away = (p: readonly number[]) => Math.hypot(p[0] - middle[0], p[1] - middle[1]);
    const best = places.reduce((a, p) => (away(p) < away(a) ? p : a));
    rays.forEach(({ photo, u, v }, i) => {
      if (places[i] === best) return;
      const at = truth.pixelOf(photo, best);
      count++;
      if (at && Math.hypot(at[0] - u, at[1] - v) < 1) near++;
    });
  }
  return near / count;
}

/** The orthophoto over the true surface: where the two tones of painted targets meet. */
async function orthophoto(line: Line, folder: string): Promise<void> {
  const relief = siteRelief();
  const step = Math.round(SURFACE_M / relief.cellM);
  const [columns, rows] = [Math.floor(relief.columns / step), Math.floor(relief.rows / step)];
  const cellM = step * relief.cellM;
  const heightM = Float32Array.from({ length: columns * rows }, (_, k) => {
    const r = rows - 1 - Math.floor(k / columns);
    return relief.heightM[(r * step + (step >> 1)) * relief.columns + (k % columns) * step + (step >> 1)];
  });
  const northM = SITE_ORIGIN_N + rows * cellM;
  const grid = { cellM, westM: SITE_ORIGIN_E, northM, columns, rows, heightM };
  await writeGeoTiff(join(folder, 'dsm.tif'), grid, parseSystem(SITE_SYSTEM).definition);
  const made = ['--cell', String(PIXEL_M), '--out', 'ortho.tif'];
  const from = ['--photos', JOURNEY_FILES.flightPhotos, '--oriented', 'o.csv', '--cameras', 'c.json'];
  const f = command<OrthophotoFigures & { seconds: number }>(folder, 'ortho', ...from, '--surface', 'dsm.tif', ...made);
  const speed = f.cells / f.seconds / 1e6;
  console.log(`      ${speed.toFixed(2)} million cells/s, decoding and writing included`);
  const { data } = await sharp(join(folder, 'ortho.tif')).raw().toBuffer({ resolveWithObject: true });
  const west = Math.floor(SITE_ORIGIN_E / PIXEL_M + 1e-6) * PIXEL_M - SITE_ORIGIN_E;
  const north = Math.ceil(northM / PIXEL_M - 1e-6) * PIXEL_M - SITE_ORIGIN_N;
  const grey = (e: number, n: number) => {
    const [c, r] = [(e - west) / PIXEL_M - 0.5, (north - n) / PIXEL_M - 0.5];
    const [x, y] = [Math.floor(c), Math.floor(r)];
    const at = (i: number, k: number) => data[4 * (k * f.columns + i) + 1];
    const [p, q] = [c - x, r - y];
    return (1 - q) * ((1 - p) * at(x, y) + p * at(x + 1, y)) + q * ((1 - p) * at(x, y + 1) + p * at(x + 1, y + 1));
  };
  const off: number[] = [];
  for (const m of trueMarks()) {
    let best = { fit: -Infinity, e: 0, n: 0 };
    for (let e = -0.3; e <= 0.301; e += 0.01)
      for (let n = -0.3; n <= 0.301; n += 0.01) {
        // quarters of two tones: bright where both offsets have one sign, dark elsewhere
        let fit = 0;
        for (const a of [-0.15, 0.15])
          for (const b of [-0.15, 0.15]) fit += Math.sign(a * b) * grey(m.x + e + a, m.y + n + b);
        if (fit > best.fit) best = { fit, e, n };
      }
    // a target that is hidden, or covered, shows no two tones
    if (best.fit > 150) off.push(Math.hypot(best.e, best.n) / PIXEL_M);
  }
  const worst = Math.max(...off);
  line(
    'Demo orthophoto: targets off their place',
    `${mean(off).toFixed(2)} cells, ${worst.toFixed(2)} at most of ${off.length}`,
    'mean <= 0.5 cells',
    mean(off) <= 0.5,
  );
}

/** A part of the site with meadow and a building, metres from its origin. */
const PART = { west: 190, south: 300, east: 240, north: 345 };
/** The cloud that is matched from the photographs, on even ground against the true surface. */
async function matched(line: Line, folder: string): Promise<void> {
  const corners = [
    SITE_ORIGIN_E + PART.west,
    SITE_ORIGIN_N + PART.south,
    SITE_ORIGIN_E + PART.east,
    SITE_ORIGIN_N + PART.north,
  ].join(',');
  const from = ['--photos', JOURNEY_FILES.flightPhotos, '--oriented', 'o.csv', '--cameras', 'c.json'];
  const what = ['--crs', SITE_SYSTEM, '--corners', corners, '--heights=-3,12', '--cell', String(PIXEL_M)];
  const f = command<MatchFigures & { seconds: number }>(folder, 'match', ...from, ...what, '--out', 'matched.las');
  console.log(`      ${f.pairs} pairs over ${f.cells} cells matched in ${f.seconds.toFixed(0)} s`);
  let cells = 0;
  for (let x = PART.west; x < PART.east; x += PIXEL_M)
    for (let y = PART.south; y < PART.north; y += PIXEL_M) if (evenGroundAt(x, y) !== undefined) cells++;
  const file = await LasFile.openPath(join(folder, 'matched.las'));
  const { pointBytes, pointOffset, pointCount, scale, offset } = file.header;
  await file.close();
  const bytes = readFileSync(join(folder, 'matched.las'));
  let near = 0;
  const normal: number[] = [];
  for (let i = 0; i < pointCount; i++) {
    const at = pointOffset + i * pointBytes;
    const [e, n, h] = [0, 1, 2].map((k) => bytes.readInt32LE(at + 4 * k) * scale[k] + offset[k]);
    const is = evenGroundAt(e - SITE_ORIGIN_E, n - SITE_ORIGIN_N);
    if (is === undefined) continue;
    if (Math.abs(h - is) < 2 * PIXEL_M) near++;
    // the third of the deviations, in tenths of a millimetre
    normal.push(((h - is) / (bytes.readUInt16LE(at + 40) * 1e-4)) ** 2);
  }
  const share = near / cells;
  line(
    'Demo cloud from photographs: hard ground',
    `${(100 * share).toFixed(1)} % within 2 pixels`,
    '>= 90 %',
    share >= 0.9,
  );
  const size = Math.sqrt(mean(normal));
  line('Demo cloud from photographs: errors', `${size.toFixed(2)} of their SD`, '0.7 to 1.4', size > 0.7 && size < 1.4);
}
