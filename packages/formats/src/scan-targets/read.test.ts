import { describe, expect, it } from 'vitest';
import { readScanTargets } from '.';

const HEAD = 'scan,target,x_m,y_m,z_m,sd_m,kind\n';
const read = (text: string) => readScanTargets(new TextEncoder().encode(text), 'targets.csv');

describe('targets seen in scans', () => {
  it('are read with their kind, a sphere where none is said', () => {
    expect(read(`${HEAD}s1,A,1.5,-2.25,0.125,0.002,disc\ns1,B,0,1,2,0.001,\n`)).toEqual([
      { scan: 's1', target: 'A', atM: [1.5, -2.25, 0.125], sdM: 0.002, kind: 'disc' },
      { scan: 's1', target: 'B', atM: [0, 1, 2], sdM: 0.001, kind: 'sphere' },
    ]);
  });

  it.each([
    ['s1,A,1,2,3,0.01,sphere\ns1,A,1,2,3,0.01,sphere', /line 3, column target/, 's1 has it already'],
    [',A,1,2,3,0.01,', /column scan/, 'seen in a scan'],
    ['s1,,1,2,3,0.01,', /column target/, 'needs a name'],
    ['s1,A,467000,2,3,0.01,', /column x_m/, 'no place in metres about a scanner'],
    ['s1,A,1,,3,0.01,', /column y_m/, 'no place'],
    ['s1,A,1,2,3,0,', /column sd_m/, 'above zero'],
    ['s1,A,1,2,3,0.01,cone', /column kind/, 'known are sphere'],
  ])('are refused with line and column: %s', (line, place, message) => {
    try {
      read(`${HEAD}${line}\n`);
      expect.unreachable();
    } catch (error) {
      expect(error).toMatchObject({ file: 'targets.csv', place: expect.stringMatching(place) as string });
      expect((error as Error).message).toContain(message);
    }
  });

  it('say which column is missing', () => {
    expect(() => read('scan,target,x_m,y_m,z_m\n')).toThrow(/column sd_m is missing/);
  });
});
