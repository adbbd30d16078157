export * from './fly';
export * from './plan';
