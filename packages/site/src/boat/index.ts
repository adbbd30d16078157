export * from './bed';
export * from './head';
export * from './sensors';
export * from './sidescan';
export * from './sound';
export * from './soundings';
export * from './texts';
export * from './water';
