import { describe, expect, it } from 'vitest';
import { measurementsCsv, readMeasurements } from '.';

const read = (text: string) => readMeasurements(new TextEncoder().encode(text), 'measured.csv');
const HEAD = 'from,to,kind,value_m,sd_m,note\n';

describe('measurements between marks', () => {
  it('reads what it writes', () => {
    const list = [
      { from: 'A', to: 'B', kind: 'distance' as const, valueM: 41.2063, sdM: 0.003, note: 'steel tape' },
      { from: 'A', to: 'B', kind: 'height' as const, valueM: -1.2345, sdM: 0.001, note: '' },
    ];
    expect(read(measurementsCsv(list))).toEqual(list);
  });

  it.each([
    ['A,B,slope,1,0.01', /kind is "slope": known are distance and height/],
    ['A,A,distance,1,0.01', /measured from/],
    ['A,B,distance,-1,0.01', /no distance in metres/],
    ['A,B,height,9000,0.01', /no height difference/],
    ['A,B,height,1,0', /deviations are metres above zero/],
    ['A,B,height,,0.01', /value_m is "": not a number/],
  ])('refuses %s', (line, message) => {
    expect(() => read(`${HEAD}${line}\n`)).toThrow(message);
    try {
      read(`${HEAD}A,B,height,1,0.01\n${line}\n`);
    } catch (e) {
      expect((e as { place: string }).place).toMatch(/^line 3, column /);
    }
  });

  it('names a missing column', () => {
    expect(() => read('from,to,kind,value_m\n')).toThrow(/column sd_m is missing/);
  });
});
