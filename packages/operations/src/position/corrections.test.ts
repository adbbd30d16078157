import { describe, expect, it } from 'vitest';
import { type Antenna, type Observations } from '@longheron/core/gnss';
import { ReportBuilder } from '../shared/report';
import { correctionsOf } from './corrections';

const antenna = (type: string): Antenna => ({
  type,
  serial: '',
  zenithFromDeg: 0,
  zenithStepDeg: 5,
  azimuthStepDeg: 0,
  centres: new Map(),
  fromGps: -Infinity,
  toGps: Infinity,
});
const known = [antenna('ANT ONE         NONE'), antenna('ANT TWO         NONE')];
const receiver = (name: string) => ({ antenna: name, week: 2423, sow: Float64Array.of(205000) }) as Observations;

function run(rover: string, base: string, baselineM = 500, list = known) {
  const builder = new ReportBuilder('position', {});
  const made = correctionsOf(receiver(rover), receiver(base), list, baselineM, builder);
  return { ...made, notices: builder.finish('', {}).notices };
}

describe('what receivers are corrected for', () => {
  it('both antennas when both are known: by azimuth at the base, for all azimuths at the rover', () => {
    const { rover, base, notices } = run('ANT ONE', 'ANT TWO         NONE');
    expect([rover.antenna!.type, rover.pointsNorth]).toEqual(['ANT ONE         NONE', undefined]);
    expect([base.antenna!.type, base.pointsNorth]).toEqual(['ANT TWO         NONE', true]);
    expect(notices).toEqual([]);
    expect(rover.tide).toBeUndefined();
  });
  it('neither when one is unknown, which is named with what it costs', () => {
    const { rover, base, notices } = run('ANT ONE', 'SOMETHING ELSE');
    expect([rover.antenna, base.antenna]).toEqual([undefined, undefined]);
    expect(notices[0]).toMatchObject({ code: 'position-antenna', severity: 'warning' });
    expect(notices[0].text).toContain('SOMETHING ELSE at the base');
    expect(notices[0].text).toContain('without phase centres at either end');
  });
  it('alike antennas without calibration are no reason to warn', () => {
    expect(run('ANT X', 'ANT X', 500, []).notices[0].severity).toBe('info');
    expect(run('', '', 500, []).notices[0].severity).toBe('warning');
  });
  it('says what stands in for a radome, and takes the tide out over long distances', () => {
    const { notices, rover, base } = run('ANT ONE         DOME', 'ANT TWO', 30_000);
    expect(notices[0]).toMatchObject({ code: 'position-radome', severity: 'warning' });
    // 2026: GPS time is 18 s ahead of UTC
    expect([rover.tide, base.tide]).toEqual([{ utcOffsetS: 18 }, { utcOffsetS: 18 }]);
  });
});
