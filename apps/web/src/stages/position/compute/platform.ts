import { type Given } from '@longheron/contract/declare';
import { inertialDefaults, type Platform } from '@longheron/core/inertial';

const PLATFORMS: readonly string[] = ['vehicle', 'aircraft', 'boat', 'tripod'] satisfies Platform[];
const isPlatform = (name: string): name is Platform => PLATFORMS.includes(name);

/** What holds for a platform unless a person says otherwise. */
export function platformSettings(name: string): Given {
  const platform = isPlatform(name) ? name : 'vehicle';
  const { standstill, noSlip } = inertialDefaults(platform);
  return { platform, standstill, noSlip };
}
