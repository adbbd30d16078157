import { type ReferenceSystem } from '@longheron/core/frames';
import { nearby } from '../platform';
import { type TrueScanner } from '../scans';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';
import { type TotalStationRun } from './run';

/** Set-ups from which the instrument scanned as well, and what it called the scans. */
export const RUN_SCANS = [
  { setUp: 'S3', name: 'bank_north' },
  { setUp: 'S5', name: 'bank_south' },
] as const;

/** The instrument as a scanner on these set-ups: its y axis points to the zero of its circle. */
export function runScanners(run: TotalStationRun, system: ReferenceSystem): TrueScanner[] {
  const geo = new Float64Array(3);
  return RUN_SCANS.map(({ setUp, name }) => {
    const own = run.setUps.find((s) => s.id === setUp)!;
    const { x, y, heightM } = run.points.find((p) => p.name === own.station)!;
    const zeroM = heightM + own.instrumentHeightM;
    system.unproject(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, zeroM, geo);
    return {
      name,
      x,
      y,
      heightM: zeroM,
      azimuthRad: (own.zeroDeg * Math.PI) / 180,
      tiltRad: [0, 0],
      near: nearby(system, geo[0], geo[1], geo[2]),
    };
  });
}
