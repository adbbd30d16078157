/** Networks of vectors, distances and height differences: adjustment, tests, loops. */
export * from './observations';
export * from './adjust';
export { turned, type Ellipse } from './ellipse';
export { loopsOf, type Loop } from './loops';
