/** Photographs: decoded, brought together with their cameras and positions. */
export * from './cameras';
export * from './pair';
export * from './pixels';
