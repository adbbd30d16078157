export * from './camera';
export { lattice, shade, SKY, WATER } from './colours';
export { poseOf, Stand } from './stand';
