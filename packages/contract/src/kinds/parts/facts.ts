export { type Extent, type FileFacts } from '@longheron/core/shared';
