import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LasFile } from '@longheron/formats/las';
import { OnFiles } from '../test/onFiles';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

/** Points of an instrument, and where they are: turned by 30° clockwise, lengthened, moved. */
const OWN = [
  [0, 0, 0],
  [40, 0, 1],
  [0, 30, 2],
  [25, 20, 6],
  [-10, 15, 3],
] as const;
const SCALE = 1.0002;
const TURN = (30 * Math.PI) / 180;
const there = ([x, y, z]: readonly [number, number, number]) => [
  467_000 + SCALE * (Math.cos(TURN) * x + Math.sin(TURN) * y),
  6_215_000 + SCALE * (-Math.sin(TURN) * x + Math.cos(TURN) * y),
  10 + SCALE * z,
];
const pairs = OWN.slice(0, 4).map(([x, y, z], k) => ({ mark: `M${k}`, x, y, z }));
const marksText = (offM = 0) =>
  `name,role,easting_m,northing_m,height_m\n${OWN.slice(0, 4)
    .map((p, k) => `M${k},control,${there(p).map((v, axis) => (v + (k === 3 && axis === 2 ? offM : 0)).toFixed(5))}\n`)
    .join('')}`;

async function placed(settings: object, marks = marksText()) {
  const cloud = await files.cloud('own', OWN, '');
  const list = await files.put('marks.csv', marks);
  const ran = await files.run(
    'align',
    { cloud: [cloud], marks: [list] },
    { pairs, ...settings },
    { crs: 'EPSG:25832+5773', keeps: true },
  );
  const file = await LasFile.openPath(ran.path('cloud'));
  const p = await file.readAll();
  const { scale, offset } = file.header;
  const axes = [p.x, p.y, p.z];
  const points = OWN.map((_, i) => axes.map((a, k) => a[i] * scale[k] + offset[k]));
  await file.close();
  return { ...ran, points };
}

describe('a cloud placed by marks', () => {
  it('lies where turn, length and shift put it, the point that was no mark too', async () => {
    const { points, content } = await placed({ scale: 'free' });
    OWN.forEach((p, i) => there(p).forEach((v, k) => expect(points[i][k]).toBeCloseTo(v, 3)));
    expect(content.aligned!.headingDeg).toBeCloseTo(30, 3);
    expect(content.aligned!.stretch[0]).toBeCloseTo(SCALE, 6);
    // twelve coordinates, seven unknowns
    expect(content.aligned!.redundancy).toBe(5);
    expect(content.aligned!.sdM).toBeLessThan(1e-4);
    expect(content.crs).toBe('EPSG:25832+5773');
    expect(content.index).toBeDefined();
  });

  it('shows a mark that was picked wrongly by what it would be missed by', async () => {
    const { content, notices } = await placed({ scale: 'free' }, marksText(0.5));
    // the three others place it exactly: it is missed by the whole fault
    expect(content.aligned!.points[3].missM).toBeCloseTo(0.5, 3);
    expect(content.aligned!.sdM).toBeGreaterThan(0.05);
    expect(notices.map((n) => n.code)).toContain('aligned');
  });

  it('of two points that is level has nothing left to judge it by', async () => {
    const { content, notices } = await placed({ scale: 'free', level: true, pairs: pairs.slice(0, 2) });
    expect(content.aligned!.points).toHaveLength(2);
    expect(notices.map((n) => n.code)).toContain('align-few');
  });

  it('is refused with too few points, and without the mark', async () => {
    await expect(placed({ pairs: pairs.slice(0, 1) })).rejects.toThrow(/three points, or two/);
    await expect(placed({ pairs: [...pairs.slice(0, 2), { ...pairs[2], mark: 'Q' }] })).rejects.toMatchObject({
      code: 'align-mark',
      place: 'Q',
    });
  });
});
