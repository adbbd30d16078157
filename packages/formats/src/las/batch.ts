/** A batch of raw records; `bytes` is reused by the next batch. */
export interface RecordBatch {
  first: number;
  count: number;
  bytes: Uint8Array;
}
