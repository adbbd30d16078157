/** Stored clouds: selecting points of them, acts on points, finding points, what follows for their files. */
export { columnsOf, type EditableCloud } from './cloud';
export * from './select';
export * from './find';
export * from './pack';
export * from './file';
export * from './agreement';
export * from './stream';
export * from './coverage';
export * from './near';
export * from './lookCells';
export * from './classCheck';
export * from './recipe';
export * from './smooth';
