export { PATCH_TERMS, type PatchLine, type PatchTerm } from './lines';
export { NEEDED, type PatchPair } from './pairs';
export * from './patchTest';
export { type LineFreedom } from './unknowns';
