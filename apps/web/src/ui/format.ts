/** Numbers for the screen: thousands are set apart by margin, never by a character, so that copies are plain. */
export interface NumberParts {
  sign: string;
  groups: string[];
  fraction: string;
}

export function splitNumber(value: number, digits: number): NumberParts {
  const text = Math.abs(value).toFixed(digits);
  const [whole, fraction = ''] = text.split('.');
  const groups: string[] = [];
  for (let end = whole.length; end > 0; end -= 3) groups.unshift(whole.slice(Math.max(0, end - 3), end));
  return { sign: value < 0 && Number(text) !== 0 ? '−' : '', groups, fraction };
}

export function bytesText(bytes: number): string {
  if (bytes < 1e3) return `${bytes} B`;
  if (bytes < 1e6) return `${(bytes / 1e3).toFixed(0)} kB`;
  if (bytes < 1e9) return `${(bytes / 1e6).toFixed(1)} MB`;
  return `${(bytes / 1e9).toFixed(2)} GB`;
}

export function durationText(seconds: number): string {
  if (seconds < 60) return `${Math.round(seconds)} s`;
  if (seconds < 3600) return `${Math.floor(seconds / 60)} min ${Math.round(seconds % 60)} s`;
  return `${Math.floor(seconds / 3600)} h ${Math.round((seconds % 3600) / 60)} min`;
}

/** A camera’s clock as it showed. @param seconds from 1970 as if that were UTC. */
export const clockText = (seconds: number): string =>
  new Date(1000 * seconds).toISOString().slice(0, 19).replace('T', ' ');
