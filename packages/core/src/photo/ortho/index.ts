/** Orthophotos: a surface as pictures show it, seen from straight above. */
export { Orthophoto, type OrthoGrid } from './orthophoto';
export { Relief } from './heights';
