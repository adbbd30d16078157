import { type Notice } from '../shared/problem';
import { type SensorMounting } from './mounting';

const DAY_S = 86400;
/** Calibrations are looked at again after this long, days. */
const LASTS_DAYS = 365;

const dayOf = (unixS: number) => new Date(unixS * 1000).toISOString().slice(0, 10);
const unixOf = (isoDay: string) => Date.parse(`${isoDay}T00:00:00Z`) / 1000;

/**
 * What speaks against using a sensor's calibration with a recording: another serial number, none or an old calibration,
 * or one from before the instrument was last opened.
 * @param serial of the recording; empty when it does not say. @param recordedUnixS when it was recorded.
 */
export function calibrationFindings(
  name: string,
  sensor: SensorMounting,
  serial: string,
  recordedUnixS: number,
): Notice[] {
  const out: Notice[] = [];
  const { serial: known = '', calibratedOn, servicedOn } = sensor;
  const same = (a: string, b: string) => a.trim().toUpperCase() === b.trim().toUpperCase();
  if (serial && known && !same(serial, known))
    out.push({
      code: 'calibration-serial',
      severity: 'error',
      text: `The recording is of ${name} with serial number ${serial}; the mounting was calibrated for ${known}.`,
      effect: 'Lever arm and boresight are those of another instrument: points may be off by decimetres.',
      remedy: 'Choose the mounting of this instrument, or correct the serial number in it.',
    });
  else if (serial && !known)
    out.push({
      code: 'calibration-unnamed',
      severity: 'info',
      text: `The mounting does not say for which instrument ${name} was calibrated; the recording is of ${serial}.`,
      remedy: 'Write the serial number into the mounting.',
    });
  if (!calibratedOn) {
    out.push({
      code: 'calibration-undated',
      severity: 'info',
      text: `The mounting does not say when ${name} was calibrated.`,
      remedy: 'Write the date into the mounting.',
    });
    return out;
  }
  if (servicedOn && servicedOn > calibratedOn && unixOf(servicedOn) <= recordedUnixS)
    out.push({
      code: 'calibration-service',
      severity: 'warning',
      text: `${name} was serviced on ${servicedOn}, after its calibration of ${calibratedOn}.`,
      effect: 'What was opened or moved since is not in the calibration.',
      remedy: 'Calibrate again, and check the cloud on two passes of one street.',
    });
  const days = (recordedUnixS - unixOf(calibratedOn)) / DAY_S;
  if (days > LASTS_DAYS)
    out.push({
      code: 'calibration-old',
      severity: 'warning',
      text: `The calibration of ${name} is of ${calibratedOn}, ${Math.floor(days / 30.44)} months before the recording of ${dayOf(recordedUnixS)}.`,
      remedy: 'Calibrate again, or check it on two passes of one street.',
    });
  return out;
}
