import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, makeLocalMap, applyLocalMap, rotationFromAngles } from '@longheron/core/frames';
import { multiply3, Random, type Matrix3 } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
const system = parseSystem(CRS);
const [E0, N0] = [467_200, 6_215_300];
const [W, H, F] = [300, 200, 360];
/** A patchwork of fields: brightness of ground for laser and camera alike, each in its own way. */
const field = (x: number, y: number) => {
  const cell = Math.floor(x / 5.3 + 0.3 * Math.sin(y / 7)) * 7 + Math.floor(y / 4.1) * 13;
  return ((cell * 2654435761) >>> 0) / 2 ** 32;
};
const DOWN = rotationFromAngles(0, 0, 90 * DEG);

interface Shot {
  name: string;
  x: number;
  y: number;
  headingDeg: number;
  rollDeg: number;
}
const SHOTS: Shot[] = [
  { name: 'a1.jpg', x: -12, y: -8, headingDeg: 0, rollDeg: 2 },
  { name: 'a2.jpg', x: 10, y: -8, headingDeg: 5, rollDeg: -1 },
  { name: 'a3.jpg', x: -10, y: 9, headingDeg: 182, rollDeg: 1 },
  { name: 'a4.jpg', x: 12, y: 9, headingDeg: 177, rollDeg: 0 },
];
const HEIGHT = 63;

function pose(s: Shot): { geo: Float64Array; rotation: Matrix3 } {
  const geo = new Float64Array(3);
  system.unproject(E0 + s.x, N0 + s.y, HEIGHT, geo);
  return { geo, rotation: multiply3(rotationFromAngles(s.rollDeg * DEG, 0, s.headingDeg * DEG), DOWN) };
}

/** A picture of level ground at 3 m. */
function picture(s: Shot): Promise<Buffer> {
  const { geo, rotation } = pose(s);
  const map = makeLocalMap(system, geo[0], geo[1], geo[2]);
  const at = new Float64Array(3);
  const rgb = Buffer.alloc(3 * W * H);
  for (let v = 0; v < H; v++)
    for (let u = 0; u < W; u++) {
      const ray = [(u - (W - 1) / 2) / F, (v - (H - 1) / 2) / F, 1];
      const [n, e, d] = [0, 1, 2].map((k) => [0, 1, 2].reduce((sum, j) => sum + rotation[3 * k + j] * ray[j], 0));
      let depth = 0;
      for (let i = 0; i < 5; i++) {
        applyLocalMap(map, n * depth, e * depth, d * depth, at);
        depth += (at[2] - 3) / d;
      }
      applyLocalMap(map, n * depth, e * depth, d * depth, at);
      const f = field(at[0] - E0, at[1] - N0);
      rgb.set([40 + 180 * f, 200 - 120 * f, 60], 3 * (v * W + u));
    }
  return sharp(rgb, { raw: { width: W, height: H, channels: 3 } })
    .jpeg({ quality: 95 })
    .toBuffer();
}

let files: OnFiles;
let cloud: string;
let photos: string;
let cameras: string;
const pictures = new Map<string, Buffer>();
beforeAll(async () => {
  files = await OnFiles.create();
  const r = new Random(4, 'cloud');
  const rows: number[][] = [];
  for (let c = 0; c < 200; c++)
    for (let k = 0; k < 160; k++) {
      const [x, y] = [-20 + 0.2 * c, -16 + 0.2 * k];
      const [px, py] = [x + r.between(0, 0.2), y + r.between(0, 0.2)];
      rows.push([E0 + px, N0 + py, 3 + 0.01 * r.normal(), Math.round(500 + 8000 * field(px, py) + 100 * r.normal())]);
    }
  cloud = await files.cloud('ground', rows, CRS, ['intensity']);
  photos = files.path('photos');
  await mkdir(photos);
  for (const s of SHOTS) {
    pictures.set(s.name, await picture(s));
    await writeFile(join(photos, s.name), pictures.get(s.name)!);
  }
  const camera = { width_px: W, height_px: H, focal_px: F, cx_px: (W - 1) / 2, cy_px: (H - 1) / 2 };
  cameras = await files.put('cameras.json', JSON.stringify({ cameras: { air: camera } }));
}, 900_000);
afterAll(() => files.remove());

