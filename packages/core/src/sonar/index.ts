export * from './grid';
export * from './pings';
export * from './reduce';
export * from './water';
