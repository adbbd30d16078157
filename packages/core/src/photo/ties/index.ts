/** Points that pictures have in common, found by descriptions of their features. */
export * from './features';
export * from './match';
export * from './predict';
export { agreeing, type Agreement } from './epipolar';
export * from './tracks';
export { searchTies, type TiePicture, type TiedPair, type Ties } from './search';
