/** What stands in the database of results and what they were made of; jobs and features alike build on it. */
export * from './current';
export * from './referenceLine';
export * from './revisions';
export * from './state';
export * from './words';
export * from './tolerances';
