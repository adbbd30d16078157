import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEG, rotationFromAngles, rotationFromQuaternion } from '@longheron/core/frames';
import { multiply3 } from '@longheron/core/numeric';
import { intersectRays } from '@longheron/core/photo';
import { readPhotoPositions } from '@longheron/formats/photo-set';
import { drawBlock } from '@longheron/site/blocks';
import { drawPanoramas, drawRoom } from '@longheron/site/blocks';
import { CRS, camerasOf, frame, marksOf, picksOf, positionsOf, system } from '../test/drawnBlock';
import { OnFiles, type Ran } from '../test/onFiles';
import { adjustedPictures, metBy, omegaPhiKappaDeg, quaternionOf, raysOf } from '../shared/photographs';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

describe('a flown block with control and check marks', () => {
  const t = drawBlock({ seed: 21, wrong: 0.01 });
  let ran: Ran<'block'>;
  beforeAll(async () => {
    ran = await files.run(
      'block',
      {
        picks: [await files.put('picks.csv', picksOf(t))],
        cameras: [await files.put('cameras.json', camerasOf(t))],
        positions: [await files.put('positions.csv', positionsOf(t))],
        marks: [await files.put('marks.csv', marksOf(t))],
      },
      {},
      { crs: CRS, keeps: true },
    );
  }, 900_000);

  it('is proved by check marks as well as it says', () => {
    const f = ran.content.figures;
    expect(f).toMatchObject({ frame: 'earth', images: 36, oriented: 36, left_out: [], places_out: [] });
    expect(f.sigma0).toBeGreaterThan(0.95);
    expect(f.sigma0).toBeLessThan(1.05);
    expect(f.check).toHaveLength(t.points.filter((p) => p.kind === 'check').length);
    for (const key of ['e', 'n', 'h'] as const) {
      const found = f[`check_rmse_${key}_m`]!;
      const stated = Math.sqrt(f.check.reduce((s, c) => s + c[`sd_${key}_m`]! ** 2, 0) / f.check.length);
      expect(found / stated).toBeLessThan(1.4);
      expect(found / stated).toBeGreaterThan(0.5);
    }
    expect(f.control_rmse_m).toBeLessThan(0.03);
    // the rejected picks are those that were moved
    const wrong = new Set(
      t.seen.filter((s) => s.wrong).map((s) => `${t.pictures[s.image].name} ${t.points[s.point].name}`),
    );
    const named = f.rejected.filter((r) => wrong.has(`${r.image} ${r.point}`));
    expect(named.length / wrong.size).toBeGreaterThan(0.9);
    expect(f.rejected[0].test).toBeGreaterThan(f.rejected.at(-1)!.test);
  });

  it('lets points be measured in its photographs as well as it says', async () => {
    const opened = await adjustedPictures(files.store, ran.content, CRS);
    const wrong = new Set(ran.content.figures.rejected.map((r) => `${r.image} ${r.point}`));
    let [squares, apart, n] = [0, 0, 0];
    for (const [p, point] of t.points.entries()) {
      const seen = t.seen
        .filter((s) => s.point === p && !wrong.has(`${t.pictures[s.image].name} ${point.name}`))
        .map((s) => ({ image: t.pictures[s.image].name, xPx: s.u, yPx: s.v, sdPx: 0.5 }));
      if (point.kind !== 'check' || seen.length < 2) continue;
      const rays = raysOf(opened, seen);
      const { met, of } = metBy(opened, rays)!;
      const at = new Float64Array(3);
      system.project(...frame.toGeodetic(...point.at), at);
      squares += met.at.reduce((s, v, k) => s + ((v - at[k]) / met.sd[k]) ** 2, 0);
      apart += intersectRays(rays)!.covM2[5] / of.covM2[5];
      n++;
    }
    expect(n).toBeGreaterThan(5);
    expect(Math.sqrt(squares / (3 * n))).toBeGreaterThan(0.6);
    expect(Math.sqrt(squares / (3 * n))).toBeLessThan(1.4);
    // poses taken as independent would make heights look far less certain
    expect(apart / n).toBeGreaterThan(1.5);
  });

  it('says what it expects of each place: about what its own points have', () => {
    const expected = ran.content.expected!;
    const heights = ran.content.figures.check.map((c) => c.sd_h_m!).sort((a, b) => a - b);
    const middle = heights[heights.length >> 1];
    expect(expected.medianHeightM / middle).toBeGreaterThan(0.5);
    expect(expected.medianHeightM / middle).toBeLessThan(2);
    expect(expected.medianPlanM).toBeLessThan(expected.medianHeightM);
    expect(expected.onlyTwo).toBeLessThan(0.3);
    const { columns, rows, cellM } = expected.layout;
    expect(Math.max(columns, rows)).toBeLessThanOrEqual(49);
    // four lines of nine pictures, 55 by 95 m apart
    expect(columns * cellM).toBeGreaterThan(300);
  });

  it('writes orientations that turn the camera’s axes to where they truly lie', async () => {
    const where = readPhotoPositions(new TextEncoder().encode(await ran.text('oriented')), 'oriented.csv');
    expect(where).toMatchObject({ oriented: true, crs: 'EPSG:4937', point: 'camera' });
    expect(where.rows).toHaveLength(36);
    where.rows.forEach((row) => {
      const p = t.pictures.find((q) => q.name === row.image)!;
      const at = frame.fromGeodetic(row.latRad, row.lonRad, row.hEllM);
      at.forEach((v, k) => expect(Math.abs(v - p.at[k])).toBeLessThan(0.2));
      const axes = multiply3(frame.fromNed(row.latRad, row.lonRad), row.rotation!);
      // ends of the axes within a quarter of a degree: a principal point and a tilt are much alike
      axes.forEach((v, k) => expect(Math.abs(v - p.axes[k])).toBeLessThan(0.005));
    });
  });

  it('writes points in the project’s system and cameras that can be read again', async () => {
    const points = (await ran.text('points')).split('\n');
    expect(points[0]).toBe(`# crs: ${CRS}`);
    const row = points.find((l) => l.startsWith('C0,control,'))!.split(',');
    const mark = marksOf(t)
      .split('\n')
      .find((l) => l.startsWith('C0,'))!
      .split(',');
    for (let k = 2; k < 5; k++) expect(Math.abs(Number(row[k]) - Number(mark[k]))).toBeLessThan(0.05);
    expect(Number(row[8])).toBeGreaterThan(1);
    expect(Number(row[9])).toBeGreaterThan(5);
    const { cameras } = JSON.parse(await ran.text('cameras')) as {
      cameras: { air: { focal_px: number; sd: { focal_px: number }; from: string; body_serial: string } };
    };
    expect(cameras.air).toMatchObject({ from: 'adjusted', body_serial: 'C-1' });
    expect(Math.abs(cameras.air.focal_px - t.pictures[0].lens.f)).toBeLessThan(4 * cameras.air.sd.focal_px);
    expect(ran.content.figures.cameras.air.nominal_focal_px).toBe(1480);
  });
});

