import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parseSystem } from '@longheron/formats/crs';
import { runXml, totalStationRun, type TotalStationRun } from '@longheron/site/totalStation';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { bench, type Bench } from './longheron';

const CRS = 'EPSG:25832+5773';
const system = parseSystem(CRS);
const run = totalStationRun(11, 'medium', system, { targetHeight: { setUp: 'S4', target: 'T4', offM: 0.1 } });
const sound = totalStationRun(12, 'medium', system);
let b: Bench;

const marksOf = (r: TotalStationRun, names: readonly string[], role = 'control') =>
  `# crs: ${CRS}\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m\n${r.points
    .filter((p) => names.includes(p.name))
    .map((p) => `${p.name},${role},${SITE_ORIGIN_E + p.x},${SITE_ORIGIN_N + p.y},${p.heightM},0.001,0.001,0.001\n`)
    .join('')}`;
beforeAll(() => {
  b = bench();
  b.write('run.xml', runXml(run, { files: [{ code: 'scan', setUp: 'S4', location: 'scans/s4.e57' }] }));
  b.write('gon.xml', runXml(sound, { unit: 'grads' }));
  b.write('dms.xml', runXml(sound, { unit: 'decimal dd.mm.ss' }));
  b.write('lost.xml', runXml(sound).replace(/ angularUnit="[^"]*" directionUnit="[^"]*"/, ''));
  b.write('feet.xml', runXml(sound, { metresPer: 0.3048 }));
  b.write('foot.xml', runXml(sound, { metresPer: 0.3048, linear: 'foot' }));
  b.write('marks.csv', marksOf(run, ['C5', 'C6', 'C7']));
  b.write('checks.csv', marksOf(run, ['K13', 'C6'], 'check'));
  b.write('elsewhere.csv', marksOf(run, ['K13']).replace('K13', 'Z1'));
});
afterAll(() => b.clear());

interface Figures {
  sigma0: number;
  chi2_ok: boolean;
  closures: Array<{ kind: string; dh_m: number; stations: string[] }>;
  points: Array<{ name: string; kind: string; easting_m: number; height_m: number }>;
  rejected: Array<{ what: string; set_up: string; target: string; off_m: number }>;
}
const traverse = (job: string, ...more: string[]) =>
  b.run('traverse', '--job', job, '--marks', 'marks.csv', '--crs', CRS, '--out', 'points.csv', ...more);

