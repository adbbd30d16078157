let failures = 0;

/**
 * A decoder in WebAssembly stumbled in the middle of a file: its memory and the files that it holds open are as the
 * fault left them. A worker thread ends after the piece of work in which that happened.
 */
export function decoderFailed(): void {
  failures++;
}

/** How often a decoder of this thread has failed since it began. */
export const decoderFailures = (): number => failures;
