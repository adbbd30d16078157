export * from './problem';
export * from './progress';
