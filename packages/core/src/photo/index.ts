/** Pictures: cameras, what they see of points, and how points are coloured from them. */
export * from './name';
export * from './camera';
export * from './view';
export * from './depthMap';
export * from './normals';
export * from './paint';
export * from './edges';
export * from './block';
export * from './ties';
export * from './ortho';
export * from './dense';
export * from './points';
export * from './taken';
