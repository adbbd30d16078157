/** Scans placed by what they share. */
export * from './model';
export { registerScans } from './registerScans';
export { findDiscs, findSpheres, nameTargets, type FoundTarget } from './targets';
export { FacesAt, FINEST_M, patchesOf, Voxels, type ScanPatches } from './surfaces';
