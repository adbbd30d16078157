import { describe, expect, it } from 'vitest';
import { Random } from '@longheron/core/numeric';
import { csvCell, readDecimal } from './csv';
import { findSystem, parseSystem, proposeSystem, searchSystems } from './crs';
import { guessMapping, marksCsv, marksFromTable, readMarks, readTable } from './marks';
import { readTrajectory, trajectoryCsv } from './trajectory';

const bytes = (text: string) => new TextEncoder().encode(text);
const HEAD =
  'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,vn_mps,ve_mps,vd_mps,sd_n_m,sd_e_m,sd_d_m,sd_roll_deg,sd_pitch_deg,sd_heading_deg,solution,satellites';
const row = (sow: number, lat = '56.0800000001') =>
  `2423,${sow.toFixed(6)},${lat},8.4700000000,45.1234,1.00000,-0.50000,359.99000,0.1000,8.0000,0.0000,0.0080,0.0080,0.0100,0.00400,0.00400,0.01000,fixed,17`;

describe('a decimal number in a text', () => {
  it('is read to the last bit as the language itself does, whatever its form', () => {
    const random = new Random(5);
    const forms = [
      '0',
      '-0.0',
      '+7',
      '.5',
      '5.',
      '1e3',
      '-2.5E-7',
      ' 12 ',
      '0.1',
      '9007199254740993',
      '123456789.123456789012',
    ];
    for (let i = 0; i < 3000; i++)
      forms.push((random.between(-1, 1) * 10 ** random.between(-6, 12)).toFixed(Math.floor(random.between(0, 12))));
    for (const text of forms)
      expect([text, readDecimal(`x${text}y`, 1, text.length + 1)]).toEqual([text, Number(text)]);
    for (const text of ['', ' ', '-', '.', '1.2.3', '12a', '1,5', '--1'])
      expect([text, readDecimal(text, 0, text.length)]).toEqual([text, Number.NaN]);
  });
});

describe('trajectory', () => {
  it('goes round through its text, with comments and mixed line ends', async () => {
    const text = `# crs: EPSG:4937\r\n# epoch: 2026.45\n# point: imu\n${HEAD}\r${row(1)}\n${row(1.005)}\r\n`;
    const t = await readTrajectory(bytes(text), 't.csv');
    expect(t.crs).toBe('EPSG:4937');
    expect(t.sow[1]).toBe(1.005);
    expect(t.headingRad![0]).toBeCloseTo((359.99 * Math.PI) / 180, 12);
    const again = [...trajectoryCsv(t)].join('');
    expect(again.split('\n').slice(-3, -1)).toEqual([row(1), row(1.005)]);
  });
  it('runs over the end of the week without wrapping', async () => {
    const t = await readTrajectory(bytes(`${HEAD}\n${row(604799.9)}\n${row(0.1).replace('2423', '2424')}\n`), 't.csv');
    expect(t.sow[1] - t.sow[0]).toBeCloseTo(0.2, 9);
  });
  it('names line and column of what is wrong', async () => {
    const of = (body: string) => readTrajectory(bytes(`${HEAD}\n${row(1)}\n${body}`), 't.csv');
    await expect(of(row(2, 'abc'))).rejects.toThrow(expect.objectContaining({ place: 'line 3, column lat_deg' }));
    await expect(of(row(2, '96'))).rejects.toThrow(/-90 to 90/);
    await expect(of(row(0.5))).rejects.toThrow(/does not go forward/);
    await expect(of('2423,2.0,56.08')).rejects.toThrow(/3 values/);
    await expect(of(row(2, 'NaN'))).rejects.toThrow(/not a number/);
    await expect(readTrajectory(new Uint8Array(0), 't.csv')).rejects.toThrow(/empty/);
    await expect(readTrajectory(Uint8Array.of(1, 0, 2, 3), 't.csv')).rejects.toThrow(/binary/);
    await expect(readTrajectory(bytes('a,b\n1,2\n'), 't.csv')).rejects.toThrow(/gps_week is missing/);
  });
});

describe('marks', () => {
  it('go round', () => {
    const text =
      '# crs: EPSG:25832+5773\nname,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note\nC1,control,467100.1234,6215100.5000,3.2500,0.0050,0.0050,0.0080,"by the kerb, north"\n';
    const read = readMarks(bytes(text), 'm.csv');
    expect(read.crs).toBe('EPSG:25832+5773');
    expect(marksCsv(read.marks, read.crs)).toBe(text);
  });
  it('come from foreign tables: semicolons, decimal commas, feet', () => {
    const t = readTable(bytes('Point;North;East;Elev\nA;6215100,25;467100,5;3,25\n'), 'm.csv');
    const m = marksFromTable(t, guessMapping(t)!, 'm.csv')[0];
    expect([m.eastingM, m.northingM, m.heightM]).toEqual([467100.5, 6215100.25, 3.25]);
    const feet = readMarks(
      bytes('name,role,easting_ftUS,northing_ftUS,height_ftUS\nA,check,1000000,2000000,10\n'),
      'm.csv',
    ).marks[0];
    expect(feet.eastingM).toBeCloseTo((1000000 * 1200) / 3937, 6);
  });
  it('name the line at fault', () => {
    const of = (body: string) => () => readMarks(bytes(`name,role,easting_m,northing_m,height_m\n${body}`), 'm.csv');
    expect(of('A,check,x,1,2\n')).toThrow(expect.objectContaining({ place: 'line 2' }));
    expect(of('A,check,1,1,2\nA,check,1,1,2\n')).toThrow(/same name stands on line 2/);
    // a code in place of a role is kept for the rules that give roles by it
    expect(of('A,GCP,1,1,2\n')().marks[0]).toMatchObject({ role: 'unused', code: 'GCP' });
    expect(of('A,check,1,1\n')).toThrow(/missing/);
  });
});

it('keeps text cells from being read as formulas, numbers never touched', () => {
  expect(csvCell('=1+1')).toBe("'=1+1");
  expect(csvCell('-x')).toBe("'-x");
  expect(csvCell(-1.5)).toBe('-1.5');
  expect(csvCell('a,b')).toBe('"a,b"');
});

describe('systems', () => {
  it('are found by code, name and place', () => {
    expect(searchSystems('25832')[0].code).toBe(25832);
    expect(searchSystems('ETRS89 UTM 32N', 'projected').map((s) => s.code)).toContain(25832);
    expect(proposeSystem(56.08, 8.47)?.code).toBe(25832);
    expect(proposeSystem(-33.9, 151.2)?.code).toBe(32756);
    expect(findSystem(1)).toBeUndefined();
    expect(parseSystem('EPSG:25832+5773').label).toBe('EPSG:25832+5773');
    expect(() => parseSystem('utm')).toThrow(/does not name/);
    expect(() => parseSystem('EPSG:5773')).toThrow(/not a projected/);
  });
});
