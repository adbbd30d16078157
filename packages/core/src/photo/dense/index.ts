/** A surface from oriented pictures: pairs rectified, matched semi-globally, and their heights made one. */
export * from './rectify';
export * from './pairs';
export { GRADES } from './labels';
export * from './matchPair';
export * from './fuse';
