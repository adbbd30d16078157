/** Spheres that scans show: found by themselves, and named by how they lie to each other. */
export * from './find';
export * from './name';
