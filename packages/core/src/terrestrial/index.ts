/** Total-station jobs: units, faces, traverses, adjustment. */
export * from './job';
export * from './angularUnit';
export * from './faces';
export * from './adjustJob';
export { type Suspect } from './suspects';
export { type Place } from './approximate';
export * from './traverse';
export * from './lengths';
export * from './register';
