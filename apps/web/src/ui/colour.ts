/** Colour scales: perceptually even, safe for colour-blind eyes. Each is a list of anchor colours, evenly spaced. */
export const VIRIDIS = [
  '#440154',
  '#482878',
  '#3e4a89',
  '#31688e',
  '#26828e',
  '#1f9e89',
  '#35b779',
  '#6dcd59',
  '#b4de2c',
  '#fde725',
];
export const CIVIDIS = [
  '#00224e',
  '#123570',
  '#3b496c',
  '#575d6d',
  '#707173',
  '#8a8678',
  '#a59c74',
  '#c3b369',
  '#e1cc55',
  '#fee838',
];
export const SIGNED = ['#1d4f91', '#5f8fc4', '#b3cde3', '#e9e9e4', '#e9e9e4', '#e8cfa0', '#c99336', '#8a5a00'];

function channel(hex: string, at: number): number {
  return parseInt(hex.slice(at, at + 2), 16);
}

/** Colour at a fraction 0…1 of a scale, as [r, g, b] 0…255. */
export function sample(scale: string[], fraction: number): [number, number, number] {
  const f = Math.min(1, Math.max(0, fraction)) * (scale.length - 1);
  const i = Math.min(scale.length - 2, Math.floor(f));
  const u = f - i;
  return [1, 3, 5].map((k) => Math.round(channel(scale[i], k) * (1 - u) + channel(scale[i + 1], k) * u)) as [
    number,
    number,
    number,
  ];
}

export function css(scale: string[], fraction: number): string {
  return `rgb(${sample(scale, fraction).join(' ')})`;
}

export function gradient(scale: string[]): string {
  return `linear-gradient(to right, ${scale.join(', ')})`;
}

/** Colours of LAS classes, ours, on the dark ground of the 3D view. */
export const CLASS_COLOURS: Record<number, string> = {
  0: '#9fb3b8',
  1: '#8aa0a8',
  2: '#c8a26a',
  3: '#a9c48a',
  4: '#7fae62',
  5: '#4f8f4a',
  6: '#d77a5b',
  7: '#e23d72',
  9: '#4a86c9',
  14: '#f0d64a',
  15: '#b48ad1',
  17: '#c9c9d6',
  18: '#e23d72',
};
export const STRIP_COLOURS = [
  '#8aa0a8',
  '#e0a03c',
  '#4fa3a5',
  '#b47fc2',
  '#7fae62',
  '#d77a5b',
  '#5f8fc4',
  '#d9cf6a',
  '#9a8fd0',
];