it('finds a shift that all positions share, and will not without control', async () => {
  const t = drawBlock({ seed: 8, lines: 3, ofLine: 6, points: 700 });
  const moved = { ...t, places: t.places.map(([e, n, u]): [number, number, number] => [e + 0.8, n - 0.5, u + 1.2]) };
  const inputs = {
    picks: [await files.put('s.csv', picksOf(t))],
    cameras: [await files.put('s.json', camerasOf(t))],
    positions: [await files.put('moved.csv', positionsOf(moved))],
  };
  const marks = [await files.put('sm.csv', marksOf(t))];
  const { figures } = (await files.run('block', { ...inputs, marks }, { shift: true }, { crs: CRS })).content;
  const [shift] = figures.shifts;
  expect(shift.session).toBe('air');
  // a principal point is much like a shift in plan, a focal length like one in height: that is in the deviations
  for (const [off, sd, most] of [
    [shift.de_m - 0.8, shift.sd_e_m, 0.2],
    [shift.dn_m + 0.5, shift.sd_n_m, 0.2],
    [shift.dh_m - 1.2, shift.sd_h_m, 1],
  ]) {
    expect(sd).toBeLessThan(most);
    expect(Math.abs(off)).toBeLessThan(3 * sd);
  }
  expect(figures.places_out).toEqual([]);
  await expect(files.run('block', inputs, { shift: true }, { crs: CRS })).rejects.toThrow(
    expect.objectContaining({ code: 'block-shift' }),
  );
});

