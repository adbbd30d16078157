import { Problem } from '../shared/problem';

export type Axis = 'latitude' | 'longitude';

const HEMISPHERES: Record<string, { axis: Axis; sign: 1 | -1 }> = {
  N: { axis: 'latitude', sign: 1 },
  S: { axis: 'latitude', sign: -1 },
  E: { axis: 'longitude', sign: 1 },
  W: { axis: 'longitude', sign: -1 },
};

function fail(text: string, why: string, axis: Axis): Problem {
  return new Problem(`"${text}" is no ${axis}: ${why}.`, {
    code: 'angle',
    place: axis,
    remedy: 'Type degrees with decimals, or degrees, minutes and seconds, with a sign or a hemisphere.',
  });
}

/**
 * Reads a latitude or longitude as people type it: decimal degrees, degrees and minutes, or degrees, minutes and
 * seconds; with a sign or a hemisphere letter before or after, never both against each other.
 * @returns degrees. Throws a Problem that says what is wrong.
 */
export function parseAngle(input: string, axis: Axis): number {
  const text = input.trim();
  const letters = text.match(/[A-Za-z]/g) ?? [];
  const hemisphere = letters.length === 1 ? HEMISPHERES[letters[0].toUpperCase()] : undefined;
  if (letters.length > 1 || (letters.length === 1 && !hemisphere))
    throw fail(text, 'only N, S, E or W may stand beside the numbers', axis);
  if (hemisphere && hemisphere.axis !== axis)
    throw fail(text, `${letters[0] ?? ''} belongs to a ${hemisphere.axis}`, axis);
  const signs = text.match(/[-\u2212+]/g) ?? [];
  if (signs.length > 1) throw fail(text, 'it has more than one sign', axis);
  const negative = signs.length === 1 && signs[0] !== '+';
  if (signs.length === 1 && !/^\s*[A-Za-z]?\s*[-\u2212+]/.test(text))
    throw fail(text, 'the sign stands in the middle', axis);
  if (hemisphere && negative) throw fail(text, `the minus sign speaks against ${letters.join('').toUpperCase()}`, axis);
  const numbers = (text.replace(/(\d),(\d)/g, '$1.$2').match(/\d+(?:\.\d+)?/g) ?? []).map(Number);
  if (numbers.length === 0 || numbers.length > 3) throw fail(text, 'one to three numbers are needed', axis);
  const [degrees, minutes = 0, seconds = 0] = numbers;
  if (numbers.length > 1 && !Number.isInteger(degrees))
    throw fail(text, 'degrees have decimals and minutes follow', axis);
  if (numbers.length > 2 && !Number.isInteger(minutes))
    throw fail(text, 'minutes have decimals and seconds follow', axis);
  if (minutes >= 60) throw fail(text, `${minutes} minutes are more than 59`, axis);
  if (seconds >= 60) throw fail(text, `${seconds} seconds are more than 59`, axis);
  const value = degrees + minutes / 60 + seconds / 3600;
  const most = axis === 'latitude' ? 90 : 180;
  if (value > most) throw fail(text, `it is larger than ${most}°`, axis);
  return negative || hemisphere?.sign === -1 ? -value : value;
}

/** Degrees, minutes and seconds with hemisphere, for showing back what was understood. */
export function formatAngle(deg: number, axis: Axis, decimals = 4): string {
  const letter = axis === 'latitude' ? (deg < 0 ? 'S' : 'N') : deg < 0 ? 'W' : 'E';
  const unit = 10 ** decimals;
  const total = Math.round(Math.abs(deg) * 3600 * unit);
  const d = Math.floor(total / (3600 * unit));
  const m = Math.floor((total - d * 3600 * unit) / (60 * unit));
  const s = (total - d * 3600 * unit - m * 60 * unit) / unit;
  return `${d}° ${String(m).padStart(2, '0')}′ ${s.toFixed(decimals).padStart(decimals + 3, '0')}″ ${letter}`;
}
