/** Satellite positioning: orbits, atmosphere, integer ambiguities. */
export * from './atmosphere';
export * from './broadcast';
export * from './lambda';
export * from './signals';
export * from './observations';
export * from './kinematic';
export * from './pointPosition';
export { FIX_DEFAULTS, type FixSettings } from './integerKeeper';
export { GNSS_NOISE_DEFAULTS, type GnssNoise } from './floatFilter';
export * from './bases';
