import { type Mounting, type SensorMounting } from '@longheron/core/frames';
import { Problem, type Notice } from '@longheron/core/shared';
import { type Vessel } from '@longheron/core/sonar';

/** Of a latency that states no deviation, seconds. */
const LATENCY_SD_S = 0.002;
/** Of a waterline that states none, metres. */
export const WATERLINE_SD_M = 0.02;

/** The sonar of a mounting. @throws Problem when there is none, or no telling which. */
export function sonarOf(mounting: Mounting, file: string, name = 'sonar'): SensorMounting {
  const names = Object.keys(mounting.sensors);
  const found = mounting.sensors[name] ?? (names.length === 1 ? mounting.sensors[names[0]] : undefined);
  if (found) return found;
  throw new Problem(`The mounting has no sensor "${name}"; it has ${names.join(', ') || 'none'}.`, {
    code: 'mounting-sensor',
    file,
    place: 'sensors',
    remedy: `Add the sonar under the name "${name}", or choose the mounting of the vessel.`,
  });
}

/** The vessel as its mounting describes it; what the mounting leaves open is said. */
export function vesselOf(mounting: Mounting, file: string, notice: (n: Notice) => void): Vessel {
  const sensor = sonarOf(mounting, file);
  if (mounting.waterlineM === undefined)
    notice({
      code: 'waterline',
      severity: 'warning',
      file,
      text: 'The mounting does not say where the waterline lies.',
      effect:
        'It is taken at the reference point: rays begin at a wrong depth in the water, and heights without a trajectory are relative.',
      remedy:
        'Measure how far the waterline lies below the reference point, and enter it in the mounting as waterline_m.',
    });
  if (sensor.latencyS === undefined)
    notice({
      code: 'latency',
      severity: 'info',
      file,
      text: 'The mounting gives the sonar no latency: 0 s was used.',
      remedy: 'Test the mounting with lines run at two speeds.',
    });
  return {
    sensor,
    latencyS: sensor.latencyS ?? 0,
    latencySdS: sensor.latencySdS ?? LATENCY_SD_S,
    waterlineM: mounting.waterlineM ?? 0,
  };
}
