export * from './cells';
export * from './ground';
export * from './points';
export * from './strays';
export * from './selection';
export * from './edits';
export * from './voxels';
