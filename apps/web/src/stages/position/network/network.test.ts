import { describe, expect, it } from 'vitest';
import { type NetworkContent } from '@longheron/contract/kinds/parts/network';
import { dataset } from '../../../test/project';
import { markerOf, networkShapes, seemAtRest, TEST_LIMIT, verdict } from './network';

const ellipse = { majorM: 0.01, minorM: 0.006, azimuthRad: 0.3 };
const point = (name: string, e: number, n: number, held = false, checked = true) => ({
  name,
  held,
  checked,
  eastingM: e,
  northingM: n,
  ellipse,
});
const vector = (from: string, to: string, test = 1, solution = 'fixed') => ({
  kind: 'vector',
  from,
  to,
  lengthM: 5000,
  test,
  solution,
});
const network = (change: object = {}) =>
  ({
    points: [point('A', 0, 0, true), point('B', 3000, 4000)],
    observations: [vector('A', 'B'), { ...vector('A', 'B'), kind: 'distance', solution: undefined }],
    varianceFactor: 1.1,
    expected: [0.5, 1.7],
    ...change,
  }) as unknown as NetworkContent;

describe('what a network is good for', () => {
  it.each([
    [{}, 'residuals as their deviations allow', 'ok'],
    [{ observations: [vector('A', 'B', 1, 'float')] }, '1 of its vectors not fixed: good to decimetres there', 'warn'],
    [{ points: [point('A', 0, 0, true), point('B', 1, 1, false, false)] }, 'nothing checks B', 'warn'],
    [{ observations: [vector('A', 'B', TEST_LIMIT + 1)] }, 'one observation is 4.3 deviations off', 'warn'],
    [{ varianceFactor: 2 }, 'residuals larger than the deviations allow', 'warn'],
    [{ varianceFactor: null, expected: null }, 'residuals as their deviations allow', 'ok'],
  ])('with %j is said in a sentence', (change, words, state) => {
    expect(verdict(network(change))).toEqual({ words, state });
  });
});

describe('a network on the map', () => {
  it('draws vectors full and taped distances dashed, ellipses by a round number larger', () => {
    const { shapes, scale } = networkShapes(network());
    // a twentieth of 5 km over 1 cm is 25 000: the power of ten below
    expect(scale).toBe(10_000);
    const lines = shapes.filter((s) => s.kind === 'line');
    expect(lines.map((l) => [l.dashed, l.colour])).toEqual([
      [false, '#0e5e66'],
      [true, '#0e5e66'],
    ]);
    expect(shapes.filter((s) => s.kind === 'point').map((s) => s.label)).toEqual(['A']);
    const bad = networkShapes(network({ observations: [vector('A', 'B', 5)] })).shapes[0];
    expect(bad).toMatchObject({ colour: '#a8402e' });
  });
});

describe('recordings that stand still', () => {
  const recording = (id: number, marker: string, rateHz = 1) =>
    dataset(id, 'gnss-observations', { facts: { rateHz, details: [['Marker', ` ${marker} `]] } });

  it('are one a marker, and none of a receiver that moved', () => {
    const all = [
      recording(1, 'brn1'),
      recording(2, 'BRN1'),
      recording(3, 'veh1', 5),
      recording(4, 'VEH1', 1),
      recording(5, 'pole'),
      recording(6, ''),
    ];
    expect(markerOf(all[0])).toBe('BRN1');
    expect(seemAtRest(all, new Set([5])).map((d) => d.id)).toEqual([1]);
    expect(seemAtRest(all, new Set()).map((d) => d.id)).toEqual([1, 5]);
  });
});
