import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { anglesFromRotation, DEG, LocalFrame } from '@longheron/core/frames';
import { multiply3, transpose3 } from '@longheron/core/numeric';
import { parseSystem } from '@longheron/formats/crs';
import { drawBlock, drawPanoramas, drawRoom, type TrueBlock } from '@longheron/site/blocks';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
const system = parseSystem(CRS);
const frame = new LocalFrame(system.ellipsoid, 56.08 * DEG, 8.47 * DEG, 60);
const flown = drawBlock({ seed: 31, lines: 3, ofLine: 6, points: 700 });
const room = drawRoom(5);
let b: Bench;

function write(name: string, t: TrueBlock): void {
  const picks = t.seen.map((s) => `${t.pictures[s.image].name},${t.points[s.point].name},${s.u},${s.v}\n`);
  b.write(`${name}_picks.csv`, `image,point,x_px,y_px\n${picks.join('')}`);
  const camera = { width_px: 1200, height_px: 800, focal_px: t.nominal.f };
  b.write(`${name}_cameras.json`, JSON.stringify({ cameras: { air: camera } }));
}
beforeAll(() => {
  b = bench();
  write('air', flown);
  write('room', room);
  const positions = flown.pictures.map((p, i) => {
    const [lat, lon, h] = frame.toGeodetic(...flown.places[i]);
    const a = anglesFromRotation(multiply3(transpose3(frame.fromNed(lat, lon)), flown.startAxes[i]));
    return `${p.name},${lat / DEG},${lon / DEG},${h},${a.rollRad / DEG},${a.pitchRad / DEG},${a.headingRad / DEG},0.03,0.03,0.05\n`;
  });
  const columns = 'label,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m';
  b.write('air_positions.csv', `# crs: EPSG:4937\n${columns}\n${positions.join('')}`);
  const at = new Float64Array(3);
  const marks = flown.points.flatMap((p, i) => {
    if (p.kind === 'tie') return [];
    system.project(...frame.toGeodetic(...(flown.given[i] ?? p.at)), at);
    return [`${p.name},${p.kind},${at.join(',')},0.01,0.01,0.01\n`];
  });
  b.write(
    'air_marks.csv',
    `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${marks.join('')}`,
  );
  b.write('taped.csv', 'from,to,value_m,sd_m,use\nbar a,bar b,2.4,0.0005,scale\ndoor a,door b,0.914,0.001,check\n');
});
afterAll(() => b.clear());

const OUT = ['--out', 'oriented.csv', '--points-out', 'points.csv', '--cameras-out', 'adjusted.json'];

