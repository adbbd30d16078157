import { type JobQueue } from './jobs/queue';
import { type Operations } from './jobs/operations';
import { type Lists } from './http/lists';
import { type ObjectStore } from './storage';

export interface Services {
  queue: JobQueue;
  operations: Operations;
  lists: Lists;
  store: ObjectStore;
  storeFolder: string;
  /** Folders from which files may be picked. */
  roots: string[];
}
