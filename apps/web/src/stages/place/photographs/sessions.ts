/** Colours of sessions by their numbers, dark enough to be told apart on the map. */
const COLOURS = ['#0e5e66', '#a3531a', '#5b3f8c', '#2f6b2f', '#9c2f5d', '#4a4a4a'];

export const sessionColour = (number: number): string => COLOURS[(number - 1) % COLOURS.length];
