/** Photographs: decoded, brought together with their cameras and positions. */
export * from './cameras';
export * from './pair';
export * from './pixels';
export * from './sets';
export * from './adjusted';
export * from './places';
export * from './met';
export * from './small';
export * from './poses';
