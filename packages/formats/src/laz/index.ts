export * from './chunkTable';
export * from './record';
export { decodeBeside, severalChannels } from './beside';
