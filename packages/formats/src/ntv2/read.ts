import { type ShiftGrid, type ShiftPart } from '@longheron/core/frames';
import { isTiff } from '../tiff/place';
import { readTiffShifts } from '../tiff/shifts';
import { Problem } from '@longheron/core/shared';

const RECORD_BYTES = 16;
const HEAD_RECORDS = 11;
const MAX_PARTS = 2000;
const SECONDS_PER: Record<string, number> = { SECONDS: 1, MINUTES: 60, DEGREES: 3600 };
/** Shifts between datums are no larger, arc seconds. */
const MAX_SHIFT_SEC = 600;

export const isNtv2 = (head: Uint8Array) => new TextDecoder('latin1').decode(head.subarray(0, 8)) === 'NUM_OREC';

/** Reads a grid of datum shifts, NTv2 or GeoTIFF. @throws Problem naming the place and what is wrong there. */
export const readShifts = (bytes: Uint8Array, file: string): ShiftGrid =>
  isTiff(bytes) ? readTiffShifts(bytes, file) : readNtv2(bytes, file);

/**
 * Reads a grid of datum shifts (NTv2, Geodetic Survey Division 1995), in either order of bytes. Its rows run from the
 * south, in each row from east to west, longitudes positive to the west: turned here to run and count eastwards.
 * @throws Problem naming the byte and what is wrong there.
 */
export function readNtv2(bytes: Uint8Array, file: string): ShiftGrid {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const refuse = (text: string, at: number, remedy = 'Ask for the grid again, as NTv2 (.gsb).') =>
    new Problem(text, { code: 'ntv2', file, place: `byte ${at}`, remedy });
  if (!isNtv2(bytes)) throw refuse('The file does not begin as an NTv2 grid does.', 0);
  if (bytes.length < HEAD_RECORDS * RECORD_BYTES) throw refuse('The file ends within its head.', bytes.length);
  const little = view.getInt32(8, true) === HEAD_RECORDS;
  if (!little && view.getInt32(8, false) !== HEAD_RECORDS)
    throw refuse('The number of records in its head makes no sense in either order of bytes.', 8);
  // filled up with blanks, or with nothing
  const text = (at: number) =>
    new TextDecoder('latin1')
      .decode(bytes.subarray(at, at + 8))
      .replaceAll('\0', ' ')
      .trim();
  const word = (record: number, base = 0) => text(base + record * RECORD_BYTES + 8);
  const count = view.getInt32(2 * RECORD_BYTES + 8, little);
  if (!(count >= 1 && count <= MAX_PARTS)) throw refuse(`It declares ${count} grids.`, 2 * RECORD_BYTES + 8);
  const unit = SECONDS_PER[word(3)];
  if (!unit) throw refuse(`Its values are in "${word(3)}".`, 3 * RECORD_BYTES + 8);
  const parts: ShiftPart[] = [];
  let at = HEAD_RECORDS * RECORD_BYTES;
  for (let k = 0; k < count; k++) {
    if (at + HEAD_RECORDS * RECORD_BYTES > bytes.length || text(at) !== 'SUB_NAME')
      throw refuse(`Grid ${k + 1} of ${count} does not begin here: the file was cut off or damaged.`, at);
    const base = at;
    const number = (record: number) => view.getFloat64(base + record * RECORD_BYTES + 8, little) * unit;
    const [south, north, east, west, stepLat, stepLon] = [4, 5, 6, 7, 8, 9].map(number);
    const nodes = view.getInt32(base + 10 * RECORD_BYTES + 8, little);
    const [rows, columns] = [(north - south) / stepLat, (west - east) / stepLon].map((n) => Math.round(n) + 1);
    if (!(stepLat > 0 && stepLon > 0 && rows > 1 && columns > 1 && rows * columns === nodes))
      throw refuse(`Grid "${word(0, base)}" states ${nodes} values in ${rows} rows of ${columns}.`, base);
    at += HEAD_RECORDS * RECORD_BYTES;
    if (at + nodes * RECORD_BYTES > bytes.length)
      throw refuse(
        `Grid "${word(0, base)}" ends after ${Math.floor((bytes.length - at) / RECORD_BYTES)} of ${nodes} values.`,
        bytes.length,
        'It was cut off: copy it again from its origin.',
      );
    const part: ShiftPart = {
      name: word(0, base),
      southDeg: south / 3600,
      westDeg: -west / 3600,
      stepLatDeg: stepLat / 3600,
      stepLonDeg: stepLon / 3600,
      rows,
      columns,
      latSec: new Float32Array(nodes),
      lonSec: new Float32Array(nodes),
    };
    for (let i = 0; i < nodes; i++) {
      const from = at + i * RECORD_BYTES;
      const to = Math.floor(i / columns) * columns + (columns - 1 - (i % columns));
      part.latSec[to] = view.getFloat32(from, little) * unit;
      part.lonSec[to] = -view.getFloat32(from + 4, little) * unit;
      if (!(Math.abs(part.latSec[to]) <= MAX_SHIFT_SEC && Math.abs(part.lonSec[to]) <= MAX_SHIFT_SEC))
        throw refuse(`Value ${i + 1} of grid "${part.name}" is no shift between datums.`, from);
    }
    parts.push(part);
    at += nodes * RECORD_BYTES;
  }
  return { from: word(5), to: word(6), parts };
}
