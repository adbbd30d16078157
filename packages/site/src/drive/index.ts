export * from './mounting';
export * from './noise';
export * from './path';
export * from './scan';
export * from './trajectory';
