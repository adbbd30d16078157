import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { type Pings } from '@longheron/core/sonar';
import { writeHdf5Groups } from '../hdf5';
import { inspectFile } from '../registry';
import { SonarFile, writeSonarFile, type SonarRecording } from '.';

const folder = mkdtempSync(join(tmpdir(), 'lh-sonar-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const DEG = Math.PI / 180;
const [N, BEAMS, SAMPLES] = [600, 16, 50];

const range = (n: number, of: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => of(i));
const pings = (): Pings => ({
  week: 2423,
  first: 0,
  beams: BEAMS,
  sow: range(N, (i) => 1000 + i / 10),
  tiltDeg: range(N, (i) => (i % 5) / 10),
  surfaceMps: range(N, () => 1487.5),
  angleDeg: Float32Array.from({ length: N * BEAMS }, (_, k) => (k % BEAMS) * 8 - 60),
  travelS: range(N * BEAMS, (k) => (k % 37 === 0 ? Number.NaN : 0.01 + k / 1e7)),
  quality: Uint8Array.from({ length: N * BEAMS }, (_, k) => (k % 37 === 0 ? 0 : 1 + (k % 3))),
  intensityDb: Float32Array.from({ length: N * BEAMS }, (_, k) => -30 + (k % 9)),
});
const recording = (): SonarRecording => ({
  info: {
    week: 2423,
    sonar: 'test head',
    frequencyHz: 4e5,
    beamwidthAcrossDeg: 1,
    beamwidthAlongDeg: 1,
    pulseS: 5e-5,
    binned: false,
    rangeSdM: 0.02,
    angleSdDeg: 0.06,
    surfaceSpeedSdMps: 0.07,
  },
  navigation: {
    week: 2423,
    sow: range(70, (i) => 999 + i),
    latRad: range(70, (i) => (56 + i / 1e5) * DEG),
    lonRad: range(70, () => 8.4 * DEG),
    hEllM: range(70, () => Number.NaN),
    headingRad: range(70, () => 0.3),
    planSdM: 0.4,
    heightSdM: 0.9,
  },
  motion: {
    week: 2423,
    sow: range(700, (i) => 999 + i / 10),
    rollRad: range(700, (i) => 0.02 * Math.sin(i)),
    pitchRad: range(700, () => 0.01),
    headingRad: range(700, () => 0.3),
    heaveM: range(700, (i) => 0.1 * Math.cos(i)),
    rollSdRad: 0.02 * DEG,
    pitchSdRad: 0.03 * DEG,
    headingSdRad: 0.1 * DEG,
    heaveSdM: 0.04,
  },
  pings: pings(),
  channels: [
    {
      name: 'low',
      samples: SAMPLES,
      sampleS: 1e-4,
      firstS: 0.001,
      frequencyHz: 1e5,
      sow: range(30, (i) => 1000 + i),
      port: Uint16Array.from({ length: 30 * SAMPLES }, (_, k) => k),
      starboard: Uint16Array.from({ length: 30 * SAMPLES }, (_, k) => 60_000 - k),
    },
  ],
});

describe('a sonar file', () => {
  it('comes back as it was written, block by block', async () => {
    await writeSonarFile(at('a.h5'), recording());
    const file = await SonarFile.open(at('a.h5'));
    const { info } = file;
    expect(info).toMatchObject({ ...recording().info, pings: N, beams: BEAMS, fixes: 70, motions: 700 });
    expect(info.channels).toEqual([
      { name: 'low', pings: 30, samples: SAMPLES, sampleS: 1e-4, firstS: 0.001, frequencyHz: 1e5 },
    ]);
    const blocks = [...file.blocks(250)];
    expect(blocks.map((b) => [b.first, b.sow.length])).toEqual([
      [0, 250],
      [250, 250],
      [500, 100],
    ]);
    const all = pings();
    for (const b of blocks) {
      const from = b.first * BEAMS;
      const to = from + b.sow.length * BEAMS;
      expect(b.travelS).toEqual(all.travelS.slice(from, to));
      expect(b.angleDeg).toEqual(all.angleDeg.slice(from, to));
      expect(b.quality).toEqual(all.quality.slice(from, to));
      expect(b.intensityDb).toEqual(all.intensityDb!.slice(from, to));
    }
    expect(file.navigation()!.latRad[9]).toBeCloseTo(56.00009 * DEG, 12);
    expect(file.motion()!.heaveM).toEqual(recording().motion!.heaveM);
    expect(file.motion()!.pitchSdRad).toBeCloseTo(0.03 * DEG, 12);
    const low = file.readSidescan(file.channel('low')!, 7, 9);
    expect([low.sow[1], low.port[SAMPLES], low.starboard[1]]).toEqual([1008, 8 * SAMPLES, 60_000 - 7 * SAMPLES - 1]);
    expect(file.channel('high')).toBeUndefined();
    file.close();
  });

  it('is inspected: beams, channels, span, gaps, and what is wrong with times and signs', async () => {
    const r = recording();
    r.pings!.sow[300] = r.pings!.sow[299];
    r.pings!.sow[400] -= 3;
    for (let i = 500; i < N; i++) r.pings!.sow[i] += 20;
    r.pings!.travelS[5] = -0.01;
    r.info.binned = true;
    delete r.motion;
    await writeSonarFile(at('b.h5'), r);
    const facts = await inspectFile(at('b.h5'), 'b.sonar.h5');
    expect([facts.kind, facts.count, facts.startGps! - 2423 * 604_800]).toEqual(['sonar', N, 1000]);
    expect(facts.gaps.map((g) => Math.round(g.lengthS))).toEqual([20]);
    expect(facts.details).toContainEqual(['Beams', `${BEAMS}, 1.0 ° across`]);
    expect(facts.details).toContainEqual(['Side-scan', 'low 100 kHz, 30 pings']);
    expect(facts.findings.map((f) => f.code).sort()).toEqual([
      'sonar-binned',
      'sonar-doubled',
      'sonar-motion',
      'sonar-order',
      'sonar-travel',
    ]);
    expect(facts.findings.find((f) => f.code === 'sonar-order')).toMatchObject({ place: '/bathy/gps_sow, row 400' });
  });

  it('cut off, of the wrong shape or without a bed is refused by file and place', async () => {
    writeFileSync(at('cut.h5'), readFileSync(at('a.h5')).subarray(0, 9000));
    await expect(SonarFile.open(at('cut.h5'))).rejects.toMatchObject({ code: 'sonar-hdf5', file: 'cut.h5' });
    const root = { gps_week: { value: 2423, dtype: '<i' }, range_sd_m: { value: 0.01 }, angle_sd_deg: { value: 0 } };
    const f64 = (n: number, width = 1) => ({ data: new Float64Array(n * width), dtype: '<d', width });
    const write = (name: string, bathy?: object) =>
      writeHdf5Groups(at(name), {
        '/': { attributes: root },
        ...(bathy ? { bathy: { columns: bathy as never } } : {}),
      });
    await write('none.h5');
    await expect(SonarFile.open(at('none.h5'))).rejects.toMatchObject({ code: 'sonar-layout', place: '/' });
    await write('short.h5', { gps_sow: f64(5), angle_deg: f64(5, 3), travel_s: f64(4, 3) });
    await expect(SonarFile.open(at('short.h5'))).rejects.toMatchObject({ place: '/bathy/travel_s' });
    await write('sd.h5', { gps_sow: f64(5), angle_deg: f64(5, 3), travel_s: f64(5, 3) });
    await expect(SonarFile.open(at('sd.h5'))).rejects.toThrow(/angle_sd_deg is 0/);
  });
});
