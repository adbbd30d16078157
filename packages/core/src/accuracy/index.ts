export * from './heightAtMark';
export * from './marks';
export * from './statistics';
export * from './student';
