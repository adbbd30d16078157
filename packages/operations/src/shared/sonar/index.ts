export * from './lines';
export * from './vessel';
export * from './way';
