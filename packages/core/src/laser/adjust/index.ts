export * from './adjust';
export * from './apply';
export * from './differences';
export { type Piece } from './equations';
export { type ControlMark, type HeadReturns } from './gather';
export * from './knots';
export { HEAD_NAMES, type HeadName, type HeadParameter, type HeldReason, type Sought } from './solve';
