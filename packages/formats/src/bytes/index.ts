export * from './decoders';
export * from './output';
export * from './source';
