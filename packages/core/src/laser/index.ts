export * from './place';
export * from './returns';
export * from './limits';
