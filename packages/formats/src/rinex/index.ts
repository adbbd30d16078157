/** RINEX 2.11 and 3.0x: observations and broadcast navigation; and their companions ANTEX and SP3. */
export { readNavigation, type Navigation } from './navigation';
export { readObservations } from './observation';
export { readAntennas } from './antex';
export { joinOrbits, readOrbits } from './orbits';
