/** Cameras: what their pictures show of the ground, and how pictures overlap. */
export * from './footprint';
export * from './overlap';
