import { describe, expect, it } from 'vitest';
import { calibrationFindings, mountingToJson, parseMounting, type SensorMounting } from '.';

const none = { roll: 0, pitch: 0, heading: 0 };
const sensor = (more: Partial<SensorMounting>): SensorMounting => ({
  leverArmM: [0, 0, 0],
  orientationDeg: none,
  boresightDeg: none,
  leverArmSdM: 0.003,
  boresightSdDeg: 0.01,
  ...more,
});
const on = (day: string) => Date.parse(`${day}T09:00:00Z`) / 1000;
const codes = (more: Partial<SensorMounting>, serial: string, day = '2026-06-16') =>
  calibrationFindings('head1', sensor(more), serial, on(day)).map((n) => `${n.severity} ${n.code}`);

describe('calibrations', () => {
  it('belong to an instrument, a day, and what was done to it since', () => {
    const known = { serial: 'DS-0412', calibratedOn: '2026-04-17', servicedOn: '2026-02-03' };
    expect(codes(known, ' ds-0412 ')).toEqual([]);
    expect(codes(known, '')).toEqual([]);
    expect(codes(known, 'DS-0413')).toEqual(['error calibration-serial']);
    expect(codes({ ...known, serial: undefined }, 'DS-0413')).toEqual(['info calibration-unnamed']);
    expect(codes({ ...known, servicedOn: '2026-05-02' }, 'DS-0412')).toEqual(['warning calibration-service']);
    // serviced only after the recording: it was not yet opened then
    expect(codes({ ...known, servicedOn: '2026-07-02' }, 'DS-0412')).toEqual([]);
    expect(codes({ ...known, calibratedOn: '2024-11-02' }, '')).toContain('warning calibration-old');
    expect(codes({}, '')).toEqual(['info calibration-undated']);
    const [old] = calibrationFindings('head1', sensor({ calibratedOn: '2025-05-17' }), '', on('2026-06-16'));
    expect(old.text).toContain('12 months before the recording of 2026-06-16');
  });

  it('keep their serial number and days in the file, and refuse what is no day', () => {
    const json = (more: object) => ({ sensors: { head1: { lever_arm_m: [0, 0, 0], ...more } } });
    const read = parseMounting(json({ serial: 412, calibrated_on: '2026-04-17', serviced_on: '2026-02-28' }));
    expect(read.sensors.head1).toMatchObject({ serial: '412', calibratedOn: '2026-04-17', servicedOn: '2026-02-28' });
    expect(parseMounting(mountingToJson(read))).toEqual(read);
    for (const wrong of ['17.4.2026', '2026-02-30', '2026-4-17'])
      expect(() => parseMounting(json({ calibrated_on: wrong }))).toThrow(/must be a day like 2026-04-17/);
  });

  it('keep a deviation for each angle and a range offset; absurd ones are refused by member', () => {
    const json = {
      sensors: {
        head: {
          lever_arm_m: [0.2, 0, 0.4],
          boresight_sd_deg: { roll: 0.002, pitch: 0.003, heading: 0.006 },
          range_offset_m: -0.012,
        },
      },
    };
    const mounting = parseMounting(json);
    expect(mounting.sensors.head).toMatchObject({
      boresightSdDeg: { roll: 0.002, pitch: 0.003, heading: 0.006 },
      rangeOffsetM: -0.012,
    });
    expect(parseMounting(JSON.parse(JSON.stringify(mountingToJson(mounting))))).toEqual(mounting);
    expect(
      mountingToJson(parseMounting({ sensors: { head: { lever_arm_m: [0, 0, 0] } } })).sensors.head,
    ).not.toHaveProperty('range_offset_m');
    const broken = (change: object) => () =>
      parseMounting({ sensors: { head: { ...json.sensors.head, ...change } } }, 'm.json');
    expect(broken({ range_offset_m: 120 })).toThrow(
      expect.objectContaining({ file: 'm.json', place: 'sensors.head.range_offset_m' }),
    );
    expect(broken({ boresight_sd_deg: { roll: -1, pitch: 0, heading: 0 } })).toThrow(/negative/);
  });
});
