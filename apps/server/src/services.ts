import { type JobQueue } from './jobs/queue';
import { type ObjectStore } from './storage';

export interface Services {
  queue: JobQueue;
  store: ObjectStore;
  storeFolder: string;
  /** Folders from which files may be picked. */
  roots: string[];
}
