import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mountingText } from '@longheron/formats/mounting';
import { deliveredMounting } from '@longheron/site/drive';
import { type FolderStore } from '../shared/store';
import { ask } from '../test/ask';
import { OnFiles, trajectoryText } from '../test/onFiles';

const CRS = 'EPSG:25832+5773';
let files: OnFiles;
let store: FolderStore;
beforeAll(async () => {
  files = await OnFiles.create();
  ({ store } = files);
});
afterAll(() => files.remove());

async function inspected(name: string, data: string | Uint8Array, crs: string | null = CRS) {
  const path = await files.put(name, data);
  return ask('inspect', { path, name, context: {}, crs }, store);
}
/** A minute on a meridian at 56°: 10 m/s northwards, at 40 m of height. */
const drive = (offM = 0) =>
  trajectoryText(
    Array.from({ length: 61 }, (_, k) => ({
      sow: 205_000 + k,
      latDeg: 56 + k * 8.98e-5,
      lonDeg: 9 + offM * 1.6e-5,
      hM: 40 + offM,
    })),
  );

describe('a file that is taken in', () => {
  it('of marks has its marks and their system', async () => {
    const { content, hash } = await inspected(
      'marks.csv',
      `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m\nC1,control,467000,6215000,3\nK1,check,467010,6215000,4\n`,
    );
    expect(content.kind).toBe('marks');
    expect(content.more.marks!.map((m) => [m.name, m.role])).toEqual([
      ['C1', 'control'],
      ['K1', 'check'],
    ]);
    expect(content.more.crs).toBe(CRS);
    expect(hash).toBe(content.object);
  });

  it('of a table in another order is shown, with a guess, and read as a person says', async () => {
    const text = 'Point;Height;Y;X\nP1;3.25;467000.5;6215000.25\nP2;4.5;467010;6215010\n';
    const { content } = await inspected('points.csv', text);
    expect(content.kind).toBe('table');
    expect(content.more.table).toMatchObject({ header: ['Point', 'Height', 'Y', 'X'], count: 2 });
    const kept = await store.take(files.path('points.csv'));
    const asked = { object: kept.sha256, name: 'points.csv', context: {} };
    const mapping = {
      name: 0,
      easting: 2,
      northing: 3,
      height: 1,
      unit: 'metre' as const,
      defaultRole: 'check' as const,
      decimalComma: false,
    };
    const { content: read } = await ask('map-marks', { ...asked, mapping }, store);
    expect(read.marks[0]).toMatchObject({ name: 'P1', eastingM: 467000.5, northingM: 6215000.25, heightM: 3.25 });
    await expect(ask('map-marks', { ...asked, mapping: { ...mapping, height: 9 } }, store)).rejects.toMatchObject({
      code: 'marks-columns',
      remedy: 'Choose one of the 4 columns.',
    });
  });

  it('of a mounting has its values; of a trajectory its path, once there is a reference line', async () => {
    const { content } = await inspected('mount.json', mountingText(deliveredMounting()));
    expect(content.more.mounting!.gnss!.lever_arm_m).toEqual(Array.from(deliveredMounting().gnssLeverArmM!));
    const without = await inspected('drive.csv', drive(), null);
    expect(without.content.kind).toBe('trajectory');
    expect(without.content.more.preview).toBeUndefined();
    const kept = await inspected('drive.csv', drive());
    const [west, south, east, north] = kept.content.more.around!.extent;
    // 60 s at 10 m/s
    expect(north - south).toBeCloseTo(600, -1);
    expect(east - west).toBeLessThan(15);
    // the same path in the next zone, 6° to the east, lies as far west of its meridian as the zone is wide
    const { sha256 } = await store.take(files.path('drive.csv'));
    const asked = { object: sha256, name: 'drive.csv', crs: 'EPSG:25833+5773' };
    const { content: moved } = await ask('preview', asked, store);
    expect(moved.previewCrs).toBe('EPSG:25833+5773');
    expect(moved.around!.extent[0]).toBeLessThan(150_000);
  });

  it('that is nothing known here is refused with its name and what could be taken in', async () => {
    await expect(inspected('notes.bin', Uint8Array.of(1, 2, 3, 4, 0, 255, 17))).rejects.toMatchObject({
      code: 'file-kind',
      file: 'notes.bin',
      remedy: expect.stringContaining('LAS'),
    });
  });
});

describe('two trajectories', () => {
  it('against each other differ by what they were moved by', async () => {
    const [a, b] = await Promise.all(
      [drive(), drive(2)].map(async (text, k) => store.take(await files.put(`t${k}.csv`, text))),
    );
    const objects: [string, string] = [b.sha256, a.sha256];
    const { content } = await ask('compare', { objects, names: ['b.csv', 'a.csv'] }, store);
    expect(content.epochs).toBe(61);
    const height = content.statistics.find((s) => /height|down/i.test(s.name))!;
    expect(Math.abs(height.mean)).toBeCloseTo(2, 4);
    expect(height.sd).toBeCloseTo(0, 4);
    expect(content.series.every((s) => s.time.length === s.min.length && s.min.length === 61)).toBe(true);
  });
});

describe('an export as text', () => {
  it('that no operation has is refused', async () => {
    const asked = { operation: 'check', file: 'nothing', name: 'x', content: {} as never, unit: 'metre' as const };
    await expect(ask('export-text', asked, store)).rejects.toMatchObject({ code: 'not-found' });
  });
});
