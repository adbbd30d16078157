import { describe, expect, it } from 'vitest';
import { adjustNetwork, type NetworkObservation, type NetworkPoint } from '.';

// drawn and adjusted independently with numpy: derivatives by differences, geodetic places by an iteration of its own
const SETS: Array<['direction' | 'zenith' | 'distance', string, string, string, number, number, number]> = [
  ['direction', 's1', 'A', 'B', 1.512, 1.55, 6.127328064],
  ['zenith', 's1', 'A', 'B', 1.512, 1.55, 1.551515548],
  ['distance', 's1', 'A', 'B', 1.512, 1.55, 313.305828],
  ['direction', 's1', 'A', 'C', 1.512, 1.42, 0.707480082],
  ['zenith', 's1', 'A', 'C', 1.512, 1.42, 1.584569703],
  ['distance', 's1', 'A', 'C', 1.512, 1.42, 224.742383],
  ['direction', 's1', 'A', 'D', 1.512, 1.6, 1.592539814],
  ['zenith', 's1', 'A', 'D', 1.512, 1.6, 1.526999536],
  ['distance', 's1', 'A', 'D', 1.512, 1.6, 253.225389],
  ['direction', 's2', 'C', 'A', 1.604, 1.3, 2.049122651],
  ['zenith', 's2', 'C', 'A', 1.604, 1.3, 1.558816707],
  ['distance', 's2', 'C', 'A', 1.604, 1.3, 224.736861],
  ['direction', 's2', 'C', 'B', 1.604, 1.55, 3.531339083],
  ['zenith', 's2', 'C', 'B', 1.604, 1.55, 1.533369338],
  ['distance', 's2', 'C', 'B', 1.604, 1.55, 239.172379],
  ['direction', 's2', 'C', 'D', 1.604, 1.6, 0.796653379],
  ['zenith', 's2', 'C', 'D', 1.604, 1.6, 1.503003769],
  ['distance', 's2', 'C', 'D', 1.604, 1.6, 206.630617],
  ['direction', 's3', 'D', 'A', 1.477, 1.3, 0.451003232],
  ['zenith', 's3', 'D', 'A', 1.477, 1.3, 1.614994965],
  ['distance', 's3', 'D', 'A', 1.477, 1.3, 253.229111],
  ['direction', 's3', 'D', 'C', 1.477, 1.42, 1.455061762],
  ['zenith', 's3', 'D', 'C', 1.477, 1.42, 1.638903049],
  ['distance', 's3', 'D', 'C', 1.477, 1.42, 206.632528],
  ['direction', 's3', 'D', 'B', 1.477, 1.55, 1.236399053],
  ['zenith', 's3', 'D', 'B', 1.477, 1.55, 1.582137511],
  ['distance', 's3', 'D', 'B', 1.477, 1.55, 436.059789],
];
const [SD_RAD, SD_M, PLACE_M] = [1.2e-5, 0.0015, 0.001];
const REST: NetworkObservation[] = [
  {
    kind: 'vector',
    from: 'A',
    to: 'D',
    deltaM: [36.38268, 248.06803, -35.51713],
    covariance: [1.6e-5, 0, 0, 0, 1.6e-5, 0, 0, 0, 1.6e-5],
  },
  { kind: 'height', from: 'C', to: 'D', valueM: 14.00094, sdM: 0.001 },
  { kind: 'distance', from: 'C', to: 'D', valueM: 206.63033, sdM: 0.002 },
];
const POINTS: NetworkPoint[] = [
  { name: 'A', heldM: [3528572.23316, 525459.97635, 5269459.52739], heldSdM: [0.002, 0.003, 0.004] },
  { name: 'B', heldM: [3528314.48161, 525467.08828, 5269637.49865], heldSdM: [0.002, 0.003, 0.004] },
  { name: 'C', aboutM: [3528444.106, 525632.961, 5269524.102] },
  { name: 'D', aboutM: [3528608.654, 525707.983, 5269424.016] },
];
const observations = (change: (at: number) => number = () => 0): NetworkObservation[] => [
  ...SETS.map(([kind, setUp, from, to, fromHeightM, toHeightM, value], k): NetworkObservation => {
    const sight = { setUp, fromHeightM, toHeightM };
    return kind === 'distance'
      ? { kind, from, to, sight, valueM: value + change(k), sdM: SD_M }
      : { kind, from, to, sight, valueRad: value + change(k), sdRad: SD_RAD };
  }),
  ...REST,
];
const setUpSd = { planM: PLACE_M, heightM: PLACE_M };

describe('directions, zenith angles and distances with a vector, a level and a tape', () => {
  const adjusted = adjustNetwork(POINTS, observations(), { setUpSd, refraction: 0.13 });

  it('have the places and deviations of the independent solution', () => {
    expect(adjusted.freedom).toBe(23);
    expect(adjusted.varianceFactor).toBeCloseTo(0.5517416, 6);
    const truth = [
      [3528572.233338, 525459.976329, 5269459.528862, 0.00154975, 0.00270291, 0.00303177],
      [3528314.481432, 525467.088301, 5269637.497178, 0.00154975, 0.00270291, 0.00303177],
      [3528444.09976, 525632.989378, 5269524.001717, 0.00244166, 0.00246204, 0.00318193],
      [3528608.615478, 525708.041302, 5269424.013131, 0.00277997, 0.00337962, 0.00319209],
    ];
    adjusted.points.forEach((p, i) => {
      for (let k = 0; k < 3; k++) {
        expect(Math.abs(p.xyzM[k] - truth[i][k])).toBeLessThan(1e-6);
        expect(p.sdM[k] / truth[i][3 + k]).toBeCloseTo(1, 4);
      }
    });
    expect(adjusted.zeros.get('s1')!.bearingRad).toBeCloseTo(0.3000047250355874, 9);
    expect(adjusted.zeros.get('s3')!.bearingRad).toBeCloseTo(2 * Math.PI - 1.6999938038002689, 9);
  });

  it('explain an error that several of them share by its size', () => {
    // the target over B was 40 mm higher than stated, for the third set-up
    const [zenith, distance] = [25, 26];
    const z = SETS[zenith][6];
    const slope = SETS[distance][6];
    const by = (k: number) => (k === zenith ? (-0.04 * Math.sin(z)) / slope : k === distance ? 0.04 * Math.cos(z) : 0);
    const bad = adjustNetwork(POINTS, observations(by), { setUpSd });
    const found = bad.explained([
      [
        [zenith, -Math.sin(z) / slope],
        [distance, Math.cos(z)],
      ],
    ])!;
    expect(Math.abs(found.sizes[0] - 0.04)).toBeLessThan(3 * found.sdOfSizes[0]);
    expect(found.sdOfSizes[0]).toBeLessThan(0.008);
    // and what it explains is what the sum of squares falls by without it
    const without = observations().filter((_, k) => k !== zenith);
    const clean = adjustNetwork(POINTS, without, { setUpSd });
    const alone = adjustNetwork(
      POINTS,
      observations((k) => (k === zenith ? by(zenith) : 0)),
      { setUpSd },
    );
    const one = alone.explained([[[zenith, 1]]])!;
    expect(one.square).toBeCloseTo(alone.varianceFactor * alone.freedom - clean.varianceFactor * clean.freedom, 3);
  });
});
