import { describe, expect, it } from 'vitest';
import { eventPositionsCsv, readEvents } from '.';

const bytes = (text: string) => new TextEncoder().encode(text);

describe('event lists', () => {
  it('are read with or without labels', () => {
    expect(readEvents(bytes('gps_week,gps_sow,label\n2423,205201.5,IMG_1.jpg\n2423,205203.25,\n'), 'e.csv')).toEqual([
      { week: 2423, sow: 205201.5, label: 'IMG_1.jpg' },
      { week: 2423, sow: 205203.25, label: '' },
    ]);
  });

  it('name the line of a wrong value', () => {
    expect(() => readEvents(bytes('gps_week,gps_sow,label\n2423,,x\n'), 'e.csv')).toThrow(
      expect.objectContaining({ place: 'line 2, column gps_sow' }),
    );
  });

  it('are written with point, frame and labels that no table takes for formulas', () => {
    const pose = {
      event: { week: 2423, sow: 205201.5, label: '=cmd' },
      reason: '' as const,
      solution: 1,
      speedMps: 3,
      latRad: Math.PI / 6,
      lonRad: 0.1,
      hEllM: 46.25,
    };
    const text = eventPositionsCsv([pose], 'camera', 'EPSG:4937', 2026.45);
    expect(text).toContain('# crs: EPSG:4937\n# epoch: 2026.45\n# point: camera\n');
    expect(text).toContain("\n'=cmd,2423,205201.500000,30.0000000000,5.7295779513,46.2500,,,,,,,,,,fixed\n");
  });
});
