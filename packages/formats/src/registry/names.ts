import { dayOfYear, gpsDay, gpsWeek } from '@longheron/core/time';
import { type Notice } from '@longheron/core/shared';

/** Dates a file name may carry: 20260616, 2026-06-16, 2026167 (day of year), week and day of week as 24232. */
export function datesInName(name: string): string[] {
  const out = new Set<string>();
  for (const m of name.matchAll(/(?<!\d)(20\d\d|19\d\d)[-_.]?(\d\d)[-_.]?(\d\d)(?!\d)/g)) {
    const day = `${m[1]}-${m[2]}-${m[3]}`;
    if (!Number.isNaN(Date.parse(day))) out.add(day);
  }
  for (const m of name.matchAll(/(?<!\d)(20\d\d)[-_.]?(\d{3})(?!\d)/g)) {
    const doy = Number(m[2]);
    if (doy >= 1 && doy <= 366) out.add(new Date(Date.UTC(Number(m[1]), 0, doy)).toISOString().slice(0, 10));
  }
  return [...out];
}

/** A finding when the file's name carries a date that its content contradicts. */
export function nameFinding(name: string, startGps: number, endGps: number): Notice | undefined {
  const dates = datesInName(name);
  if (dates.length === 0) return undefined;
  const first = gpsDay(startGps),
    last = gpsDay(endGps);
  if (dates.some((d) => d >= first && d <= last)) return undefined;
  const { week, sow } = gpsWeek(startGps);
  const doy = dayOfYear(new Date(`${first}T00:00:00Z`));
  return {
    code: 'name-date',
    severity: 'warning',
    file: name,
    place: 'file name',
    text: `The name says ${dates[0]}, the content is of ${first} (day of year ${doy}, GPS week ${week}, day ${Math.floor(sow / 86400)}).`,
    effect: 'The file may belong to another session.',
    remedy: 'Check the session; the file itself is not renamed.',
  };
}
