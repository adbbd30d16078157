import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mountingToJson } from '@longheron/core/frames';
import { ADJUSTED_GPS_OFFSET_S, LasFile, WITHHELD } from '@longheron/formats/las';
import { SonarFile, writeSonarFile } from '@longheron/formats/sonar';
import { FLYER } from '@longheron/site/boat';
import { BOAT_CRS, boatFiles, TRUE_MOUNTING } from '../test/boatFiles';
import { OnFiles } from '../test/onFiles';

const BEAMS = 64;
let files: OnFiles;
let boat: Awaited<ReturnType<typeof boatFiles>>;
/** The first line has its cast; the fourth has the other; the second was run in water that no cast knew. */
beforeAll(async () => {
  files = await OnFiles.create();
  boat = await boatFiles(files, {
    lines: [
      { line: 0, fromS: 8, toS: 18 },
      { line: 1, fromS: 8, toS: 18 },
      { line: 4, fromS: 4, toS: 12 },
    ],
  });
});
afterAll(() => files.remove());

const reduce = (roles: string[], settings = {}, mounting = boat.paths.mounting, sonar = boat.paths.sonar) =>
  files.run(
    'soundings',
    { sonar, mounting, ...Object.fromEntries(roles.map((r) => [r, boat.paths[r as 'casts']])) },
    settings,
    { crs: BOAT_CRS },
  );

async function points(path: string) {
  const file = await LasFile.openPath(path);
  const p = await file.readAll();
  const names = file.extraDimensions().map((d) => d.name);
  const { header } = file;
  await file.close();
  const value = (k: 'x' | 'y' | 'z', i: number) =>
    p[k][i] * header.scale['xyz'.indexOf(k)] + header.offset['xyz'.indexOf(k)];
  return { p, names, value };
}

describe('soundings reduced from files', () => {
  it('lie on the bed that sound met, with line, beam, ping and time; water that no cast knew is named', async () => {
    const { made, content, path } = await reduce(['trajectory', 'casts']);
    const f = content.sounded!;
    const [one, two, three] = boat.truth.map((t) => t.pings.sow.length);
    expect([f.pings, f.outside, f.lines.map((l) => l.pings)]).toEqual([one + two + three, 0, [one, two, three]]);
    expect(f.heights).toBe('trajectory');
    const { p, names, value } = await points(path('cloud'));
    expect(names).toEqual(['sd_e', 'sd_n', 'sd_h', 'beam', 'ping']);
    expect(p.x.length).toBe(f.soundings);
    // points come in the order of pings and beams; those that met nothing are left out
    let i = 0;
    const off = boat.truth.map(() => ({ plan: 0, height: 0 }));
    boat.truth.forEach((t, line) => {
      for (let k = 0; k < t.pings.quality.length; k++) {
        if (t.pings.quality[k] === 0) continue;
        const o = off[line];
        o.plan = Math.max(o.plan, Math.hypot(value('x', i) - t.eastingM[k], value('y', i) - t.northingM[k]));
        o.height = Math.max(o.height, Math.abs(value('z', i) - t.heightM[k]));
        expect(p.pointSourceId[i]).toBe(line + 1);
        if (k === BEAMS * 7 + 5)
          expect(p.gpsTime[i] + ADJUSTED_GPS_OFFSET_S).toBeCloseTo(2423 * 604_800 + t.pings.sow[7] - 0.06, 6);
        i++;
      }
    });
    expect(i).toBe(f.soundings);
    expect(off[0].plan).toBeLessThan(0.01);
    expect(off[0].height).toBeLessThan(0.01);
    expect(off[2].height).toBeLessThan(0.01);
    expect(off[1].height).toBeGreaterThan(0.04);
    const old = made.report.notices.filter((n) => n.code === 'cast-old');
    expect(old).toHaveLength(1);
    expect(old[0].text).toContain('cast C1');
    expect(f.casts.map((c) => c.pings)).toEqual([one + two, three]);
    expect(f.by_angle.reduce((sum, b) => sum + b.soundings, 0)).toBe(f.soundings);
    // without noise navigation and trajectory are one
    expect(f.navigation!.plan_rms_m).toBeLessThan(0.02);
    expect(Math.abs(f.navigation!.roll_deg!)).toBeLessThan(0.01);
  });

  it('have heights from the gauge without a trajectory, and relative ones without either', async () => {
    const gauged = await reduce(['casts', 'waterLevel']);
    expect(gauged.content.sounded).toMatchObject({ heights: 'gauge', path: 'navigation', navigation: null });
    const { value } = await points(gauged.path('cloud'));
    const t = boat.truth[0];
    const k = t.pings.quality.findIndex((q) => q > 0);
    expect(value('z', 0)).toBeCloseTo(t.heightM[k], 1);
    expect(gauged.made.report.crs).toBe(BOAT_CRS);

    const relative = await reduce(['casts']);
    expect(relative.content.sounded).toMatchObject({ heights: 'relative', heights_above: 'the water' });
    expect(relative.made.report.crs).toBe('EPSG:25832');
    expect(relative.made.report.notices[0]).toMatchObject({ code: 'relative-heights' });
    // the gauge does not say where its datum lies
    const { waterLevel } = boat.paths;
    boat.paths.waterLevel = [
      await files.put('loose.csv', '# above: Old pier zero\ngps_week,gps_sow,level_m\n2423,206000,1\n2423,209000,1\n'),
    ];
    const loose = await reduce(['casts', 'waterLevel']);
    boat.paths.waterLevel = waterLevel;
    expect(loose.content.sounded).toMatchObject({ heights: 'relative', heights_above: 'Old pier zero' });
  });

  it('take the cast that is nearest in place when told so', async () => {
    const { content } = await reduce(['trajectory', 'casts'], { castBy: 'place' });
    expect(content.sounded!.casts.map((c) => c.pings > 0)).toContain(true);
    expect(content.sounded!.cast_by).toBe('place');
    const time = (await reduce(['trajectory', 'casts'])).content.sounded!;
    expect(content.sounded!.casts[0].away_m).toBeLessThanOrEqual(time.casts[0].away_m + 1e-6);
  });

  it('say what is missing: waterline, sensor, levels at the time, motion', async () => {
    const { waterlineM: _w, ...dry } = TRUE_MOUNTING;
    const noWaterline = await files.put('dry.json', JSON.stringify(mountingToJson(dry)));
    const { made } = await reduce(['casts', 'waterLevel'], {}, [noWaterline]);
    expect(made.report.notices.map((n) => n.code)).toEqual(expect.arrayContaining(['waterline', 'relative-heights']));
    const other = { sensors: { a: TRUE_MOUNTING.sensors.sonar, b: TRUE_MOUNTING.sensors.sonar } };
    const wrong = await files.put('other.json', JSON.stringify(mountingToJson(other)));
    await expect(reduce(['trajectory', 'casts'], {}, [wrong])).rejects.toMatchObject({ code: 'mounting-sensor' });
    const { waterLevel } = boat.paths;
    boat.paths.waterLevel = [
      await files.put(
        'gap.csv',
        '# above: D\n# datum_ell_m: 40\ngps_week,gps_sow,level_m\n2423,200000,1\n2423,300000,1\n',
      ),
    ];
    await expect(reduce(['casts', 'waterLevel'])).rejects.toMatchObject({ code: 'soundings-none' });
    boat.paths.waterLevel = waterLevel;
    const file = await SonarFile.open(boat.paths.sonar[0]);
    await writeSonarFile(files.path('still.h5'), {
      info: file.info,
      navigation: file.navigation(),
      pings: file.readPings(0, 9),
    });
    await writeSonarFile(files.path('side.h5'), { info: file.info, channels: [{ ...channel }] });
    file.close();
    await expect(reduce(['casts'], {}, boat.paths.mounting, [files.path('still.h5')])).rejects.toMatchObject({
      code: 'sonar-motion',
      file: 'still.h5',
    });
    await expect(reduce(['casts'], {}, boat.paths.mounting, [files.path('side.h5')])).rejects.toMatchObject({
      code: 'sonar-no-bathy',
    });
  });
});

