export * from './contours';
export * from './fillNear';
export * from './grid';
export * from './highest';
export * from './thin';
export * from './tin';
export * from './lowFlying';
