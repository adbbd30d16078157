/** Coordinate systems as well-known text, 1 (OGC 01-009) and 2 (ISO 19162). */
export * from './model';
export { METHODS, methodOf, projOf } from './methods';
export { readSystemWkt } from './read';
export { planWkt1, systemWkt1, systemWkt2 } from './write';
export { isWkt } from './tree';
