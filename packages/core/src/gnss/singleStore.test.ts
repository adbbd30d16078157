import { describe, expect, it } from 'vitest';
import { Random } from '../numeric';
import { type Single } from './single';
import { SingleStore } from './singleStore';

/** Rows of an epoch: what stands in them is as it falls, missing phases among it. */
function rowsOf(epoch: number): Single[] {
  const random = new Random(epoch);
  const pair = (): [number, number] => [
    random.between(-1e3, 1e3),
    random.uniform() < 0.2 ? Number.NaN : random.normal(),
  ];
  return Array.from({ length: 4 + (epoch % 30) }, (_, k) => ({
    satellite: `G${String(k + 1).padStart(2, '0')}`,
    index: k,
    group: k % 2,
    sinEl: random.uniform(),
    shellDifference: random.normal(),
    wet: random.normal(),
    wetDifference: random.normal(),
    unit: [random.normal(), random.normal(), random.normal()],
    wavelengthM: [0.19, 0.24],
    codeM: pair(),
    phaseM: pair(),
    rawArc: [epoch * 2 ** 20 + 7, 3],
    arc: [2 ** 40 - epoch, 3],
    told: [random.uniform() < 0.5, random.uniform() < 0.5],
    apart: k % 3 === 0,
  }));
}

describe('rows of epochs as plain numbers', () => {
  const store = new SingleStore();
  const epochs = Array.from({ length: 3000 }, (_, k) =>
    store.add(k, 100 + k / 5, Float64Array.of(k, 2, 3), 1.5, rowsOf(k)),
  );

  it('come back as they were, in any order', () => {
    for (const k of [0, 2999, 1, 1500, 1501, 1500, 7]) {
      expect(epochs[k].rows).toEqual(rowsOf(k));
      expect([epochs[k].epoch, epochs[k].sow, epochs[k].nearM[0]]).toEqual([k, 100 + k / 5, k]);
    }
  });

  it('keep new numbers of arcs, and nothing else that is changed in them', () => {
    const { rows } = epochs[40];
    rows.forEach((r, k) => {
      r.arc = [k, 1000 + k];
      r.codeM[0] = 5;
    });
    epochs[40].renumbered!(rows);
    for (let k = 100; k < 110; k++) expect(epochs[k].rows).toHaveLength(4 + (k % 30));
    expect(epochs[40].rows).toEqual(rowsOf(40).map((r, k) => ({ ...r, arc: [k, 1000 + k] })));
  });
});