describe('traverse', () => {
  it('finds the points and names the height that is wrong', () => {
    const r = traverse('run.xml', '--angle-sd-deg', '0.0006', '--distance-sd-m', '0.0015');
    expect(r.code).toBe(0);
    const f = r.report as unknown as Figures;
    expect(f.chi2_ok).toBe(true);
    expect(f.rejected).toHaveLength(1);
    expect(f.rejected[0]).toMatchObject({ what: 'target height', set_up: 'S4', target: 'T4' });
    expect(Math.abs(f.rejected[0].off_m - 0.1)).toBeLessThan(0.01);
    expect(f.closures).toHaveLength(1);
    expect(f.closures[0].kind).toBe('closed');
    expect(f.closures[0].dh_m).toBeCloseTo(-0.05, 2);
    for (const p of f.points) {
      const truth = run.points.find((t) => t.name === p.name)!;
      expect(Math.abs(p.easting_m - SITE_ORIGIN_E - truth.x)).toBeLessThan(0.03);
      expect(Math.abs(p.height_m - truth.heightM)).toBeLessThan(0.01);
    }
    expect(r.err).toMatch(/target height over T4 from S4 \(T3\) is (9|10)\d mm too large/);
    // what the job names and does not have beside it
    expect(r.err).toMatch(/not beside it: scans\/s4\.e57/);
    const [, header, first] = b.read('points.csv').split('\n');
    expect(header).toBe('name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note,redundancy,kind');
    expect(first).toMatch(/^C6,control,467118\.\d{4},62154(31|32)\.\d{4},/);
  });

  it('reads gon, degrees and minutes, and feet alike', () => {
    const east = (job: string) => {
      const r = traverse(job);
      expect(r.code).toBe(0);
      return (r.report as unknown as Figures).points.find((p) => p.name === 'T4')!.easting_m;
    };
    const one = east('gon.xml');
    expect(Math.abs(east('dms.xml') - one)).toBeLessThan(1e-3);
    expect(Math.abs(east('foot.xml') - one)).toBeLessThan(1e-3);
  });

  it('takes the unit of angles where the file does not say it, and not over it', () => {
    const refused = traverse('lost.xml');
    expect(refused.code).toBe(2);
    expect(refused.err).toMatch(/does not say in which unit its angles are.*--angular-unit/);
    expect(traverse('lost.xml', '--angular-unit', 'degrees').code).toBe(0);
    const wrong = traverse('lost.xml', '--angular-unit', 'grads');
    expect(wrong.code).toBe(2);
    expect(wrong.err).toMatch(/miss a full turn.*look like decimal degrees/);
  });

  it('refuses feet that are said to be metres', () => {
    const r = traverse('feet.xml');
    expect(r.code).toBe(2);
    expect(r.err).toMatch(/Units: Distances are said to be in metres.*look like feet/);
  });

  it('says what holds nothing', () => {
    const of = (marks: string) =>
      b.run('traverse', '--job', 'gon.xml', '--marks', marks, '--crs', CRS, '--out', 'o.csv');
    expect(of('checks.csv').code).toBe(2);
    expect(of('checks.csv').err).toMatch(/None of the marks that the job names is control: C6, K13/);
    expect(of('elsewhere.csv').err).toMatch(/names none of the known marks/);
  });

  it('adjusts what was levelled and taped with it, and names a level that contradicts', () => {
    const of = (name: string) => sound.points.find((p) => p.name === name)!;
    const rise = (from: string, to: string, offM = 0) => of(to).heightM - of(from).heightM + offM;
    const taped = (from: string, to: string) =>
      Math.hypot(of(to).x - of(from).x, of(to).y - of(from).y, of(to).heightM - of(from).heightM);
    const list = (offM: number) =>
      `from,to,kind,value_m,sd_m\nC6,T1,height,${rise('C6', 'T1').toFixed(5)},0.0005\nT1,T2,height,${rise('T1', 'T2').toFixed(5)},0.0005\nT2,T3,height,${rise('T2', 'T3', offM).toFixed(5)},0.0005\nT1,T2,distance,${(taped('T1', 'T2') * 1.0004).toFixed(5)},0.05\n`;
    b.write('sound.xml', runXml(sound));
    b.write('measured.csv', list(0));
    b.write('wrong.csv', list(0.08));
    b.write('sound_marks.csv', marksOf(sound, ['C5', 'C6', 'C7']));
    const run2 = (...more: string[]) =>
      b.run('traverse', '--job', 'sound.xml', '--marks', 'sound_marks.csv', '--crs', CRS, '--out', 'm.csv', ...more);
    interface Adjusted {
      points: Array<{ name: string; height_m: number; sd_h_m: number }>;
      rejected: Array<{ what: string; station: string | null; target: string | null; off_m: number }>;
    }
    const alone = run2().report as unknown as Adjusted;
    const both = run2('--measured', 'measured.csv').report as unknown as Adjusted;
    const point = (f: Adjusted, name: string) => f.points.find((p) => p.name === name)!;
    // levels to half a millimetre make heights surer, and right
    for (const name of ['T1', 'T2', 'T3']) {
      expect(point(both, name).sd_h_m).toBeLessThan(point(alone, name).sd_h_m);
      expect(Math.abs(point(both, name).height_m - of(name).heightM)).toBeLessThan(
        3 * point(both, name).sd_h_m + 0.001,
      );
    }
    expect(both.rejected).toEqual([]);
    const { rejected } = run2('--measured', 'wrong.csv').report as unknown as Adjusted;
    expect(rejected).toHaveLength(1);
    expect(rejected[0]).toMatchObject({ what: 'levelled', station: 'T2', target: 'T3' });
    expect(Math.abs(rejected[0].off_m - 0.08)).toBeLessThan(0.01);
  });

  it('holds control as it is given when it is asked to', () => {
    const r = traverse('gon.xml', '--fix-control');
    expect(r.code).toBe(0);
    expect(b.read('points.csv')).toMatch(/\nC7,control,\d+\.\d+,\d+\.\d+,\d+\.\d+,0\.0001/);
  });
});
