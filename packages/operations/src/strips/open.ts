import { calibrationFindings, type Mounting, type ReferenceSystem } from '@longheron/core/frames';
import { type ControlMark, type HeadReturns } from '@longheron/core/laser';
import { Problem, type Notice } from '@longheron/core/shared';
import { unixFromGps } from '@longheron/core/time';
import { type Trajectory } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { LaserFile } from '@longheron/formats/laser';
import { type OpenedFile, type OpenedMarks } from '../computation/types';
import { sensorFor } from '../place';

/** Returns read at once. */
const BLOCK = 1 << 17;
/** Heights of control marks that state no deviation, 1 SD, metres. */
const UNSTATED_MARK_SD_M = 0.01;

export interface Heads {
  heads: HeadReturns[];
  /** Name of the sensor of each in the mounting. */
  sensors: string[];
  close(): void;
}

/** Opens laser files with their sensors of the mounting. @throws Problem for a head that the mounting lacks. */
export async function openHeads(
  files: readonly OpenedFile[],
  mounting: Mounting,
  trajectory: Trajectory,
  notice: (n: Notice) => void,
): Promise<Heads> {
  const opened: LaserFile[] = [];
  const heads: HeadReturns[] = [];
  const sensors: string[] = [];
  const close = () => opened.forEach((f) => f.close());
  try {
    for (const { path, name } of files) {
      const file = await LaserFile.open(path, name);
      opened.push(file);
      const { info } = file;
      const sensor = sensorFor(mounting, info.sensor, name);
      refuseOtherWeek(trajectory, file, name);
      const recorded = unixFromGps(info.week * 604800 + file.read(0, 1).sow[0]);
      for (const n of calibrationFindings(info.sensor || 'the sensor', sensor, info.serial, recorded))
        notice({ ...n, file: name });
      const key = mounting.sensors[info.sensor] ? info.sensor : Object.keys(mounting.sensors)[0];
      if (sensors.includes(key)) throw twice(key, name);
      sensors.push(key);
      heads.push({
        name: key,
        mounting: sensor,
        noise: info,
        count: info.count,
        *blocks() {
          for (const { returns } of file.blocks(BLOCK)) yield returns;
        },
      });
    }
  } catch (error) {
    close();
    throw error;
  }
  return { heads, sensors, close };
}

const twice = (key: string, file: string) =>
  new Problem(`Two files of laser returns are of the sensor "${key}".`, {
    code: 'strips-head-twice',
    file,
    place: '/laser, attribute sensor',
    remedy: 'Adjust one session at a time, or give each head its own name in its file and in the mounting.',
  });

function refuseOtherWeek(trajectory: Trajectory, { info }: LaserFile, file: string): void {
  if (info.count === 0)
    throw new Problem('The file has no returns.', {
      code: 'laser-empty',
      file,
      remedy: 'Copy the file again from its origin.',
    });
  if (Math.abs(info.week - trajectory.week) > 1)
    throw new Problem(`The returns are of GPS week ${info.week}, the trajectory of week ${trajectory.week}.`, {
      code: 'place-week',
      file,
      place: '/laser, attribute gps_week',
      remedy: 'Choose the trajectory of the same session, or correct the week.',
    });
}

/** Control marks of a list, in the system that is worked in. @throws Problem for a list in another system. */
export function controlOf(
  list: OpenedMarks | undefined,
  system: ReferenceSystem,
  notice: (n: Notice) => void,
): ControlMark[] {
  if (!list) return [];
  if (list.crs && parseSystem(list.crs).label !== system.label)
    throw new Problem(`The control marks are in ${list.crs}; the strips are placed in ${system.label}.`, {
      code: 'crs-differs',
      file: list.name,
      place: 'comment lines',
      remedy: 'Transform the list, or choose the marks of this system.',
    });
  const control = list.marks.filter((m) => m.role === 'control' && !m.leftOutReason);
  if (!control.length)
    notice({
      code: 'strips-no-control',
      severity: 'warning',
      file: list.name,
      text: 'The list has no control marks; check marks are never used for the adjustment.',
      effect: 'Heights follow the trajectory alone.',
      remedy: 'Give some marks the role "control".',
    });
  return control.map((m) => ({
    name: m.name,
    eastingM: m.eastingM,
    northingM: m.northingM,
    heightM: m.heightM,
    sdHM: m.sdHM ?? UNSTATED_MARK_SD_M,
  }));
}