const HEAD = 'label,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg';
/** Positions of the camera's own axes: at heading 90° their picture's top is ahead. */
function positionsText(of = SHOTS, moveM = 0, names = true): string {
  const rows = of.map((s, k) => {
    const { geo } = pose({ ...s, x: s.x + moveM });
    const angles = [0, -s.rollDeg, s.headingDeg + 90];
    return `${names ? s.name : `event ${k}`},2423,${1000 + 10 * k},${geo[0] / DEG},${geo[1] / DEG},${geo[2]},${angles.join(',')}\n`;
  });
  return `# crs: EPSG:4937\n# point: air\n${HEAD}\n${rows.join('')}`;
}
const colour = (paths: { [role: string]: string[] }, settings = {}) =>
  files.run('colour', { cloud: [cloud], photos: [photos], cameras: [cameras], ...paths }, settings, { crs: CRS });

describe('a cloud coloured from photographs', () => {
  it('has the colour of each place, and edges where intensities have theirs', async () => {
    const positions = await files.put('p.csv', positionsText());
    const ran = await colour({ positions: [positions] });
    const { report } = ran.made;
    expect(report).toMatchObject({ points: 32_000, hidden: 0, photographs: 4, paired_by: 'name', photos_alone: 0 });
    expect(report.coloured_share).toBe(1);
    expect(report.shift_px).toBeLessThan(0.5);
    const file = await LasFile.openPath(ran.path('cloud'));
    const points = await file.readAll();
    const { scale, offset, pointFormat } = file.header;
    await file.close();
    expect(pointFormat).toBe(7);
    let near = 0;
    for (let i = 0; i < points.x.length; i++) {
      const [x, y] = [points.x[i] * scale[0] + offset[0] - E0, points.y[i] * scale[1] + offset[1] - N0];
      if (Math.abs(points.red![i] / 257 - (40 + 180 * field(x, y))) < 25) near++;
    }
    // the rest lies on the edges of fields
    expect(near / points.x.length).toBeGreaterThan(0.9);
    const sum = (report.pictures as Array<{ points: number }>).reduce((s, p) => s + p.points, 0);
    expect(sum).toBe(32_000);
  });

  it('shows by its edges that a camera was elsewhere', async () => {
    const positions = await files.put('late.csv', positionsText(SHOTS, 1.5));
    const ran = await colour({ positions: [positions] });
    // a metre and a half at 60 m and 360 px
    expect(Math.abs((ran.made.report.shift_px as number) - (1.5 * F) / 60)).toBeLessThan(1);
    expect(ran.notices.map((n) => n.code)).toContain('colour-shift');
  });

  it('takes positions of the body with the arm of the mounting, and an archive of photographs', async () => {
    const zip = await files.put('set.zip', zipSync(Object.fromEntries(pictures), { level: 0 }));
    // the body is a metre behind and two above the camera, and level with it in roll
    const rows = SHOTS.map((s, k) => {
      const body = rotationFromAngles(s.rollDeg * DEG, 0, s.headingDeg * DEG);
      const arm = [0, 1, 2].map((j) => body[3 * j] * 1 + body[3 * j + 2] * 2);
      const { geo } = pose(s);
      const map = makeLocalMap(system, geo[0], geo[1], geo[2]);
      const at = new Float64Array(3);
      applyLocalMap(map, -arm[0], -arm[1], -arm[2], at);
      const back = new Float64Array(3);
      system.unproject(at[0], at[1], at[2], back);
      return `${s.name},2423,${1000 + 10 * k},${back[0] / DEG},${back[1] / DEG},${back[2]},${s.rollDeg},0,${s.headingDeg}\n`;
    });
    const positions = await files.put('body.csv', `# crs: EPSG:4937\n# point: imu\n${HEAD}\n${rows.join('')}`);
    const mount = { lever_arm_m: [1, 0, 2], orientation_deg: { roll: 0, pitch: 0, heading: 90 } };
    const mounting = await files.put('m.json', JSON.stringify({ sensors: { air: mount } }));
    const ran = await colour({ photos: [zip], positions: [positions], mounting: [mounting] });
    expect(ran.made.report).toMatchObject({ coloured_share: 1 });
    expect(ran.made.report.shift_px).toBeLessThan(0.5);
    // without the arm it is a metre off and says so
    const bare = JSON.stringify({ sensors: { air: { ...mount, lever_arm_m: [0, 0, 0] } } });
    const off = await colour({ positions: [positions], mounting: [await files.put('bare.json', bare)] });
    expect(off.made.report.shift_px).toBeGreaterThan(3);
  });
});