describe('block', () => {
  it('orients, proves and writes a flown block', () => {
    const inputs = ['--picks', 'air_picks.csv', '--cameras', 'air_cameras.json', '--positions', 'air_positions.csv'];
    const r = b.run('block', ...inputs, '--marks', 'air_marks.csv', '--crs', CRS, ...OUT);
    expect(r.code).toBe(0);
    const f = r.report as unknown as { sigma0: number; check_rmse_h_m: number; images: number; rays: number };
    expect(f.images).toBe(18);
    expect(f.sigma0).toBeGreaterThan(0.93);
    expect(f.sigma0).toBeLessThan(1.07);
    expect(f.check_rmse_h_m).toBeLessThan(0.5);
    expect(b.read('oriented.csv').match(/\n/g)).toHaveLength(18 + 4);
    expect(b.read('points.csv')).toContain('C0,control,');
    const adjusted = JSON.parse(b.read('adjusted.json')) as { cameras: { air: { focal_px: number } } };
    expect(Math.abs(adjusted.cameras.air.focal_px - flown.pictures[0].lens.f)).toBeLessThan(5);
    // orientations serve as positions again, and hold what is asked to be held
    const again = b.run(
      'block',
      '--picks',
      'air_picks.csv',
      '--cameras',
      'adjusted.json',
      '--positions',
      'oriented.csv',
      '--self-calibrate',
      'none',
      '--crs',
      CRS,
      '--out',
      'again.csv',
    );
    expect(again.code).toBe(0);
    expect((again.report as unknown as { held: object[] }).held).toHaveLength(8);
  });

  it('orients set-ups without any position, as large as the bar says', () => {
    const r = b.run(
      'block',
      '--picks',
      'room_picks.csv',
      '--cameras',
      'room_cameras.json',
      '--distances',
      'taped.csv',
      ...OUT,
    );
    expect(r.code).toBe(0);
    const [bar, door] = (r.report as unknown as { distances: Array<{ found_m: number; agrees: boolean }> }).distances;
    expect(bar.found_m).toBeCloseTo(2.4, 3);
    expect(door.agrees).toBe(true);
    expect(b.read('oriented.csv')).toMatch(/^# frame: local/);
  });

  it('refuses what it does not know, and what does not fit', () => {
    const inputs = ['--picks', 'room_picks.csv', '--cameras', 'room_cameras.json'];
    const wrong = b.run('block', ...inputs, '--self-calibrate', 'luck', ...OUT);
    expect(wrong.code).toBe(2);
    expect(wrong.err).toMatch(/"luck" is no term of a camera/);
    const none = b.run('block', '--cameras', 'room_cameras.json', ...OUT);
    expect(none.code).toBe(2);
    const lost = b.run('block', ...inputs, '--positions', 'air_positions.csv', '--crs', CRS, ...OUT);
    // names of both are alike only by chance: here they are not
    expect(lost.code).toBe(2);
    expect(lost.err).toMatch(/None of the positions/);
  });

  it('takes full panoramas, and refuses sessions that are none', () => {
    const t = drawPanoramas(4);
    const picks = t.seen.map((s) => `${t.pictures[s.image].name},${t.points[s.point].name},${s.u},${s.v},${t.sdPx}\n`);
    b.write('round_picks.csv', `image,point,x_px,y_px,sd_px\n${picks.join('')}`);
    const round = { model: 'sphere', width_px: t.widthPx, height_px: t.heightPx };
    b.write('round.json', JSON.stringify({ cameras: { round } }));
    const inputs = ['--picks', 'round_picks.csv', '--cameras', 'round.json', '--distances', 'taped.csv'];
    const r = b.run('block', ...inputs, ...OUT);
    expect(r.code).toBe(0);
    const { distances } = r.report as unknown as { distances: Array<{ found_m: number; agrees: boolean }> };
    expect(distances[1].agrees).toBe(true);
    expect(Math.abs(distances[1].found_m - t.door.lengthM)).toBeLessThan(0.005);
    const none = b.run('block', ...inputs, '--sessions', '2', ...OUT);
    expect([none.code, none.err]).toEqual([2, expect.stringContaining('There is no session 2.')]);
    const odd = b.run('block', ...inputs, '--sessions', 'first', ...OUT);
    expect([odd.code, odd.err]).toEqual([2, expect.stringContaining('names no sessions')]);
  });
});

describe('match', () => {
  it('refuses heights, corners and blocks that do not serve', async () => {
    const grey = { create: { width: 40, height: 30, channels: 3 as const, background: '#777' } };
    const jpeg = new Uint8Array(await sharp(grey).jpeg().toBuffer());
    b.write('a.zip', zipSync({ 'a.jpg': jpeg, 'b.jpg': jpeg }));
    b.write('local.csv', '# frame: local\nimage,camera,x_m,y_m,z_m,qw,qx,qy,qz\n');
    b.write(
      'm.csv',
      '# crs: EPSG:4937\nimage,camera,lat_deg,lon_deg,h_ell_m,qw,qx,qy,qz\nz.jpg,air,56,8,100,1,0,0,0\n',
    );
    const files = ['--photos', 'a.zip', '--cameras', 'air_cameras.json', '--crs', CRS, '--out', 'cloud.las'];
    const says = (oriented: string, ...more: string[]) => {
      const { code, err } = b.run('match', '--oriented', oriented, ...files, ...more);
      expect(code).toBe(2);
      return err;
    };
    expect(says('m.csv', '--heights=40,-5')).toMatch(/the lower one first/);
    expect(says('m.csv', '--corners', '1,2,0,4')).toMatch(/west before east/);
    expect(says('local.csv', '--heights=-5,40')).toMatch(/frame of its own/);
    expect(says('m.csv', '--heights=-5,40')).toMatch(/0 of the photographs are oriented in this block/);
  });
});
