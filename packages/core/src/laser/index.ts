export * from './place';
export * from './returns';
