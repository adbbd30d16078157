export * from './distance';
export * from './grid';
export * from './judge';
export * from './spacing';
