import { describe, expect, it } from 'vitest';
import { joinObservations, type Observations } from '.';

/** A file of some epochs of two satellites; @param types of GPS, of which each value tells epoch and column. */
function file(
  week: number,
  sow: number[],
  types: string[],
  satellites: string[],
  more: Partial<Observations> = {},
): Observations {
  const width = types.length;
  const rows = sow.length * satellites.length;
  return {
    marker: 'B',
    receiver: 'R',
    antenna: 'ANT             NONE',
    antennaDeltaM: [0.1, 0, 0],
    approximateM: [1, 2, 3],
    types: { G: types },
    week,
    sow: Float64Array.from(sow),
    satellites,
    width,
    start: Uint32Array.from({ length: sow.length + 1 }, (_, k) => k * satellites.length),
    satellite: Uint16Array.from({ length: rows }, (_, k) => k % satellites.length),
    values: Float64Array.from(
      { length: rows * width },
      (_, k) => 1000 * week + sow[Math.floor(k / width / satellites.length)] + (k % width) / 10,
    ),
    lost: new Uint8Array(rows * width),
    ...more,
  };
}

describe('following files of one receiver', () => {
  it('are one, over the end of a week, whatever their order, columns and satellites', () => {
    const late = file(2424, [0, 1], ['L1C', 'C1C'], ['G02', 'G03']);
    const early = file(2423, [604798, 604799], ['C1C'], ['G01', 'G02']);
    const o = joinObservations([late, early], ['late', 'early'], true);
    expect(o.week).toBe(2423);
    expect([...o.sow]).toEqual([604798, 604799, 604800, 604801]);
    expect(o.types.G).toEqual(['L1C', 'C1C']);
    expect(o.satellites).toEqual(['G01', 'G02', 'G03']);
    const at = (epoch: number, satellite: string, type: string) => {
      for (let r = o.start[epoch]; r < o.start[epoch + 1]; r++)
        if (o.satellites[o.satellite[r]] === satellite) return o.values[r * o.width + o.types.G!.indexOf(type)];
      return undefined;
    };
    expect(at(1, 'G02', 'C1C')).toBe(2423000 + 604799);
    expect(at(1, 'G02', 'L1C')).toBeNaN();
    expect(at(3, 'G03', 'L1C')).toBe(2424001);
    expect(at(3, 'G03', 'C1C')).toBe(2424001.1);
    expect(at(3, 'G01', 'C1C')).toBeUndefined();
  });
  it('take an epoch that both have once', () => {
    const o = joinObservations(
      [file(2423, [1, 2, 3], ['C1C'], ['G01']), file(2423, [3, 4], ['C1C'], ['G01'])],
      ['a', 'b'],
      false,
    );
    expect([...o.sow]).toEqual([1, 2, 3, 4]);
    expect([...o.start]).toEqual([0, 1, 2, 3, 4]);
  });
  it('are refused when the antenna was changed, or the base moved', () => {
    const a = file(2423, [1], ['C1C'], ['G01']);
    const join = (more: Partial<Observations>, atRest: boolean) =>
      joinObservations([a, file(2423, [9], ['C1C'], ['G01'], more)], ['a.rnx', 'b.rnx'], atRest);
    expect(() => join({ antenna: 'OTHER' }, false)).toThrow(/antennas are ANT/);
    expect(() => join({ antennaDeltaM: [0.2, 0, 0] }, true)).toThrow(/antenna heights differ/);
    expect(() => join({ approximateM: [1, 2, 9] }, true)).toThrow(/positions of their headers differ/);
    expect(join({ approximateM: [1, 2, 900] }, false).sow.length).toBe(2);
  });
});
