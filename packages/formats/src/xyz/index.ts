export * from './columns';
export * from './read';
export * from './write';
