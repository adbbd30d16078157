import { describe, expect, it } from 'vitest';
import { type Observations } from '@longheron/core/gnss';
import { missingBandNotice, missingBands } from './missingBands';

/** Two minutes at 2 Hz of three satellites with two bands; `there` says which band a satellite has at a time. */
function observed(there: (satellite: string, band: number, t: number) => boolean): Observations {
  const satellites = ['G07', 'G12', 'E11'];
  const epochs = 240;
  const rows = epochs * satellites.length;
  const values = new Float64Array(rows * 4).fill(Number.NaN);
  for (let row = 0; row < rows; row++)
    for (let band = 0; band < 2; band++)
      if (there(satellites[row % 3], band, Math.floor(row / 3) / 2)) {
        values[4 * row + 2 * band] = 2.2e7;
        values[4 * row + 2 * band + 1] = 1.1e8;
      }
  return {
    marker: '',
    receiver: '',
    antenna: '',
    antennaDeltaM: [0, 0, 0],
    week: 2423,
    satellites,
    width: 4,
    values,
    types: { G: ['C1C', 'L1C', 'C2W', 'L2W'], E: ['C1X', 'L1X', 'C5X', 'L5X'] },
    sow: Float64Array.from({ length: epochs }, (_, k) => 1000 + k / 2),
    start: Uint32Array.from({ length: epochs + 1 }, (_, k) => 3 * k),
    satellite: Uint16Array.from({ length: rows }, (_, k) => k % 3),
    lost: new Uint8Array(rows * 4),
  };
}
const clock = (sow: number) => `at ${sow}`;

describe('bands that are missing', () => {
  it('are told with satellite, time and length; short pauses and bands that never were are not', () => {
    const obs = observed((satellite, band, t) => {
      if (satellite === 'G07' && band === 1) return !(t >= 20 && t < 50) && !(t >= 100 && t < 111);
      if (satellite === 'G12' && band === 1) return t < 60 || t >= 64;
      return !(satellite === 'E11' && band === 1);
    });
    expect(missingBands(obs, 0.5)).toEqual([{ satellite: 'G07', band: '2', secondsAway: 41, longestSow: 1020 }]);
    const notice = missingBandNotice(obs, 'rover', clock)!;
    expect(notice).toMatchObject({ code: 'position-band', severity: 'warning', place: 'GPS time at 1020, G07' });
    expect(notice.text).toContain('G07 L2 for 41 s, from at 1020 on');
  });

  it('are not missed while the whole satellite is away, nor in a whole session', () => {
    expect(
      missingBandNotice(
        observed((s, _b, t) => !(s === 'G07' && t > 30 && t < 70)),
        'rover',
        clock,
      ),
    ).toBeUndefined();
    expect(
      missingBandNotice(
        observed(() => true),
        'base',
        clock,
      ),
    ).toBeUndefined();
  });
});
