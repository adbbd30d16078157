/** Scans placed by what they share. */
export * from './model';
export { registerByTargets } from './byTargets';
