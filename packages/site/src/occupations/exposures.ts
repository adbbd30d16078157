import { DRIVE_START_SOW, GPS_WEEK, type TrueDrive } from '../drive';

/** Metres of road between exposures of the camera on the roof. */
const EVERY_M = 12;
/** The camera's clock is ahead of UTC by this; GPS time is 18 s ahead of UTC. */
const CLOCK_S = 37.4;
const LEAP_S = 18;
const GPS_UNIX = 315964800;
/** A photograph whose file was lost. */
const LOST = 9;

export interface Exposures {
  /** Times of GPS week; the first is set off when the camera is switched on. */
  eventsSow: number[];
  photos: Array<{ name: string; sow: number; takenS: number }>;
}

/** Times of GPS week at which a moving platform has gone a distance further, on its lines alone. */
export function exposureTimes(drive: TrueDrive, everyM: number, fromSow = -Infinity, toSow = Infinity): number[] {
  const sow: number[] = [];
  let along = everyM;
  for (let i = 1; i < drive.x.length; i++) {
    const t = drive.startSow + i * drive.stepS;
    if (t < fromSow || t > toSow || !drive.passes.some((p) => t >= p.startSow && t <= p.endSow)) continue;
    along += Math.hypot(drive.x[i] - drive.x[i - 1], drive.y[i] - drive.y[i - 1]);
    if (along < everyM) continue;
    along -= everyM;
    sow.push(t);
  }
  return sow;
}

/** Exposures on the road between two times: one every twelve metres, the camera's own clock cut to seconds. */
export function exposuresOf(drive: TrueDrive, fromSow: number, toSow: number): Exposures {
  const sow = exposureTimes(drive, EVERY_M, fromSow, toSow);
  const photos = sow.flatMap((t, k) =>
    k === LOST
      ? []
      : [
          {
            name: `road_${String(k + 1).padStart(4, '0')}.jpg`,
            sow: t,
            takenS: Math.floor(GPS_WEEK * 604800 + t + GPS_UNIX - LEAP_S + CLOCK_S),
          },
        ],
  );
  const powerOn = Math.max(fromSow, DRIVE_START_SOW) + 1.7;
  return { eventsSow: [Math.min(powerOn, sow[0] - 25), ...sow], photos };
}

/** Events as CSV, without labels. */
export function exposureText(eventsSow: number[]): string {
  return `gps_week,gps_sow,label\n${eventsSow.map((t) => `${GPS_WEEK},${t.toFixed(6)},\n`).join('')}`;
}

/** The list of photographs as CSV. */
export function photoText(photos: ReadonlyArray<{ name: string; takenS: number }>): string {
  const time = (s: number) => new Date(1000 * s).toISOString().slice(0, 19);
  return `name,taken\n${photos.map((p) => `${p.name},${time(p.takenS)}\n`).join('')}`;
}
