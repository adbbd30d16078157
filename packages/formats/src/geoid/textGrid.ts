import { type UndulationGrid } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';

/** Value that stands for none in grids of geodesy written as text. */
const NONE = 9999;
const MAX_VALUES = 50_000_000;
const HEAD = /^\s*(?:[-+]?\d+(?:\.\d*)?\s+){5}[-+]?\d+(?:\.\d*)?\s*(?:\r?\n|$)/;

interface Head {
  south: number;
  north: number;
  west: number;
  east: number;
  stepLat: number;
  stepLon: number;
}

/**
 * The head of a text grid: six numbers in the first line, least and greatest latitude, least and greatest longitude, steps
 * of both, in degrees. @returns undefined when the numbers make no sense as one.
 */
export function textGridHead(start: string): Head | undefined {
  const line = HEAD.exec(start)?.[0];
  if (!line) return undefined;
  const [south, north, west, east, stepLat, stepLon] = line.trim().split(/\s+/).map(Number);
  const placed = south >= -90 && north <= 90 && south < north && west >= -360 && east <= 720 && west < east;
  const stepped = stepLat > 1e-4 && stepLat < 10 && stepLon > 1e-4 && stepLon < 10 && east - west < 361;
  // limits are whole steps apart, as six numbers of a point are not
  const whole = (span: number, step: number) =>
    span / step > 0.5 && Math.abs(span / step - Math.round(span / step)) < 1e-3;
  const even = whole(north - south, stepLat) && whole(east - west, stepLon);
  return placed && stepped && even ? { south, north, west, east, stepLat, stepLon } : undefined;
}

/** Reads a text grid: after its head one value after the other, from the north-west, row by row to the south. */
export function readTextGrid(bytes: Uint8Array, file: string): UndulationGrid {
  const text = new TextDecoder('latin1').decode(bytes);
  const head = textGridHead(text);
  const refuse = (message: string, place: string, remedy = 'Ask for the grid again.') =>
    new Problem(message, { code: 'geoid-text', file, place, remedy });
  if (!head) throw refuse('The first line does not hold the limits and steps of a grid.', 'line 1');
  const count = (span: number, step: number) => Math.round(span / step) + 1;
  const rows = count(head.north - head.south, head.stepLat);
  const columns = count(head.east - head.west, head.stepLon);
  // a value takes two characters at least
  if (rows * columns > MAX_VALUES || 2 * rows * columns > bytes.length + 2)
    throw refuse(
      `It declares ${rows} rows of ${columns} values, more than its ${bytes.length} bytes can hold.`,
      'line 1',
      'It was cut off or damaged: copy it again from its origin.',
    );
  const valuesM = new Float32Array(rows * columns);
  const words = /\S+/g;
  words.lastIndex = text.indexOf('\n') + 1 || text.length;
  let k = 0;
  let decimals = 0;
  for (let word = words.exec(text); word; word = words.exec(text), k++) {
    if (k >= valuesM.length)
      throw refuse(`It holds more than the ${valuesM.length} values of its head.`, `value ${k + 1}`);
    const value = Number(word[0]);
    if (Number.isNaN(value)) throw refuse(`"${word[0].slice(0, 20)}" is no number.`, `value ${k + 1}`);
    const point = word[0].indexOf('.');
    if (point >= 0) decimals = Math.max(decimals, word[0].length - point - 1);
    const [r, c] = [Math.floor(k / columns), k % columns];
    valuesM[(rows - 1 - r) * columns + c] = Math.abs(value) >= NONE ? Number.NaN : value;
  }
  if (k < valuesM.length)
    throw refuse(
      `It holds ${k} of ${valuesM.length} values.`,
      'end of file',
      'It was cut off: copy it again from its origin.',
    );
  return {
    southDeg: head.south,
    westDeg: head.west,
    stepLatDeg: head.stepLat,
    stepLonDeg: head.stepLon,
    rows,
    columns,
    valuesM,
    roundingM: 0.5 * 10 ** -decimals,
  };
}
