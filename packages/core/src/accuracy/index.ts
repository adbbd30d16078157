export * from './heightAtMark';
export * from './marks';
export * from './roles';
export * from './statistics';
export * from './student';
export * from './stripAgreement';
export * from './targets';
export * from './plan';
