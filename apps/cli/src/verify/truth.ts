import { parseSystem } from '@longheron/formats/crs';
import { NOISE, trueMounting, trueTrajectory, type Head, type TrueReturns } from '@longheron/site/drive';
import { siteDrive, siteReturns, SITE_DEFAULTS, TRAJECTORY_RATE_HZ } from '@longheron/site/files';
import { SITE_SYSTEM } from '@longheron/site/terrain';

/** The demo drive as it truly was, cast once for all figures. */
export const system = parseSystem(SITE_SYSTEM);
let failures = 0;

/** Prints a figure with its target, and counts those that miss it. */
export function line(what: string, value: string, target: string, good: boolean): void {
  if (!good) failures++;
  console.log(`${good ? 'ok  ' : 'MISS'}  ${what.padEnd(58)} ${value.padEnd(30)} target ${target}`);
}
export const missed = () => failures;

export const noise = { rangeSdM: NOISE.rangeM, angleSdDeg: NOISE.angleDeg };
export const drive = siteDrive();
console.log('Casting the demo drive (both heads) …');
export const options = SITE_DEFAULTS;
export const truthOf: Record<Head, TrueReturns> = {
  head1: siteReturns('head1', system, options),
  head2: siteReturns('head2', system, options),
};
export const trajectory = trueTrajectory(drive, system, TRAJECTORY_RATE_HZ);
export const mountTrue = trueMounting(options.seed);
