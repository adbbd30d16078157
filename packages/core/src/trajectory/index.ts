export * from './strips';
export * from './summary';
export * from './trajectory';
export * from './events';
export * from './compare';
export * from './stops';
export * from './photos';
export * from './join';
