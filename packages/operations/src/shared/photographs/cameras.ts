import { rotationFromAngles, type Mounting, type SensorMounting } from '@longheron/core/frames';
import { type Matrix3 } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';

/** Picture axes in the axes of a sensor that is described as looking down or forward; undefined: they are the same. */
export function cameraAxesOf(sensor: SensorMounting | undefined): Matrix3 | undefined {
  if (!sensor?.camera) return undefined;
  const quarter = Math.PI / 2;
  return sensor.camera.looks === 'down' ? rotationFromAngles(0, 0, quarter) : rotationFromAngles(quarter, 0, quarter);
}

/**
 * The sensor of a mounting that is a camera of a list: by its name, or the only camera there is.
 * @param point what positions are of. @throws Problem when none is it.
 */
export function cameraSensorOf(
  camera: string,
  { sensors }: Mounting,
  file: string,
  point: string | undefined,
): SensorMounting {
  const named = Object.keys(sensors).filter((n) => sensors[n].camera ?? /cam/i.test(n));
  const sensor = sensors[camera] ?? (named.length === 1 ? sensors[named[0]] : undefined);
  if (sensor) return sensor;
  throw new Problem(`The mounting has no sensor "${camera}", and the positions are of ${point ?? 'no named point'}.`, {
    code: 'camera-sensor',
    file,
    place: 'comment "point"',
    remedy: 'Name the camera in the mounting as in the list of cameras, or position the events with its arm.',
  });
}
