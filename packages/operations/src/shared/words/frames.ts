import { type ReferenceSystem } from '@longheron/core/frames';
import { type Notice } from '@longheron/core/shared';

const IS_WGS84 = /^(EPSG:)?(4979|4326)$/i;

/** Coordinates of WGS 84 among those of ETRS89 are taken as they are, and that is said. */
export function frameNotices(frame: string | undefined, system: ReferenceSystem, file: string): Notice[] {
  if (!frame || !IS_WGS84.test(frame) || !/ETRS89/.test(system.definition.horizontalName)) return [];
  return [
    {
      code: 'frame-null',
      severity: 'warning',
      file,
      text: 'WGS 84 coordinates are taken as ETRS89 without a transformation.',
      effect: 'In 2026 the two differ by about 0.9 m in Europe.',
      remedy: 'Give them in ETRS89 (EPSG:4937).',
    },
  ];
}
