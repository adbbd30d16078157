/** A total station from the depot to the quay and back, with prisms along the water. */
export * from './run';
export * from './landxml';
export * from './scanners';
