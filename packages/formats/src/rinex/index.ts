/** RINEX 2.11 and 3.0x: observations and broadcast navigation. */
export { readNavigation, type Navigation } from './navigation';
export { readObservations } from './observation';
