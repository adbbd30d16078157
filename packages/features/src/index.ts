import { createRequire } from 'node:module';
import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import { type Features } from '@longheron/core/photo';

/** A picture of one channel, row by row from its upper left corner. */
export interface GreyPicture {
  widthPx: number;
  heightPx: number;
  grey: Uint8Array;
}

interface Answer {
  id: number;
  found?: Features;
  error?: string;
}

interface Waiting {
  resolve: (f: Features) => void;
  reject: (e: Error) => void;
}

/** More threads than this hold more memory than they save time. */
const MOST_THREADS = 4;

/**
 * Finds features of pictures on threads of its own: nonlinear scale space with binary descriptions of 486 bits (Alcantarilla
 * et al. 2013), places to a part of a pixel, pixel centres at whole numbers. Close it when all is found.
 */
export class FeatureFinder {
  private readonly threads: Worker[];
  private readonly waiting = new Map<number, Waiting>();
  private readonly load: number[];
  private next = 0;

  constructor(threads = Math.min(MOST_THREADS, availableParallelism())) {
    // found by name, since this file may be part of a bundle
    const path = createRequire(import.meta.url).resolve('@longheron/features/worker');
    this.load = new Array<number>(threads).fill(0);
    this.threads = this.load.map(() => {
      const worker = new Worker(path);
      worker.on('message', ({ id, found, error }: Answer) => {
        const one = this.waiting.get(id);
        this.waiting.delete(id);
        if (found) one?.resolve(found);
        else one?.reject(new Error(error));
      });
      worker.on('error', (error) => {
        for (const one of this.waiting.values()) one.reject(error as Error);
        this.waiting.clear();
      });
      return worker;
    });
  }

  /** So many pictures are worked on at a time. */
  get width(): number {
    return this.threads.length;
  }

  /** Features of a picture, whose bytes are handed over. */
  async find(picture: GreyPicture): Promise<Features> {
    const thread = this.load.indexOf(Math.min(...this.load));
    this.load[thread]++;
    const id = this.next++;
    try {
      return await new Promise<Features>((resolve, reject) => {
        this.waiting.set(id, { resolve, reject });
        this.threads[thread].postMessage({ id, picture }, [picture.grey.buffer as ArrayBuffer]);
      });
    } finally {
      this.load[thread]--;
    }
  }

  async close(): Promise<void> {
    await Promise.all(this.threads.map((t) => t.terminate()));
  }
}
