export * from './camera';
export { shade, SKY, WATER } from './colours';
export { Stand } from './stand';
