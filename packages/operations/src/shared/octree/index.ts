export * from './buildCloud';
export { type OctreeNode } from './chunk';
export { ATTRIBUTE_BYTES, POSITION_SCALE_M, type CloudFiles } from './columnFiles';
export { type Density } from './density';
