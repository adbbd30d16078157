/** Spheres and discs that scans show: found by themselves, and named by how they lie to each other. */
export * from './found';
export * from './discs';
export * from './spheres';
export * from './name';
