/** Satellite positioning: orbits, atmosphere, integer ambiguities. */
export * from './atmosphere';
export * from './orbits';
export * from './broadcast';
export * from './precise';
export * from './antennas';
export * from './sunMoon';
export * from './solidTide';
export * from './lambda';
export * from './signals';
export * from './observations';
export { azimuthOf, type Frequencies, type ReceiverCorrections } from './residuals';
export * from './kinematic';
export * from './pointPosition';
export { FIX_DEFAULTS, type FixSettings } from './integerKeeper';
export { GNSS_NOISE_DEFAULTS, type GnssNoise } from './floatFilter';
export * from './bases';
export * from './skyRecord';
export * from './joinObservations';
