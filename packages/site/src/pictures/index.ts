export * from './camera';
export { shade, SKY, WATER } from './colours';
export { poseOf, Stand } from './stand';
