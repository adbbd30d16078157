import { describe, expect, it } from 'vitest';
import { usualInputs, type Holdings } from './usual';

const cloud = (id: number, name: string, crs = '') => ({ id, name, revision: { content: { crs } } });
const marks = (id: number, names: string[]) => ({
  id,
  name: `marks ${id}`,
  revision: { content: { marks: names.map((name) => ({ name })) } },
});
const list = {
  id: 20,
  name: 'targets.csv',
  revision: {
    content: {
      facts: {
        details: [
          ['Scans', 's2, s10'],
          ['Targets', 'B1, B2'],
        ],
      },
    },
  },
};
const job = { id: 30, name: 'job', revision: { content: { traverse: { set_up_list: [{ scans: ['bank'] }, {}] } } } };
const of = (h: object) =>
  usualInputs({ clouds: [], lists: [], imported: [], adjusted: [], ...h } as unknown as Holdings);
const clouds = [cloud(1, 's10.las'), cloud(2, 's2.las'), cloud(3, 'bank.las'), cloud(4, 'placed.laz', 'EPSG:25832')];

describe('what scans are placed with unless one says otherwise', () => {
  it('is what one list of targets names, with marks and stations of its names', () => {
    const imported = [marks(10, ['C1']), marks(11, ['B2']), marks(12, ['s10'])];
    expect(of({ clouds, lists: [list], imported, adjusted: [job] })).toEqual({
      scans: [2, 1],
      targets: [20],
      control: [11],
      stations: [12],
    });
  });

  it('else what one adjusted job names, which are its stations', () => {
    const found = of({ clouds, imported: [marks(12, ['s10'])], adjusted: [job] });
    expect(found).toEqual({ scans: [3], targets: [], control: [], stations: [30] });
  });

  it('else all clouds without a system', () => {
    expect(of({ clouds }).scans).toEqual([3, 2, 1]);
  });
});
