import { type Given } from '@longheron/contract/declare';
import { OPERATIONS } from '@longheron/contract/operations';
import { FLIGHT_STRIPS, STRIP_DEFAULTS } from '@longheron/core/trajectory';

/** What carries the scanner. */
export const PLATFORMS = {
  aircraft: 'aircraft',
  vehicle: 'vehicle',
  boat: 'boat',
  tripod: 'tripod or trolley',
} as const;
export type Platform = keyof typeof PLATFORMS;

/** Settings of the cloud by platform: strips, density, and ranges that are the platform itself or too far. */
const USUAL: { readonly [P in Platform]: Given } = {
  aircraft: {
    minLengthM: FLIGHT_STRIPS.minLengthM,
    turnDegPerS: FLIGHT_STRIPS.turnDegPerS,
    targetPerM2: 8,
    minRangeM: 30,
    maxRangeM: 0,
  },
  vehicle: {
    minLengthM: STRIP_DEFAULTS.minLengthM,
    turnDegPerS: STRIP_DEFAULTS.turnDegPerS,
    targetPerM2: 100,
    minRangeM: 1.5,
    maxRangeM: 100,
  },
  boat: {
    minLengthM: STRIP_DEFAULTS.minLengthM,
    turnDegPerS: STRIP_DEFAULTS.turnDegPerS,
    targetPerM2: 20,
    minRangeM: 3,
    maxRangeM: 250,
  },
  tripod: { minLengthM: 0, turnDegPerS: 90, targetPerM2: 400, minRangeM: 0.5, maxRangeM: 80 },
};

/** Settings with those of a platform filled in, and what was filled in, in words; what is the same is not said. */
export function filledIn(platform: Platform, settings: Given): { settings: Given; said: string } {
  const schema = OPERATIONS.place.settings;
  const changed = Object.entries(USUAL[platform]).filter(([key, value]) => settings[key] !== value);
  const words = changed.map(([key, value]) => {
    const { label, unit } = schema[key as keyof typeof USUAL.aircraft & keyof typeof schema] as {
      label: string;
      unit: string;
    };
    if (key === 'maxRangeM' && value === 0) return 'range without an upper limit';
    return `${label[0].toLowerCase()}${label.slice(1)} ${String(value)} ${unit}`.trim();
  });
  return {
    settings: { ...settings, ...USUAL[platform] },
    said: words.length ? `Filled in: ${words.join(', ')}.` : 'All of it was set so already.',
  };
}
