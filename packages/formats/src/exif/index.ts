export * from './list';
export * from './read';
