export * from './facts';
export * from './problem';
export * from './progress';
