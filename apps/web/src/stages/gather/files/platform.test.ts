import { describe, expect, it } from 'vitest';
import { parseMounting } from '@longheron/core/frames';
import { flatten, frameOf, platformDistances, platformPoints } from './platform';

const mounting = parseMounting({
  gnss: { lever_arm_m: [0, 0, -1.2] },
  sensors: {
    ahead: { lever_arm_m: [0.8, 0, 0] },
    side: { lever_arm_m: [0, 0.6, 0], orientation_deg: { roll: 0, pitch: 0, heading: 90 } },
  },
});

describe('the drawing of a platform', () => {
  it('shows points and axes in the body frame, and what a tape would measure', () => {
    const points = platformPoints(mounting);
    expect(points.map((p) => p.name)).toEqual(['reference point', 'GNSS antenna', 'ahead', 'side']);
    expect(points[2].axis!.map((v) => Math.round(v))).toEqual([1, 0, 0]);
    // turned by 90° of heading its x axis points right
    expect(points[3].axis!.map((v) => Math.round(v))).toEqual([0, 1, 0]);
    const between = platformDistances(points);
    expect(between).toHaveLength(6);
    expect(between.find((d) => d.from === 'ahead' && d.to === 'side')!.distanceM).toBeCloseTo(1, 12);
    expect(flatten([1, 2, 3], 'side')).toEqual([1, 3]);
    expect(flatten([1, 2, 3], 'above')).toEqual([1, 2]);
    expect(frameOf(points, 'side')).toEqual({ middle: [0.4, -0.6], halfM: 0.6 });
  });
});
