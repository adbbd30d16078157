export * from './figures';
export * from './find';
export * from './patch';
