export * from './buildCloud';
export { type OctreeNode } from './chunk';
export { type CloudFiles } from './columnFiles';
export { type Density } from './density';
