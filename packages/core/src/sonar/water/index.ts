export * from './cast';
export * from './layers';
export * from './soundSpeed';