describe('set-ups in a chamber, scaled by a bar', () => {
  const t = drawRoom(3);
  const feet = (t.door.lengthM / 0.3048).toFixed(5);
  const run = async (distances: string) =>
    files.run('block', {
      picks: [
        await files.put(
          'room.csv',
          picksOf(t)
            .replace('y_px\n', 'y_px,sd_px\n')
            .replace(/(\d)\n/g, '$1,0.3\n'),
        ),
      ],
      cameras: [await files.put('room.json', camerasOf(t))],
      distances: [await files.put('taped.csv', distances)],
    });

  it('tell the width of the door in the unit it was taped in', async () => {
    const ran = await run(
      `from,to,value_m,value_ft,sd_m,use,note\nbar a,bar b,2.400,,0.0005,scale\ndoor a,door b,,${feet},0.001,check,clear width, tape 3\n`,
    );
    expect(ran.content.figures.distances.map((d) => d.note)).toEqual([undefined, 'clear width, tape 3']);
    const f = ran.content.figures;
    expect(f).toMatchObject({ frame: 'local', oriented: 5, images: 5, control: [], check: [] });
    expect(f.distances[1]).toMatchObject({ unit: 'foot', given: Number(feet), agrees: true });
    expect(Math.abs(f.distances[1].found_m! - t.door.lengthM)).toBeLessThan(0.006);
    expect((await ran.text('oriented')).split('\n')[0]).toBe('# frame: local');
    expect((await ran.text('points')).split('\n')[1]).toMatch(/^point,kind,x_m,y_m,z_m,/);
  });

  it('say that a foot was taken for a metre', async () => {
    const ran = await run(
      `from,to,value_m,sd_m,use\nbar a,bar b,2.4,0.0005,scale\ndoor a,door b,${feet},0.001,check\n`,
    );
    expect(ran.content.figures.distances[1].agrees).toBe(false);
    expect(ran.notices.map((n) => n.code)).toContain('block-distance-off');
  });

  it('say that nothing gives their size', async () => {
    const ran = await files.run('block', {
      picks: [await files.put('bare.csv', picksOf(t))],
      cameras: [await files.put('bare.json', camerasOf(t))],
    });
    expect(ran.notices.map((n) => n.code)).toContain('block-no-scale');
  });
});

describe('full panoramas', () => {
  const t = drawPanoramas(5);
  const round = (more = {}) =>
    JSON.stringify({ cameras: { round: { model: 'sphere', width_px: t.widthPx, height_px: t.heightPx, ...more } } });
  const run = async (cameras: string) =>
    files.run('block', {
      picks: [
        await files.put(
          'round.csv',
          `image,point,x_px,y_px,sd_px\n${t.seen.map((s) => `${t.pictures[s.image].name},${t.points[s.point].name},${s.u.toFixed(3)},${s.v.toFixed(3)},${t.sdPx}\n`).join('')}`,
        ),
      ],
      cameras: [await files.put('round.json', cameras)],
      distances: [
        await files.put(
          'taped.csv',
          `from,to,value_m,sd_m,use\nbar a,bar b,2.4,0.0005,scale\ndoor a,door b,${t.door.lengthM},0.001,check\n`,
        ),
      ],
    });

  it('tell the door’s width, and their camera is handed on as what it is', async () => {
    const ran = await run(round());
    const f = ran.content.figures;
    expect(f).toMatchObject({ frame: 'local', oriented: 4, held: [], picks_rejected: 0 });
    expect(f.cameras.round).toMatchObject({ model: 'sphere', images: 4, terms: [] });
    expect(f.distances[1]).toMatchObject({ agrees: true });
    expect(JSON.parse(await ran.text('cameras'))).toEqual({
      cameras: {
        round: {
          model: 'sphere',
          width_px: 4096,
          height_px: 2048,
          images: t.pictures.map((p) => p.name),
        },
      },
    });
  });

  it('must be twice as wide as high', async () => {
    await expect(run(round({ height_px: 1024 }))).rejects.toThrow(
      expect.objectContaining({
        code: 'cameras-sphere',
        file: 'round.json',
        place: 'cameras.round.width_px, height_px',
      }),
    );
    await expect(run(round({ model: 'fish' }))).rejects.toThrow(/known are "frame" and "sphere"/);
  });
});

