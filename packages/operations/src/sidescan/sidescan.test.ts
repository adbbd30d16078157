import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { trackBottom } from '@longheron/core/sonar';
import { ANCHOR, BED, bedAt, lastBed } from '@longheron/site/boat';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { heightsOf } from '../shared/raster/heights';
import { BOAT_CRS, boatFiles } from '../test/boatFiles';
import { OnFiles } from '../test/onFiles';

let files: OnFiles;
let boat: Awaited<ReturnType<typeof boatFiles>>;
/** Two lines over the anchor, the frame and the tyres, with all noise and fish. */
beforeAll(async () => {
  files = await OnFiles.create();
  boat = await boatFiles(files, {
    lines: [
      { line: 0, fromS: 8, toS: 40 },
      { line: 2, fromS: 8, toS: 60 },
    ],
    beams: 100,
    pingsPerS: 5,
    factor: 1,
    sidescan: true,
  });
});
afterAll(() => files.remove());

describe('the first return from the bed', () => {
  it('is found within two samples in 98 of 100 pings of both channels, fish or not', () => {
    for (const scan of boat.scans.flat()) {
      const { channel, sow, port, starboard, bottomS } = scan;
      const { samples, sampleS } = channel;
      const track = trackBottom({ samples, sampleS, firstS: 0, sow, port, starboard });
      let [good, wrong] = [0, 0];
      for (let i = 0; i < sow.length; i++) {
        const off = Math.abs(track.sample[i] - bottomS[i] / sampleS);
        if (off <= 2) good++;
        else if (!track.flagged[i] && off > 10) wrong++;
      }
      expect([channel.name, good / sow.length >= 0.98, good / sow.length]).toEqual([
        channel.name,
        true,
        good / sow.length,
      ]);
      // what is far off says so
      expect(wrong / sow.length).toBeLessThan(0.003);
    }
  });

  it('that was drawn by hand stays when the rest is tracked again', () => {
    const { channel, sow, port, starboard } = boat.scans[0][0];
    const { samples, sampleS } = channel;
    const rows = { samples, sampleS, firstS: 0, sow, port, starboard };
    const first = trackBottom(rows);
    const edited = new Uint8Array(sow.length);
    const sample = first.sample.slice();
    for (let i = 100; i < 120; i++) {
      edited[i] = 1;
      sample[i] += 6;
    }
    const again = trackBottom(rows, { blankM: 0.8, stepM: 0.5, thickM: 2 }, { sample, edited });
    for (let i = 100; i < 120; i++)
      expect([again.sample[i], again.edited[i], again.flagged[i]]).toEqual([sample[i], 1, 0]);
    expect(again.edited.reduce((a, b) => a + b)).toBe(20);
  });
});

/** Middle of what is much brighter than the bed within a distance of a place, site coordinates. */
async function middleOf(path: string, x: number, y: number, within: number): Promise<[number, number]> {
  const { grid } = await heightsOf(path, 'm.tif', BOAT_CRS);
  let [w, sx, sy] = [0, 0, 0];
  for (let at = 0; at < grid.heightM.length; at++) {
    const v = grid.heightM[at];
    if (!(v > 20_000)) continue;
    const e = grid.westM + ((at % grid.columns) + 0.5) * grid.cellM - SITE_ORIGIN_E;
    const n = grid.northM - (Math.floor(at / grid.columns) + 0.5) * grid.cellM - SITE_ORIGIN_N;
    if (Math.hypot(e - x, n - y) > within) continue;
    w++;
    sx += e;
    sy += n;
  }
  return [sx / w, sy / w];
}

/** Middle of the anchor's outline. */
function anchorMiddle(): [number, number] {
  let [n, sx, sy] = [0, 0, 0];
  for (let x = ANCHOR.x - 2; x < ANCHOR.x + 2; x += 0.02)
    for (let y = ANCHOR.y - 2; y < ANCHOR.y + 2; y += 0.02) {
      bedAt(x, y);
      if (lastBed !== BED.anchor) continue;
      n++;
      sx += x;
      sy += y;
    }
  return [sx / n, sy / n];
}

