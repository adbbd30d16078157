export * from './header';
export * from './points';
export * from './reader';
export * from './writer';
export * from './rewrite';
export * from './select';
export * from './output';