describe('what does not fit', () => {
  const t = drawRoom(1, 40);
  const code = (c: string, more = {}) => expect.objectContaining({ code: c, ...more }) as Error;
  const run = async (picks: string, more: { [role: string]: string[] } = {}, crs?: string) =>
    files.run(
      'block',
      { picks: [await files.put('p.csv', picks)], cameras: [await files.put('c.json', camerasOf(t))], ...more },
      {},
      { crs },
    );

  it('is named: a pick twice, a column missing, a place outside any picture', async () => {
    const [head, first] = picksOf(t).split('\n');
    await expect(run(`${head}\n${first}\n${first}\n`)).rejects.toThrow(
      code('picks', { place: 'line 3, column point' }),
    );
    await expect(run('image,point,x_px\na.jpg,1,2\n')).rejects.toThrow(/column y_px is missing/);
    await expect(run('image,point,x_px,y_px\na.jpg,1,2,x\n')).rejects.toThrow(
      code('picks', { place: 'line 2, column y_px' }),
    );
  });

  it('is named: positions of other photographs, a system that is not said, a distance between what was not picked', async () => {
    const other = await files.put('o.csv', 'label,lat_deg,lon_deg,h_ell_m\nx.jpg,56,8,10\n');
    await expect(run(picksOf(t), { positions: [other] }, CRS)).rejects.toThrow(code('block-names'));
    await expect(run(picksOf(t), { positions: [other] })).rejects.toThrow(code('block-crs'));
    const far = await files.put('d.csv', 'from,to,value_m,sd_m,use\nbar a,nobody,2,0.01,scale\n');
    await expect(run(picksOf(t), { distances: [far] })).rejects.toThrow(code('block-distance'));
  });

  it('is named: picks whose x and y are exchanged', async () => {
    await expect(run(picksOf(t).replaceAll(/,(\d+\.\d+),(\d+\.\d+)\n/g, ',$2,$1\n'))).rejects.toThrow(
      code('block-outside', { file: 'p.csv' }),
    );
  });

  it('is named: pictures that share too few points', async () => {
    const few = picksOf(t).split('\n').slice(0, 6).join('\n');
    await expect(run(few)).rejects.toThrow(code('block-pair'));
  });
});

describe('angles and quaternions', () => {
  it('are those of the worked example: roll 10°, pitch 5°, heading 30°, a camera that looks down', () => {
    const ned = multiply3(rotationFromAngles(10 * DEG, 5 * DEG, 30 * DEG), rotationFromAngles(0, 0, 90 * DEG));
    // north, east, down to east, north, up
    const enu = Float64Array.of(ned[3], ned[4], ned[5], ned[0], ned[1], ned[2], -ned[6], -ned[7], -ned[8]);
    const [omega, phi, kappa] = omegaPhiKappaDeg(enu);
    expect(omega).toBeCloseTo(9.32853, 5);
    expect(phi).toBeCloseTo(6.16937, 5);
    expect(kappa).toBeCloseTo(-30.06611, 5);
  });

  it('come back as the turn they were made of', () => {
    const back = new Float64Array(9);
    for (const [a, b, c] of [
      [0.1, 0.2, 0.3],
      [3, -1.2, 2],
      [-2.5, 1.4, -3],
      [0, 0, Math.PI],
    ]) {
      const m = rotationFromAngles(a, b, c);
      rotationFromQuaternion(Float64Array.from(quaternionOf(m)), 0, back);
      back.forEach((v, k) => expect(v).toBeCloseTo(m[k], 10));
    }
  });
});
