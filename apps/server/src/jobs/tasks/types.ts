import { type MessagePort } from 'node:worker_threads';
import { type Notice } from '@longheron/core/shared';

/** What a worker is asked to do. Paths are those of the store; names are what people called the files. */
export interface TaskRequest {
  task:
    | 'inspect'
    | 'preview'
    | 'open-cloud'
    | 'map-marks'
    | 'position'
    | 'place'
    | 'classify'
    | 'check'
    | 'surface'
    | 'export-cloud'
    | 'report'
    | 'demo-files'
    | 'demo-head'
    | 'station'
    | 'compare'
    | 'trajectory-report'
    | 'handover'
    | 'join'
    | 'stops'
    | 'events'
    | 'network'
    | 'select'
    | 'edit'
    | 'edited-file'
    | 'find'
    | 'look-cells'
    | 'measure'
    | 'ground-heights'
    | 'extract'
    | 'agreement'
    | 'coverage'
    | 'class-check'
    | 'merge'
    | 'reproject'
    | 'plan-check'
    | 'recipe'
    | 'delivery'
    | 'align'
    | 'smooth'
    | 'correct';
  storeFolder: string;
  payload: Record<string, unknown>;
  port: MessagePort;
}

export interface TaskObject {
  sha256: string;
  bytes: number;
  kind: string;
}

export interface TaskResult {
  /** Name of a new dataset, where the plan's would not tell enough. */
  name?: string;
  /** Content of the new revision. */
  content: Record<string, unknown>;
  /** Name of the object or hash of the JSON that stands for the content. */
  contentHash: string;
  objects: TaskObject[];
  notices: Notice[];
  log: string[];
}

export interface ProgressMessage {
  fraction: number;
  doing: string;
}
