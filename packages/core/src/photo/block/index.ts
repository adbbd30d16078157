/** Blocks of pictures: poses, points and cameras adjusted together. */
export * from './model';
export * from './adjust';
export { type Contradiction, type HeldTerm } from './judge';
export { type Covariances } from './covariance';
export { REJECT } from './reject';
export * from './area';
export { hasStart, orientByTies, type Oriented } from './orient';
export { placeResidual } from './normals';
