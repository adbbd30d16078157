/** Several clouds as one, and clouds in another coordinate system. */
export * from './merge';
export * from './reproject';
export * from './align';
