import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { drawRoom, drawRoomPicture, roomCamera } from '../blocks';
import { JOURNEY_FILES } from './names';
import { type SiteWriters } from './writers';

const ROOM_SEED = 41;
const FOOT_M = 0.3048;
/** When the chamber was photographed, by the hand camera’s clock, and how long from one set-up to the next, seconds. */
const CHAMBER_TAKEN_S = Date.UTC(2026, 5, 16, 13, 40, 5) / 1000;
const CHAMBER_STEP_S = 48;

/** The set-ups of the chamber: photographs, picks, the hand camera as its maker states it, taped distances. */
export async function makeChamberFiles(folder: string, writers: SiteWriters): Promise<void> {
  const put = (name: string, text: string) => writeFile(join(folder, name), text);
  const f = JOURNEY_FILES;
  const room = drawRoom(ROOM_SEED);
  await put(
    f.chamberPicks,
    `image,point,x_px,y_px,sd_px\n${room.seen.map((s) => `${room.pictures[s.image].name},${room.points[s.point].name},${s.u.toFixed(2)},${s.v.toFixed(2)},0.3\n`).join('')}`,
  );
  await put(
    f.chamberCameras,
    `${JSON.stringify({ cameras: { 'hand camera': { body_serial: 'H-204', width_px: room.widthPx, height_px: room.heightPx, focal_px: room.nominal.f, cx_px: room.nominal.cx, cy_px: room.nominal.cy, sd: { focal_px: 18, cx_px: 6, cy_px: 6, k1: 0.05, k2: 0.03, k3: 0.01, p1: 0.0006, p2: 0.0006 }, from: 'nominal' } } }, null, 2)}\n`,
  );
  const photographs: { [name: string]: Uint8Array } = {};
  for (const [k, { name }] of room.pictures.entries())
    photographs[name] = await writers.photo(
      drawRoomPicture(room, k),
      roomCamera(room),
      CHAMBER_TAKEN_S + CHAMBER_STEP_S * k,
    );
  await writeFile(join(folder, f.chamberPhotos), writers.archive(photographs));
  const { bar, door } = room;
  const taped = (door.lengthM / FOOT_M).toFixed(3);
  await put(
    f.chamberDistances,
    `from,to,value_m,value_ft,sd_m,use\n${bar.from},${bar.to},${bar.lengthM.toFixed(3)},,0.0005,scale\n${door.from},${door.to},,${taped},0.003,check\n`,
  );
}
