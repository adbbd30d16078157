/** Colours of sessions by their numbers, dark enough to be told apart on the map. */
const COLOURS = ['#0e5e66', '#a3531a', '#5b3f8c', '#2f6b2f', '#9c2f5d', '#4a4a4a'];

export const sessionColour = (number: number): string => COLOURS[(number - 1) % COLOURS.length];

/** The camera’s clock as it showed, to the minute. @param s seconds from 1970 as if that were UTC. */
export const clockOf = (s: number | null): string =>
  s === null ? '' : new Date(s * 1000).toISOString().slice(0, 16).replace('T', ' ');
