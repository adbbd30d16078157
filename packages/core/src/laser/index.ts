export * from './place';
export { type PlacedPoints } from './placedPoints';
export * from './returns';
export * from './limits';
export * from './adjust';