describe('photographs that do not fit', () => {
  const code = (c: string, more = {}) => expect.objectContaining({ code: c, ...more }) as Error;
  it('are named: without position, of another size, not decodable, of another list', async () => {
    const three = await files.put('three.csv', positionsText(SHOTS.slice(0, 3)));
    const ran = await colour({ positions: [three] }, { proof: false });
    expect(ran.made.report).toMatchObject({ photos_alone: 1, shift_px: null });
    const wgs = await files.put('wgs.csv', positionsText().replace('4937', '4979'));
    expect((await colour({ positions: [wgs] }, { proof: false })).notices.map((n) => n.code)).toContain('frame-null');
    expect(ran.notices.find((n) => n.code === 'photos-alone')!.text).toContain('a4.jpg');
    const other = await files.put('other.csv', positionsText(SHOTS.slice(0, 3), 0, false));
    await expect(colour({ positions: [other] })).rejects.toThrow(code('photos-pairs'));
    // as many positions as photographs, without names: in their order, and that is said
    const unnamed = await colour({ positions: [await files.put('unnamed.csv', positionsText(SHOTS, 0, false))] });
    expect(unnamed.made.report).toMatchObject({ paired_by: 'order', coloured_share: 1 });
    expect(unnamed.notices.map((n) => n.code)).toContain('photos-by-order');
    const small = await files.put(
      'small.json',
      JSON.stringify({ cameras: { air: { width_px: 640, height_px: 480, focal_px: 300 } } }),
    );
    await expect(colour({ positions: [three], cameras: [small] })).rejects.toThrow(code('picture', { file: 'a1.jpg' }));
    const cut = await files.put('cut.zip', zipSync({ 'a1.jpg': pictures.get('a1.jpg')!.subarray(0, 900) }));
    await expect(colour({ positions: [three], photos: [cut] })).rejects.toThrow(code('picture', { file: 'a1.jpg' }));
    const none = await files.put('none.zip', zipSync({ 'readme.txt': new Uint8Array(3) }));
    await expect(colour({ positions: [three], photos: [none] })).rejects.toThrow(code('photos-none'));
    const torn = await files.put('torn.zip', zipSync(Object.fromEntries(pictures)).subarray(0, 5000));
    await expect(colour({ positions: [three], photos: [torn] })).rejects.toThrow(code('photos-zip'));
    const flat = await files.put('flat.csv', positionsText().replaceAll(/,-?[\d.]+,-?[\d.]+,-?[\d.]+\n/g, ',,,\n'));
    await expect(colour({ positions: [flat] })).rejects.toThrow(code('photos-attitude'));
  });

  it('and lists of cameras with nonsense are refused by member', async () => {
    const positions = await files.put('ok.csv', positionsText());
    const list = async (camera: object) => files.put('bad.json', JSON.stringify({ cameras: { air: camera } }));
    await expect(
      colour({ positions: [positions], cameras: [await list({ width_px: W, height_px: H, focal_px: 'long' })] }),
    ).rejects.toThrow(code('cameras', { place: 'cameras.air.focal_px' }));
    await expect(
      colour({ positions: [positions], cameras: [await list({ model: 'fish', width_px: W, height_px: H })] }),
    ).rejects.toThrow(code('cameras', { place: 'cameras.air.model' }));
    await expect(
      colour({ positions: [positions], cameras: [await list({ model: 'sphere', width_px: W, height_px: H })] }),
    ).rejects.toThrow(code('cameras-sphere', { place: 'cameras.air.width_px, height_px' }));
  });
});
