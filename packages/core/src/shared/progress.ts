/** How a long computation tells of its progress and hears of a cancel. */
export interface Watch {
  /** Called with a fraction from 0 to 1 and, when it changes, a short sentence on what is being done. */
  progress?: (fraction: number, doing?: string) => void;
  signal?: AbortSignal;
}

/** Thrown when the person cancels; carries no result. */
export class Cancelled extends Error {
  constructor() {
    super('Cancelled');
    this.name = 'Cancelled';
  }
}

/** Reports progress and throws {@link Cancelled} when the signal is set. Call it every few thousand items. */
export function tick(watch: Watch | undefined, fraction: number, doing?: string): void {
  if (!watch) return;
  if (watch.signal?.aborted) throw new Cancelled();
  watch.progress?.(fraction, doing);
}

/** A watch for a part of the work: its 0…1 becomes `from`…`to` of the whole. */
export function part(watch: Watch | undefined, from: number, to: number, doing?: string): Watch | undefined {
  if (!watch) return undefined;
  return {
    signal: watch.signal,
    progress: (fraction, inner) => watch.progress?.(from + (to - from) * fraction, inner ?? doing),
  };
}
