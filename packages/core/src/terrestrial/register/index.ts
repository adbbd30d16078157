/** Scans placed by what they share. */
export * from './model';
export { registerScans } from './registerScans';
export { findSpheres, nameSpheres, type ScanSphere } from './spheres';
export { FacesAt, FINEST_M, patchesOf, Voxels, type ScanPatches } from './surfaces';
