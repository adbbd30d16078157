/** Coordinate systems: the EPSG list, systems by text with their grids and files, well-known text. */
export * from './grids';
export { findSystem, proposeSystem, searchSystems, systemDefinition, type SystemEntry } from './list';
export * from './system';
export * from './named';
export * from './text';
export { isWkt, readSystemWkt, systemWkt1, systemWkt2 } from './wkt';
export { METHODS, methodOf, type HeightsWkt, type PlanWkt, type SystemWkt } from './wkt';
