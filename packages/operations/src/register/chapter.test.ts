import { describe, expect, it } from 'vitest';
import { type RegisterFigures } from '@longheron/contract/kinds/parts/register';
import { type ChapterTools } from '../computation/types';
import { registerChapter } from './chapter';

const scan = (name: string, number: number) => ({
  name,
  number,
  points: 1000 * number,
  x_m: 1,
  y_m: 2,
  z_m: 3,
  quaternion: [1, 0, 0, 0] as [number, number, number, number],
  bearing_deg: 10,
  tilt_deg: 0,
  sd_x_m: 0.0012,
  sd_y_m: 0.0013,
  sd_z_m: 0.0014,
  sd_rot_deg: 0.0021,
  targets: 5,
  pieces: 700,
  weakest: [1, 0, 0] as [number, number, number],
  weakest_sd_m: 0.0014,
  grid_factor: 0.999613,
  convergence_deg: 0.1,
});
const registered: RegisterFigures = {
  points: 3000,
  sigma0: 1.02,
  redundancy: 88,
  local: false,
  scans: [scan('quay', 1), scan('bank', 2)],
  pairs: [
    {
      a: 'quay',
      b: 'bank',
      rms_m: 0.0033,
      points: 6,
      pieces: 700,
      surface_rms_m: 0.0009,
      overlap: 0.23,
      agreeing: 0.91,
      weakest: [1, 0, 0],
      weakest_sd_m: 0.02,
    },
  ],
  unplaced: [
    { name: 'yard', why: 'apart', weakest: null, weakest_sd_m: null, says: 'Nothing joins yard to the other scans.' },
  ],
  unlike: [],
  surface_factor: 0.82,
  targets: [],
  residuals: [],
  rejected: [],
};
const tools = { small: { factor: 100, symbol: 'cm', digits: 1 } } as ChapterTools;

describe('the chapter on placed scans', () => {
  it('has scans, pairs and what is not placed, in the unit of the report', async () => {
    const blocks = await registerChapter({ content: { registered } } as Parameters<typeof registerChapter>[0], tools);
    const text = JSON.stringify(blocks);
    expect(text).toMatch(/Scans placed/);
    expect(text).toMatch(/2 scans, 3000 points\. Sigma nought 1\.02 with 88 observations to spare/);
    expect(text).toMatch(/factor, 0\.999613, is applied once/);
    expect(text).toMatch(/SD east, cm/);
    // 1.2 mm and 3.3 mm in centimetres
    expect(text).toMatch(/"0\.12"/);
    expect(text).toMatch(/"0\.33"/);
    expect(text).toMatch(/6 targets/);
    expect(text).toMatch(/Not placed: Nothing joins yard to the other scans\./);
  });
});
