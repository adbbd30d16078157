/** Surfaces of scans as pieces of planes, and how scans are brought together by them. */
export { Voxels } from './voxels';
export { FINEST_M, patchesOf, type ScanPatches } from './patches';
export { FacesAt } from './incidence';
export * from './converge';
export { agreement, type Ties } from './ties';
