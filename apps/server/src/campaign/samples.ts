import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bytesOf, fileOf, packBits, physical, section } from '@longheron/formats/e57/build';
import { writeInertialFile } from '@longheron/formats/inertial';
import { writeLaserFile } from '@longheron/formats/laser';

const root = process.env.LONGHERON_ROOT ?? process.cwd();
/** Larger samples are cut: what readers stumble over stands at the beginning. */
const MAX_BYTES = 60_000;

/** Writes a small good file of every kind that can be taken in, and gives their paths. */
export async function makeSamples(folder: string): Promise<string[]> {
  const run = (...args: string[]) =>
    execFileSync(process.execPath, [join(root, 'apps/cli/bin/longheron.mjs'), ...args], {
      cwd: folder,
      stdio: 'ignore',
      env: { ...process.env, LONGHERON_BUILT: '1' },
    });
  run('site', '--size', 'small', '--out', 'site');
  const keep = (name: string, bytes: Uint8Array) => writeFileSync(join(folder, name), bytes);
  for (const name of readdirSync(join(folder, 'site'))) {
    if (/\.h5$|\.las$|manifest/.test(name)) continue;
    const bytes = readFileSync(join(folder, 'site', name));
    keep(name, bytes.length > MAX_BYTES ? bytes.subarray(0, bytes.lastIndexOf(10, MAX_BYTES) + 1) : bytes);
  }
  const rows = Array.from({ length: 600 }, (_, k) => {
    const [e, n] = [467_000 + (k % 30) / 2, 6_215_000 + Math.floor(k / 30) / 2];
    return `${e.toFixed(3)} ${n.toFixed(3)} ${(4 + Math.sin(k) / 50).toFixed(3)} 2 ${k}\n`;
  });
  writeFileSync(join(folder, 'points.xyz'), rows.join(''));
  const as = ['--columns', 'x,y,z,classification,intensity', '--crs', 'EPSG:25832+5773'];
  run('convert', '--in', 'points.xyz', ...as, '--out', 'cloud.las');
  for (const extension of ['laz', 'ply', 'csv']) run('convert', '--in', 'cloud.las', '--out', `cloud.${extension}`);
  const terrain = ['--out', 'terrain.tif', '--asc', 'terrain.asc', '--landxml', 'tin.xml', '--dxf', 'lines.dxf'];
  run('surface', '--cloud', 'cloud.las', '--contours', '0.01', ...terrain, '--contours-out', 'lines.geojson');
  const n = 400;
  const column = (f: (k: number) => number) => Float64Array.from({ length: n }, (_, k) => f(k));
  await writeInertialFile(join(folder, 'unit.imu.h5'), {
    week: 2423,
    rateHz: 100,
    sow: column((k) => 1000 + k / 100),
    gyroRadps: new Float64Array(3 * n),
    accelMps2: Float64Array.from({ length: 3 * n }, (_, k) => (k % 3 === 2 ? -9.81 : 0)),
  });
  const meta = { week: 2423, sensor: 'head1', rangeSdM: 0.01, angleSdDeg: 0.01, serial: 'S1' };
  await writeLaserFile(join(folder, 'head.laser.h5'), meta, {
    week: 2423,
    sow: column((k) => 1000 + k / 100),
    rangeM: new Float32Array(n).fill(20),
    azimuthDeg: new Float32Array(n).fill(90),
    elevationDeg: new Float32Array(n),
    intensity: new Uint16Array(n),
    returnNumber: new Uint8Array(n).fill(1),
    returnCount: new Uint8Array(n).fill(1),
  });
  keep('quay.e57', scanFile(n));
  keep('geoid.gtx', gtxGrid());
  return readdirSync(folder)
    .map((name) => join(folder, name))
    .filter((path) => statSync(path).isFile() && statSync(path).size > 0);
}

/** A scan in E57: whole numbers of odd widths, and one field that never changes. */
function scanFile(n: number): Uint8Array {
  const whole = (bits: number, f: (k: number) => number) =>
    packBits(
      Array.from({ length: n }, (_, k) => BigInt(f(k))),
      bits,
    );
  const seconds = Array.from({ length: n }, (_, k) => k / 4);
  const streams = [whole(17, (k) => 300 * k), whole(11, (k) => 2 * k), whole(7, (k) => k % 100)];
  const points = section([...streams, new Uint8Array(0), bytesOf(seconds, 64)], 48, 90);
  const integer = (name: string, low: number, high: number, more = '') =>
    `<${name} type="ScaledInteger" minimum="${low}" maximum="${high}" scale="0.001"${more}/>`;
  const fields = [
    integer('cartesianX', 0, 131071, ' offset="3"'),
    integer('cartesianY', 0, 2047),
    integer('cartesianZ', -50, 77),
    '<intensity type="Integer" minimum="7" maximum="7"/><timeStamp type="Float"/>',
  ].join('');
  const turn =
    '<w type="Float">0.7071067811865476</w><x type="Float"/><y type="Float"/><z type="Float">0.7071067811865476</z>';
  const shift = '<x type="Float">467000</x><y type="Float">6215000</y><z type="Float">2.5</z>';
  const pose = `<pose type="Structure"><rotation type="Structure">${turn}</rotation><translation type="Structure">${shift}</translation></pose>`;
  const vector = `<points type="CompressedVector" fileOffset="${physical(48)}" recordCount="${n}"><prototype type="Structure">${fields}</prototype></points>`;
  const scan = `<vectorChild type="Structure"><name type="String">quay</name>${pose}${vector}</vectorChild>`;
  const xml = `<?xml version="1.0"?><e57Root type="Structure"><data3D type="Vector">${scan}</data3D></e57Root>`;
  return fileOf([{ at: 48, bytes: points }], xml);
}

/** A geoid of six by five values a tenth of a degree apart. */
function gtxGrid(): Uint8Array {
  const [rows, columns] = [6, 5];
  const view = new DataView(new ArrayBuffer(40 + 4 * rows * columns));
  [55.8, 8.8, 0.1, 0.1].forEach((v, k) => view.setFloat64(8 * k, v));
  view.setInt32(32, rows);
  view.setInt32(36, columns);
  for (let k = 0; k < rows * columns; k++) view.setFloat32(40 + 4 * k, 40 + k / 100);
  return new Uint8Array(view.buffer);
}
