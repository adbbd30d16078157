/** How operations and their settings are declared. */
export * from './settings';
export * from './check';
export * from './operation';
export * from './kind';
