/** Stored clouds: selecting points of them, acts on points, what follows for their files. */
export { columnsOf, readPoints, type EditableCloud } from './cloud';
export * from './select';
export * from './pack';
export * from './file';
export * from './stream';
export * from './near';
export * from './along';
export * from './lookCells';
export * from './content';
export * from './keep';
