/** Bodies of requests. Server and web validate with the same classes, so both say the same sentence. */
export * from './clouds';
export * from './contourStyle';
export * from './files';
export * from './locate';
export * from './marks';
export * from './project';
export * from './sheets';
export * from './photographs';
export { check } from '../declare';
