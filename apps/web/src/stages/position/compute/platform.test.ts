import { expect, it } from 'vitest';
import { platformSettings } from './platform';

it('lets wheels hold on the road alone, and no boat stand still', () => {
  expect(platformSettings('vehicle')).toEqual({ platform: 'vehicle', standstill: true, noSlip: true });
  expect(platformSettings('boat')).toEqual({ platform: 'boat', standstill: false, noSlip: false });
  expect(platformSettings('tripod')).toEqual({ platform: 'tripod', standstill: true, noSlip: false });
  // what is no platform is taken for the usual one
  expect(platformSettings('sled')).toEqual(platformSettings('vehicle'));
});
