/** What is measured between points of a cloud, with its precision; points are taken as independent of each other. */
export * from './distance';
export * from './angle';
export * from './area';
export * from './plane';
