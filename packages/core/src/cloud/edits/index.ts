/** Acts on points of a cloud, and what they do to classes and flags. */
export * from './runs';
export * from './edits';
