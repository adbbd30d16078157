import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp, { type Exif } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  type DatasetDto,
  type InPhotographsDto,
  type KeptCameraDto,
  type PhotographDto,
  type PhotographPairsDto,
  type RayDto,
  type RunDto,
} from '@longheron/contract/api';
import { drawRoom } from '@longheron/site/blocks';
import { contentOf, type TestServer, testServer } from './server';

const room = drawRoom(23);
const DOOR_M = room.door.lengthM;
const root = mkdtempSync(join(tmpdir(), 'longheron-photographs-'));
let s: TestServer;
let block: DatasetDto;
const datasets = () => s.get<DatasetDto[]>('/projects/1/datasets');
const named = async (name: string) => (await datasets()).find((d) => d.name === name);
async function taken(name: string, bytes: string | Uint8Array): Promise<DatasetDto> {
  writeFileSync(join(root, name), bytes);
  await s.send('POST', '/projects/1/take', { paths: [join(root, name)] });
  return s.until(() => named(name));
}
const raysOf = (point: string): RayDto[] => {
  const at = room.points.findIndex((p) => p.name === point);
  return room.seen
    .filter((r) => r.point === at)
    .map((r) => ({ image: room.pictures[r.image].name, xPx: r.u, yPx: r.v, sdPx: 0.3 }));
};
async function ask(body: object): Promise<{ status: number; body: InPhotographsDto }> {
  const response = await fetch(`${s.base}/api/projects/1/datasets/${block.id}/in-photographs`, {
    method: 'POST',
    headers: { Origin: s.base, 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return { status: response.status, body: (await response.json()) as InPhotographsDto };
}

async function ran(what: object): Promise<void> {
  const { body } = await s.send('POST', '/projects/1/runs', what);
  await s.until(async () => {
    const run = (await s.get<RunDto[]>('/projects/1/runs')).find((r) => r.id === Number(body.id));
    if (run?.status === 'failed') throw new Error(run.error?.message);
    return run?.status === 'done';
  }, 600);
}

beforeAll(async () => {
  s = await testServer('none', [root]);
  await s.send('POST', '/projects', { name: 'Chamber' });
  const picks = await taken(
    'picks.csv',
    `image,point,x_px,y_px,sd_px\n${room.seen.map((r) => `${room.pictures[r.image].name},${room.points[r.point].name},${r.u},${r.v},0.3\n`).join('')}`,
  );
  const cameras = await taken(
    'cameras.json',
    JSON.stringify({
      cameras: { hand: { body_serial: 'H-204', width_px: 1200, height_px: 800, focal_px: room.nominal.f } },
    }),
  );
  const distances = await taken('taped.csv', 'from,to,value_m,sd_m,use\nbar a,bar b,2.4,0.0005,scale\n');
  const inputs = { picks: [picks.id], cameras: cameras.id, distances: distances.id };
  await ran({ operation: 'block', inputs, settings: {} });
  block = (await datasets()).find((d) => d.kind === 'block')!;
}, 900_000);
afterAll(async () => {
  await s.stop();
  rmSync(root, { recursive: true });
});

describe('points in photographs of an adjusted block', () => {
  it('meet where they are: the door is as wide as it was made', async () => {
    const [a, b] = await Promise.all(['door a', 'door b'].map((p) => ask({ rays: raysOf(p) })));
    expect([a.status, b.status]).toEqual([200, 200]);
    const met = [a.body.met!, b.body.met!];
    const width = Math.hypot(...met[0].at.map((v, k) => v - met[1].at[k]));
    const sd = Math.hypot(...met.flatMap((m) => m.sd));
    expect(Math.abs(width - DOOR_M)).toBeLessThan(Math.min(0.006, 2 * sd));
    expect(met[0].rmsPx).toBeLessThan(1);
    expect(Math.max(...met[0].rays.map((r) => r.test))).toBeLessThan(3.5);
    // each photograph that sees it is told where
    for (const ray of raysOf('door a')) {
      const shown = a.body.shown.find((x) => x.image === ray.image)!;
      expect(Math.hypot(shown.xPx - ray.xPx, shown.yPx - ray.yPx)).toBeLessThan(2);
      expect(shown.inside).toBe(true);
    }
  });

  it('that are seen once lie on a line in the others', async () => {
    const rays = raysOf('bar a');
    const { body } = await ask({ rays: rays.slice(0, 1) });
    expect(body.met).toBeNull();
    for (const ray of rays.slice(1)) {
      const { along } = body.lines.find((l) => l.image === ray.image)!;
      let near = Infinity;
      for (let k = 0; k + 3 < along.length; k += 2) {
        const [x0, y0, x1, y1] = along.slice(k, k + 4);
        const t = ((ray.xPx - x0) * (x1 - x0) + (ray.yPx - y0) * (y1 - y0)) / ((x1 - x0) ** 2 + (y1 - y0) ** 2);
        const c = Math.min(1, Math.max(0, t));
        near = Math.min(near, Math.hypot(x0 + c * (x1 - x0) - ray.xPx, y0 + c * (y1 - y0) - ray.yPx));
      }
      expect(near).toBeLessThan(3);
    }
  });

  it('with one on the wrong target name it', async () => {
    const rays = raysOf('bar b');
    rays[1] = { ...rays[1], xPx: rays[1].xPx + 9 };
    const { met } = (await ask({ rays })).body;
    const tests = met!.rays.map((r) => r.test);
    expect(tests.indexOf(Math.max(...tests))).toBe(1);
    expect(tests[1]).toBeGreaterThan(5);
  });

  it('leave their camera in the library, and the next photographs of its body are offered it', async () => {
    const path = `/projects/1/datasets/${block.id}/cameras`;
    expect((await s.send('PUT', `${path}/other/kept`, {})).status).toBe(404);
    const { status } = await s.send('PUT', `${path}/hand/kept`, {});
    expect(status).toBe(201);
    await s.send('PUT', `${path}/hand/kept`, {});
    const library = await s.get<KeptCameraDto[]>('/cameras');
    expect(library).toHaveLength(1);
    expect(library[0]).toMatchObject({
      name: 'hand',
      serial: 'H-204',
      nominalFocalPx: room.nominal.f,
      project: 'Chamber',
    });
    expect(Math.abs(library[0].focalPx - room.pictures[0].lens.f)).toBeLessThan(3 * library[0].sdFocalPx + 1);

    const jpeg = (serial: string, exif: Exif['IFD2']) =>
      sharp({ create: { width: 1200, height: 800, channels: 3, background: '#808080' } })
        .withExif({
          IFD0: { Model: serial === 'H-204' ? 'hand' : 'other' },
          IFD2: { BodySerialNumber: serial, ...exif },
        })
        .jpeg({ quality: 30 })
        .toBuffer();
    const known = await jpeg('H-204', {});
    // 10 mm at 0.01 mm a pixel, as the sensor states it
    const nominal = await jpeg('X-1', {
      FocalLength: '10/1',
      FocalPlaneXResolution: '1000/1',
      FocalPlaneResolutionUnit: '3',
    });
    const set = await taken(
      'next.zip',
      zipSync({ 'n1.jpg': new Uint8Array(known), 'n2.jpg': new Uint8Array(nominal) }),
    );
    const made = await s.send('POST', `/projects/1/datasets/${set.id}/camera-list`, {});
    expect(made).toMatchObject({
      status: 201,
      body: {
        cameras: expect.arrayContaining([
          { name: 'hand', from: 'library', photographs: 1 },
          { name: 'other', from: 'EXIF', photographs: 1 },
        ]),
      },
    });
    const list = (await datasets()).find((d) => d.id === made.body.datasetId);
    const json = (await (await fetch(`${s.base}/api/objects/${contentOf(list, 'cameras').object}`)).json()) as {
      cameras: { [name: string]: { focal_px: number; sd: { focal_px: number }; images: string[]; from: string } };
    };
    expect(json.cameras.other).toMatchObject({
      focal_px: 1000,
      sd: { focal_px: 30 },
      from: 'nominal',
      images: ['n2.jpg'],
    });
    // a lens that was carried is not known to a tenth of a pixel any more
    expect(json.cameras.hand).toMatchObject({ focal_px: library[0].focalPx, from: 'adjusted', images: ['n1.jpg'] });
    expect(json.cameras.hand.sd.focal_px).toBeGreaterThanOrEqual(2);

    const unknown = await taken('unknown.zip', zipSync({ 'u.jpg': new Uint8Array(await jpeg('Y-9', {})) }));
    expect(await s.send('POST', `/projects/1/datasets/${unknown.id}/camera-list`, {})).toMatchObject({
      status: 422,
      body: { code: 'camera-unknown', place: 'u.jpg' },
    });
    expect((await s.send('DELETE', `/cameras/${encodeURIComponent(library[0].key)}`)).status).toBe(204);
  });

  it('of full panoramas need nothing but their size', async () => {
    const round = await sharp({ create: { width: 128, height: 64, channels: 3, background: '#808080' } })
      .withExif({ IFD0: { Model: 'stitched' } })
      .jpeg()
      .toBuffer();
    const set = await taken('round.zip', zipSync({ 'r1.jpg': new Uint8Array(round), 'r2.jpg': new Uint8Array(round) }));
    const made = await s.send('POST', `/projects/1/datasets/${set.id}/camera-list`, {});
    expect(made.body.cameras).toEqual([{ name: 'stitched', from: 'panorama', photographs: 2 }]);
    const list = (await datasets()).find((d) => d.id === made.body.datasetId);
    const json = await (await fetch(`${s.base}/api/objects/${contentOf(list, 'cameras').object}`)).json();
    expect(json).toEqual({
      cameras: { stitched: { model: 'sphere', width_px: 128, height_px: 64, images: ['r1.jpg', 'r2.jpg'] } },
    });
  });

  it('in a frame of its own cannot be held against another block, nor a block against something else', async () => {
    const path = `/projects/1/datasets/${block.id}/against`;
    expect(await s.send('POST', `${path}/${block.id}`, {})).toMatchObject({
      status: 422,
      body: { code: 'blocks-local', remedy: expect.stringContaining('positions or control') },
    });
    const picks = (await named('picks.csv'))!;
    expect((await s.send('POST', `${path}/${picks.id}`, {})).status).toBe(409);
    expect((await s.send('POST', `${path}/99999`, {})).status).toBe(404);
  });

  it('become lines with a code, which go out as CSV in the frame of the block, and are taken back', async () => {
    const corners = ['door a', 'door b'].map((p) => ({ seen: raysOf(p) }));
    const path = `/projects/1/datasets/${block.id}/features`;
    const line = { name: 'lintel', shape: 'line', code: 'DOOR', note: 'width', corners };
    const { status, body } = await s.send('PUT', path, line);
    expect(status).toBe(200);
    const made = (await datasets()).find((d) => d.id === body.datasetId);
    const { features } = contentOf(made, 'features');
    expect(features[0]).toMatchObject({ name: 'lintel', code: 'DOOR', areaM2: 0 });
    expect(Math.abs(features[0].lengthM - DOOR_M)).toBeLessThan(0.006);
    const csv = await (await fetch(`${s.base}/api/projects/1/datasets/${made!.id}/export/csv`)).text();
    expect(csv.split('\n').slice(0, 2)).toEqual([
      '# frame: local',
      'name,shape,code,corner,x_m,y_m,z_m,sd_x_m,sd_y_m,sd_z_m,rays,angle_deg,note',
    ]);
    expect(csv.split('\n')[2]).toMatch(/^lintel,line,DOOR,1,-?\d/);
    // of a frame of its own there is no GeoJSON
    expect((await fetch(`${s.base}/api/projects/1/datasets/${made!.id}/export/geojson`)).status).toBe(404);
    const short = await s.send('PUT', path, { ...line, shape: 'area' });
    expect(short).toMatchObject({ status: 422, body: { code: 'feature-corners' } });
    const once = { ...line, name: 'one', corners: [{ seen: raysOf('door a').slice(0, 1) }] };
    expect(await s.send('PUT', path, once)).toMatchObject({ status: 400 });
    const { at } = features[0].corners[0];
    expect((await s.send('DELETE', `${path}/lintel`)).status).toBe(204);
    expect((await s.send('DELETE', `${path}/lintel`)).status).toBe(404);
    await s.send('POST', `/projects/1/datasets/${made!.id}/undo`);
    const again = (await datasets()).find((d) => d.id === made!.id);
    expect(contentOf(again, 'features').features.map((f) => f.name)).toEqual(['lintel']);

    // in a frame that is half as large what was drawn before is half as large too, when the next is drawn
    const taped = await taken('half.csv', 'from,to,value_m,sd_m,use\nbar a,bar b,1.2,0.0005,scale\n');
    const inputs = Object.fromEntries(
      block.revision.inputs
        .filter((i) => i.role !== 'reference')
        .map((i) => [i.role, i.role === 'picks' ? [i.datasetId] : i.datasetId]),
    );
    await ran({
      operation: 'block',
      inputs: { ...inputs, distances: taped.id },
      settings: {},
      outputDataset: block.id,
    });
    expect((await datasets()).find((d) => d.id === made!.id)!.outOfDate).toBe(true);
    await s.send('PUT', path, { ...line, name: 'top', shape: 'point', corners: corners.slice(0, 1) });
    const anew = (await datasets()).find((d) => d.id === made!.id);
    const [lintel, top] = contentOf(anew, 'features').features;
    // two adjustments, each with rejections of its own
    expect(lintel.lengthM / features[0].lengthM).toBeCloseTo(0.5, 2);
    expect(top.corners[0].at).toEqual(lintel.corners[0].at);
    lintel.corners[0].at.forEach((v, k) => expect(v).toBeCloseTo(at[k] / 2, 2));
    await ran({ operation: 'block', inputs, settings: {}, outputDataset: block.id });
  });
});

describe('picks made by hand', () => {
  it('are a list of their own, kept step by step and undone', async () => {
    const pick = { image: 'setup_1.jpg', point: 'new 1', xPx: 100.25, yPx: 200.5, sdPx: 0.1 };
    const { status, body } = await s.send('POST', '/projects/1/picks', { set: [pick], gone: [] });
    expect(status).toBe(201);
    const id = Number(body.datasetId);
    const list = () => s.get<object[]>(`/projects/1/datasets/${id}/picks`);
    expect(await list()).toEqual([pick]);
    // the same point in the same photograph is moved, whatever the ending of its name
    await s.send('POST', '/projects/1/picks', { set: [{ ...pick, image: 'SETUP_1.JPEG', xPx: 101 }], gone: [] });
    expect(await list()).toEqual([{ ...pick, image: 'SETUP_1.JPEG', xPx: 101 }]);
    await s.send('POST', '/projects/1/picks', { set: [], gone: [{ image: 'setup_1', point: 'new 1' }] });
    expect(await list()).toEqual([]);
    await s.send('POST', `/projects/1/datasets/${id}/undo`);
    await s.send('POST', `/projects/1/datasets/${id}/undo`);
    expect(await list()).toEqual([pick]);
    const wrong = { ...pick, point: 'a, b' };
    expect(await s.send('POST', '/projects/1/picks', { set: [wrong], gone: [] })).toMatchObject({ status: 400 });
  });

  it('change a list that came as a file, whose file stays as it was', async () => {
    const file = (await named('picks.csv'))!;
    const before = contentOf(file, 'picks').object;
    await s.send('POST', '/projects/1/picks', {
      dataset: file.id,
      set: [],
      gone: [{ image: 'setup_1.jpg', point: 'bar a' }],
    });
    const after = (await named('picks.csv'))!;
    expect(contentOf(after, 'picks').facts.count).toBe(room.seen.length - 1);
    expect((await fetch(`${s.base}/api/objects/${before}`)).status).toBe(200);
    expect((await datasets()).find((d) => d.id === block.id)!.outOfDate).toBe(true);
    expect(await s.send('POST', '/projects/1/picks', { dataset: block.id, set: [], gone: [] })).toMatchObject({
      status: 404,
    });
  });
});

describe('photographs of a set', () => {
  it('are listed with what they say, given whole and small, never turned, and refused where they are broken', async () => {
    const jpeg = (exif: Exif) =>
      sharp({ create: { width: 300, height: 200, channels: 3, background: '#808080' } })
        .withMetadata({ orientation: 6, exif })
        .jpeg()
        .toBuffer();
    const good = await jpeg({
      IFD0: { Model: 'hand camera' },
      IFD2: {
        DateTimeOriginal: '2026:06:16 13:40:05',
        OffsetTimeOriginal: '+02:00',
        FocalLength: '24/1',
        FocalLengthIn35mmFilm: '36',
        BodySerialNumber: 'H-204',
        LensModel: 'prime 24',
      },
      IFD3: {
        GPSLatitudeRef: 'N',
        GPSLatitude: '56/1 4/1 30/1',
        GPSLongitudeRef: 'W',
        GPSLongitude: '8/1 0/1 0/1',
        GPSAltitude: '25/2',
        GPSAltitudeRef: '0',
      },
    });
    const set = await taken(
      'set.zip',
      zipSync({ 'a.jpg': new Uint8Array(good), 'b.jpg': new Uint8Array(good.subarray(0, good.length - 90)) }),
    );
    // a list of positions that names one of them, on another day than its clock says
    const list = await taken(
      'where.csv',
      '# point: imu\nlabel,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,sd_n_m,sd_e_m,sd_d_m\nA.JPG,2421,1000,56,8,40,0.02,0.03,0.05\nz.jpg,2421,1002,56,8,40,0.02,0.03,0.05\nb.jpg,,,,,,,,\n',
    );
    const pairs = await s.get<Record<number, PhotographPairsDto>>(`/projects/1/datasets/${set.id}/photograph-pairs`);
    expect(pairs[list.id]).toMatchObject({
      by: 'name',
      point: 'imu',
      atCamera: false,
      sdM: [0.02, 0.03, 0.05],
      pairs: [{ image: 'a.jpg', label: 'A.JPG' }],
      photosAlone: ['b.jpg'],
      positionsAlone: ['z.jpg'],
      otherDay: 1,
    });
    const path = `/projects/1/datasets/${set.id}/photographs`;
    const [a] = await s.get<PhotographDto[]>(path);
    expect(a).toMatchObject({
      name: 'a.jpg',
      bytes: good.length,
      widthPx: 300,
      heightPx: 200,
      takenS: Date.UTC(2026, 5, 16, 13, 40, 5) / 1000,
      zoneH: 2,
      camera: 'hand camera',
      serial: 'H-204',
      lens: 'prime 24',
      focalMm: 24,
      orientation: 6,
    });
    expect(a.place!.latDeg).toBeCloseTo(56 + 4 / 60 + 30 / 3600, 9);
    expect(a.place!.lonDeg).toBeCloseTo(-8, 9);
    expect(a.place!.altitudeM).toBeCloseTo(12.5, 9);
    // 36 mm of a frame whose diagonal has 43.27 mm and 360.6 pixels
    expect(a.focalPx).toBeCloseTo((36 / Math.hypot(36, 24)) * Math.hypot(300, 200), 3);
    const whole = await fetch(`${s.base}/api${path}/a.jpg`);
    expect(Buffer.from(await whole.arrayBuffer()).equals(good)).toBe(true);
    const small = await sharp(
      Buffer.from(await (await fetch(`${s.base}/api${path}/a.jpg?edge=60`)).arrayBuffer()),
    ).metadata();
    expect([small.width, small.height]).toEqual([60, 40]);
    expect((await fetch(`${s.base}/api${path}/b.jpg?edge=60`)).status).toBe(422);
    expect((await fetch(`${s.base}/api${path}/c.jpg`)).status).toBe(404);
    expect((await fetch(`${s.base}/api${path}/a.jpg?edge=wide`)).status).toBe(400);
  });
});
