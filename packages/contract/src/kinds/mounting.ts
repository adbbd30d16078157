import { parseMounting, type MountingJson } from '@longheron/core/frames';
import { kind, rawExport, type FileContent } from '../declare/kind';
import { SENSOR_ROLE } from '../operations/events';

export interface Content extends FileContent {
  mounting: MountingJson;
}

/** A trajectory looks at the antenna and the wheels only, positions of events at one sensor: the rest changes nothing in them. */
function comparedBy(role: string, { mounting }: Content): unknown {
  if (role === 'antenna') {
    const { gnssLeverArmM, gnssLeverArmSdM, vehicle } = parseMounting(mounting);
    return [gnssLeverArmM, gnssLeverArmSdM, vehicle];
  }
  if (role.startsWith(SENSOR_ROLE)) return parseMounting(mounting).sensors[role.slice(SENSOR_ROLE.length)] ?? null;
  return undefined;
}

export default kind<Content>({ name: 'Mounting', counts: 'sensors', exports: rawExport, comparedBy });
