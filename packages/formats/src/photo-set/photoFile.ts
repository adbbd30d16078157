/** A photograph whose bytes are read when they are asked for. */
export interface PhotoFile {
  name: string;
  /** Bytes. */
  size: number;
  bytes(): Promise<Uint8Array>;
  /** So many bytes from its beginning: what it says of itself stands there. */
  head(bytes: number): Promise<Uint8Array>;
}

export const IS_JPEG = /\.jpe?g$/i;
