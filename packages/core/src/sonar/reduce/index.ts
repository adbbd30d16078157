export * from './causes';
export * from './heights';
export * from './soundings';
export * from './vesselPath';
