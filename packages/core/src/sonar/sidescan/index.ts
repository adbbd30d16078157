export * from './bottom';
export * from './gain';
export * from './ground';
export * from './mosaic';
export * from './recording';
