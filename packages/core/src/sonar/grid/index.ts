export * from './depthGrid';
