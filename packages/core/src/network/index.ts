/** Networks of vectors, distances and height differences: adjustment, tests, loops. */
export * from './observations';
export * from './adjust';
export { type Effect, type Explained } from './explained';
export { NAMES } from './covariance';
export { EARTH_RADIUS_M, type SetUpSd } from './equations';
export { turned, type Ellipse } from './ellipse';
export { loopsOf, type Loop } from './loops';
