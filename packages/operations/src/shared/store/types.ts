/** A file or bytes that were kept. */
export interface Kept {
  /** Name of the object. */
  sha256: string;
  bytes: number;
}

/** Where results are put: the store of the application, or a folder that is thrown away. */
export interface Store {
  /** Where an object lies. */
  path(sha256: string): string;
  /** A path that nothing has, for what is in the making. */
  scratch(): string;
  bytes(data: Uint8Array, kind: string): Promise<string>;
  /** Lets a file be written, and keeps it. */
  file(write: (path: string) => Promise<unknown>, kind: string): Promise<Kept>;
  /** Takes a finished file in. */
  take(path: string, kind: string): Promise<Kept>;
  json(value: unknown, kind: string): Promise<string>;
}