const channel = {
  name: 'low',
  samples: 4,
  sampleS: 1e-4,
  firstS: 0,
  frequencyHz: 1e5,
  sow: Float64Array.of(1),
  port: new Uint16Array(4),
  starboard: new Uint16Array(4),
};

describe('doubtful detections', () => {
  it('are kept, rejected and counted; good ones hold what they state', async () => {
    const own = await OnFiles.create();
    const noisy = await boatFiles(own, {
      lines: [{ line: 0, fromS: 8, toS: 60 }],
      factor: 1,
      beams: 128,
      pingsPerS: 10,
    });
    const { content, path } = await own.run('soundings', { ...noisy.paths, waterLevel: [] }, {}, { crs: BOAT_CRS });
    const f = content.sounded!;
    const { p, value } = await points(path('cloud'));
    const [t] = noisy.truth;
    const detected = [...t.pings.quality.keys()].filter((k) => t.pings.quality[k] > 0);
    expect(detected.length).toBe(f.soundings);
    let doubtful = 0;
    const errors = new Map<number, { sum: number; n: number }>();
    detected.forEach((k, i) => {
      const graded = t.pings.quality[k] === 1;
      expect((p.flags[i] & WITHHELD) !== 0).toBe(graded);
      if (graded) doubtful++;
      if (t.kind[k] === FLYER || t.kind[k] !== 0) return;
      const bin = Math.floor(Math.abs(t.pings.angleDeg[k]) / 10);
      const at = errors.get(bin) ?? { sum: 0, n: 0 };
      errors.set(bin, { sum: at.sum + (value('z', i) - t.heightM[k]) ** 2, n: at.n + 1 });
    });
    expect(f.doubtful).toBe(doubtful);
    expect(doubtful).toBeGreaterThan(20);
    // the trajectory is the true one here, so heights err by range, angle and water alone: stated the same within limits
    for (const [bin, { sum, n }] of errors) {
      const stated = f.by_angle.find((b) => b.from_deg === 10 * bin)!.sd_h_m;
      const ratio = Math.sqrt(sum / n) / stated;
      expect([bin, ratio > 0.7 && ratio < 1.4, ratio]).toEqual([bin, true, ratio]);
    }
    await own.remove();
  });
});
