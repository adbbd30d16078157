import { type Notice, type Watch } from '@longheron/core/shared';
import { type Store } from '../shared/store';

/** An answer of a worker thread that leaves no trail of its own. */
export interface Answer<A> {
  content: A;
  /** Stands for the content, where it becomes a revision. */
  hash?: string;
  notices?: Notice[];
  log?: string[];
}

/** A question without trail: select, preview, measure. What is asked and answered crosses threads as plain data. */
export type Question<Asked, A> = (asked: Asked, store: Store, watch: Watch) => Promise<Answer<A>>;

export const question = <Asked, A>(ask: Question<Asked, A>): Question<Asked, A> => ask;
