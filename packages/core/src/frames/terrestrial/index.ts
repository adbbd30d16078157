/** Terrestrial reference frames and their epochs. */
export * from './carry';
export * from './parameters';
export * from './wgs84';
