/** How computations are given their inputs, and where their results go. */
export * from './types';
export * from './question';
export { openHanded, type Handed } from './fromStore';
export { openPaths } from './fromPaths';
export { loadComputation, loadQuestion } from './load';
export { type Questions } from '../questions/index.generated';
