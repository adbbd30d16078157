/** Satellite positioning: orbits, atmosphere, integer ambiguities. */
export * from './atmosphere';
export * from './broadcast';
export * from './lambda';
export * from './signals';
