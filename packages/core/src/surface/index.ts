export * from './contours';
export * from './grid';
export * from './highest';
export * from './thin';
export * from './tin';
