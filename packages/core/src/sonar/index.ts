export * from './grid';
export * from './patch';
export * from './pings';
export * from './prove';
export * from './reduce';
export * from './sidescan';
export * from './water';
