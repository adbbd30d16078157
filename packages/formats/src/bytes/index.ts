export * from './output';
export * from './source';