describe('the mosaic', () => {
  it('has its targets where they lie, on the bed of the soundings, and says what it rests on', async () => {
    const inputs = { ...boat.paths, waterLevel: [] };
    const reduced = await files.run('soundings', inputs, {}, { crs: BOAT_CRS });
    const grid = await files.run(
      'depths',
      { cloud: [reduced.path('cloud')] },
      { cellM: 0.5, method: 'median', fillM: 2 },
    );
    const bed = [grid.path('geotiff')];
    const { waterLevel: _w, ...scan } = inputs;
    const { content, made, path, text } = await files.run(
      'sidescan',
      { ...scan, bed },
      { cellM: 0.2 },
      { crs: BOAT_CRS },
    );
    const f = content.figures;
    expect([f.bed, f.lines.length, f.pings]).toEqual(['grid', 2, boat.scans.reduce((n, s) => n + s[1].sow.length, 0)]);
    expect(f.tracked_share).toBeGreaterThan(0.97);
    expect(made.report.notices.map((n) => n.code)).toEqual(['sidescan-cell']);
    // seen from the line further away, where what stands up is not laid over
    const single = async (k: number) =>
      (
        await files.run('sidescan', { ...scan, sonar: [boat.paths.sonar[k]], bed }, { cellM: 0.2 }, { crs: BOAT_CRS })
      ).path('mosaic');
    const anchor = await middleOf(await single(1), ANCHOR.x, ANCHOR.y, 3);
    const truth = anchorMiddle();
    expect(Math.hypot(anchor[0] - truth[0], anchor[1] - truth[1])).toBeLessThan(0.3);
    const rows = (await text('tracks')).trim().split('\n');
    expect(rows[0]).toBe('file,channel,ping,gps_sow,altitude_m,confidence,flagged,edited');
    expect(rows).toHaveLength(1 + f.pings);
    expect(Number(rows[50].split(',')[4])).toBeGreaterThan(4);
    expect((await readFile(path('mosaic'))).length).toBeGreaterThan(1000);
  });

  it('lays lines on each other as asked, and refuses what is not there by name', async () => {
    const { waterLevel: _w, ...scan } = boat.paths;
    const run = (settings: object, more: object = {}) =>
      files.run('sidescan', { ...scan, ...more }, { cellM: 0.5, channel: 'low', ...settings }, { crs: BOAT_CRS });
    const plain = await run({ overlap: 'order' });
    expect(plain.content.figures.order).toEqual(['line1.sonar.h5', 'line2.sonar.h5']);
    expect(plain.content.figures.bed).toBe('flat');
    expect(plain.made.report.notices.map((n) => n.code)).toEqual(['sidescan-flat']);
    const turned = await run({ overlap: 'order', order: ['line2.sonar.h5', 'line1.sonar.h5'] });
    expect(turned.content.figures.order).toEqual(['line2.sonar.h5', 'line1.sonar.h5']);
    const bytes = (r: typeof plain) => readFile(r.path('mosaic'));
    expect((await bytes(turned)).equals(await bytes(plain))).toBe(false);
    const strongest = await run({ overlap: 'strongest' });
    const mean = await run({ overlap: 'mean' });
    const sum = async (r: typeof mean) =>
      (await heightsOf(r.path('mosaic'), 'm.tif', BOAT_CRS)).grid.heightM.reduce((a, v) => a + (v > 0 ? v : 0), 0);
    expect(await sum(strongest)).toBeGreaterThan(await sum(mean));
    await expect(run({ order: ['line9.sonar.h5'] })).rejects.toMatchObject({ code: 'sidescan-order' });
    const still = await boatFiles(files, { lines: [{ line: 0, fromS: 8, toS: 10 }] });
    await expect(run({}, { sonar: still.paths.sonar })).rejects.toMatchObject({ code: 'sonar-channel' });
  });
});
