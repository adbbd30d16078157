export * from './gravity';
export * from './unit';
export * from './vibration';
