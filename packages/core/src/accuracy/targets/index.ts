export * from './corner';
export * from './sphere';
export * from './twoTone';
