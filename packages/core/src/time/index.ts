/**
 * GPS, UTC and TAI. GPS time is continuous since 1980-01-06 00:00 UTC; UTC steps by leap seconds
 * (IERS Bulletin C; the last one was introduced on 2017-01-01, TAI − UTC = 37 s, GPS − UTC = 18 s).
 * GPS times are held as seconds since that epoch ("GPS seconds") or as week and seconds of week.
 */
export const WEEK_S = 604800;
/** Unix seconds of the GPS epoch. */
const GPS_EPOCH_UNIX_S = 315964800;

/** Unix second at which each GPS − UTC value begins (value = index + 1). */
const LEAP_STARTS_UTC = [
  '1981-07-01',
  '1982-07-01',
  '1983-07-01',
  '1985-07-01',
  '1988-01-01',
  '1990-01-01',
  '1991-01-01',
  '1992-07-01',
  '1993-07-01',
  '1994-07-01',
  '1996-01-01',
  '1997-07-01',
  '1999-01-01',
  '2006-01-01',
  '2009-01-01',
  '2012-07-01',
  '2015-07-01',
  '2017-01-01',
].map((day) => Date.parse(`${day}T00:00:00Z`) / 1000);

/** GPS − UTC in whole seconds at a Unix time (UTC). */
export function leapSecondsAtUnix(unixS: number): number {
  let leap = 0;
  while (leap < LEAP_STARTS_UTC.length && unixS >= LEAP_STARTS_UTC[leap]) leap++;
  return leap;
}

/** GPS seconds since 1980-01-06 from a Unix time in seconds (UTC). */
export function gpsFromUnix(unixS: number): number {
  return unixS - GPS_EPOCH_UNIX_S + leapSecondsAtUnix(unixS);
}

/** Unix time in seconds (UTC) from GPS seconds since 1980-01-06. */
export function unixFromGps(gpsS: number): number {
  const approximate = gpsS + GPS_EPOCH_UNIX_S;
  let leap = leapSecondsAtUnix(approximate);
  if (leapSecondsAtUnix(approximate - leap) !== leap) leap = leapSecondsAtUnix(approximate - leap);
  return approximate - leap;
}

export function gpsSeconds(week: number, secondsOfWeek: number): number {
  return week * WEEK_S + secondsOfWeek;
}

export interface GpsWeek {
  week: number;
  sow: number;
}

export function gpsWeek(gpsS: number): GpsWeek {
  const week = Math.floor(gpsS / WEEK_S);
  return { week, sow: gpsS - week * WEEK_S };
}

/** Day of year (1…366) of a UTC date. */
export function dayOfYear(date: Date): number {
  return Math.floor((date.getTime() - Date.UTC(date.getUTCFullYear(), 0, 1)) / 86400000) + 1;
}

export type TimeDisplay = 'gps' | 'utc' | 'local';

function pad(value: number, width = 2): string {
  return String(value).padStart(width, '0');
}

/**
 * A GPS instant for the screen: `2026-06-16 09:00:12.3`.
 * @param display which time system; `local` uses the time zone of the machine that shows it.
 */
export function formatGps(gpsS: number, display: TimeDisplay = 'gps', decimals = 1): string {
  const factor = 10 ** decimals;
  const rounded = Math.round(gpsS * factor) / factor;
  const unixS = display === 'gps' ? rounded + GPS_EPOCH_UNIX_S : unixFromGps(rounded);
  const whole = Math.floor(unixS + 1e-9);
  const date = new Date(whole * 1000);
  const local = display === 'local';
  const day = local
    ? `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())}`
    : `${date.getUTCFullYear()}-${pad(date.getUTCMonth() + 1)}-${pad(date.getUTCDate())}`;
  const clock = local
    ? `${pad(date.getHours())}:${pad(date.getMinutes())}:${pad(date.getSeconds())}`
    : `${pad(date.getUTCHours())}:${pad(date.getUTCMinutes())}:${pad(date.getUTCSeconds())}`;
  const fraction = decimals > 0 ? `.${pad(Math.min(Math.round((unixS - whole) * factor), factor - 1), decimals)}` : '';
  return `${day} ${clock}${fraction}`;
}

/** The GPS calendar day of an instant, as `YYYY-MM-DD`. */
export function gpsDay(gpsS: number): string {
  return formatGps(gpsS, 'gps', 0).slice(0, 10);
}

/** Year with decimals, as epochs of coordinates are written: 2026.45. */
export const decimalYear = (date: Date) => Number((date.getUTCFullYear() + dayOfYear(date) / 365.25).toFixed(2));
