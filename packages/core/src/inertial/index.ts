/** Inertial navigation: alignment, mechanisation, error filter, smoother. */
export * from './gravity';
export * from './inertialData';
export * from './mechanisation';
export * from './navigate';
export * from './reverse';
export * from './settings';
export { type Alignment } from './alignment';
export * from './inertialTrajectory';
export * from './findings';
export * from './solution';
export * from './stateRows';
export * from './noiseFromData';
export * from './profiles';
