/** Points in oriented pictures: where they are expected, where rays meet, and where exactly a target lies. */
export * from './picture';
export * from './predict';
export * from './intersect';
export * from './refine';
export * from './enough';
export * from './expect';
