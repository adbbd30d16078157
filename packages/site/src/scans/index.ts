/** A terrestrial scanner on six stands along the road and under the rail bridge, with spheres between them. */
export * from './setUps';
export * from './cast';
export * from './files';
