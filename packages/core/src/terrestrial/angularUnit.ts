import { median } from '../numeric/statistics';
import { type AngularUnit } from './job';

const DEG = Math.PI / 180;
/** Digits of an angle in degrees, minutes and seconds behind the point are taken as they stand: to a hundred thousandth of a second. */
const SECONDS_DIGITS = 1e9;

/** An angle as written. @param value of dd.mmss, degrees before the point, two digits of minutes, then seconds. */
export function radiansOf(value: number, unit: AngularUnit): number {
  if (unit === 'radians') return value;
  if (unit === 'grads') return (value * Math.PI) / 200;
  if (unit === 'degrees') return value * DEG;
  const { degrees, minutes, seconds } = sexagesimal(value);
  return Math.sign(value || 1) * (degrees + minutes / 60 + seconds / 3600) * DEG;
}

function sexagesimal(value: number): { degrees: number; minutes: number; seconds: number } {
  const whole = Math.round(Math.abs(value) * SECONDS_DIGITS);
  const degrees = Math.floor(whole / SECONDS_DIGITS);
  const rest = whole - degrees * SECONDS_DIGITS;
  const minutes = Math.floor(rest / (SECONDS_DIGITS / 100));
  return { degrees, minutes, seconds: (rest - minutes * (SECONDS_DIGITS / 100)) / (SECONDS_DIGITS / 1e4) };
}

/** Whether digits could be minutes and seconds: neither reaches 60. */
export function couldBeSexagesimal(value: number): boolean {
  const { minutes, seconds } = sexagesimal(value);
  return minutes < 60 && seconds < 60;
}

/** Two readings of one target, in both faces, as written. */
export interface FacePair {
  horizontal?: readonly [number, number];
  zenith?: readonly [number, number];
}

/** What speaks for another unit than the one that a job states. */
export interface UnitDoubt {
  looksLike: AngularUnit;
  because: 'minutes' | 'no minutes beyond 59' | 'faces' | 'beyond a turn';
  /** A reading that shows it, or by how much both faces miss a full turn in the stated unit, radians. */
  value: number;
}

/** So many angles whose digits all stay below 60 are no chance: one in ten thousand. */
const ENOUGH = 9;
/** Faces miss a full turn by more than any instrument's errors, radians. */
const MISSED = 1e-3;

/** Holds angles against the unit they are said to be in. @param values all angles as written. */
export function doubtUnit(
  unit: AngularUnit,
  values: readonly number[],
  pairs: readonly FacePair[],
): UnitDoubt | undefined {
  const broken = unit === 'dd.mmss' ? values.find((v) => !couldBeSexagesimal(v)) : undefined;
  if (broken !== undefined) return { looksLike: 'degrees', because: 'minutes', value: broken };
  const stated = missOf(unit, pairs);
  if (stated > MISSED) {
    const best = (['degrees', 'dd.mmss', 'grads', 'radians'] as const)
      .filter((u) => u !== 'dd.mmss' || values.every(couldBeSexagesimal))
      .map((u) => ({ u, miss: missOf(u, pairs) }))
      .reduce((a, b) => (b.miss < a.miss ? b : a));
    if (best.u !== unit && best.miss < stated / 10) return { looksLike: best.u, because: 'faces', value: stated };
  }
  const turn = { degrees: 360, 'dd.mmss': 360, grads: 400, radians: 2 * Math.PI }[unit];
  const beyond = values.find((v) => Math.abs(v) > turn * (1 + 1e-9));
  if (beyond !== undefined)
    return {
      looksLike: Math.abs(beyond) > 360 || unit === 'radians' ? (unit === 'radians' ? 'degrees' : 'grads') : 'degrees',
      because: 'beyond a turn',
      value: beyond,
    };
  const spread = values.filter((v) => v !== Math.round(v));
  if (unit === 'degrees' && spread.length >= ENOUGH && spread.every(couldBeSexagesimal))
    return { looksLike: 'dd.mmss', because: 'no minutes beyond 59', value: spread[0] };
  return undefined;
}

/** By how much faces miss half a turn apart, and zenith angles a full turn together; the middle one, radians. */
function missOf(unit: AngularUnit, pairs: readonly FacePair[]): number {
  const all = pairs.flatMap(({ horizontal, zenith }) => {
    const out: number[] = [];
    const wrapped = (rad: number) => Math.abs(rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI)));
    if (horizontal) out.push(wrapped(radiansOf(horizontal[0], unit) - radiansOf(horizontal[1], unit) - Math.PI));
    if (zenith) out.push(Math.abs(radiansOf(zenith[0], unit) + radiansOf(zenith[1], unit) - 2 * Math.PI));
    return out;
  });
  return all.length ? median(all) : 0;
}
