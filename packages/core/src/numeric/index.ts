export * from './eigen';
export * from './leastSquares';
export * from './matrix3';
export * from './plane';
export * from './random';
export * from './select';
export * from './sinCos';
export * from './statistics';
