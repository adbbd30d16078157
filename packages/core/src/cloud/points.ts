/** Points as columns, metres about a local origin, for algorithms that need geometry only. */
export interface PointSet {
  count: number;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  /** Add to x, y, z for easting, northing, height. */
  origin: [number, number, number];
}

/** LAS classes used by the product. */
export const LAS_CLASS = {
  never: 0,
  unclassified: 1,
  ground: 2,
  lowVegetation: 3,
  mediumVegetation: 4,
  highVegetation: 5,
  building: 6,
  lowNoise: 7,
  water: 9,
  rail: 10,
  road: 11,
  wireConductor: 14,
  pole: 15,
  bridgeDeck: 17,
  highNoise: 18,
} as const;

export const LAS_CLASS_NAMES: Record<number, string> = {
  0: 'Never classified',
  1: 'Unclassified',
  2: 'Ground',
  3: 'Low vegetation',
  4: 'Medium vegetation',
  5: 'High vegetation',
  6: 'Building',
  7: 'Low noise',
  8: 'Model key point',
  9: 'Water',
  10: 'Rail',
  11: 'Road surface',
  13: 'Guard wire',
  14: 'Wire conductor',
  15: 'Transmission tower',
  16: 'Wire connector',
  17: 'Bridge deck',
  18: 'High noise',
  19: 'Overhead structure',
  20: 'Ignored ground',
  21: 'Snow',
  22: 'Temporal exclusion',
};
