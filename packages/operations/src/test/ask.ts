import { loadQuestion, type Questions } from '../computation';
import { type Store } from '../shared/store';

type AskedOf<N extends keyof Questions> = Parameters<Questions[N]>[0];
type AnswerOf<N extends keyof Questions> = Awaited<ReturnType<Questions[N]>>;

/** Asks a question by its name, on objects of a store. */
export async function ask<N extends keyof Questions>(name: N, asked: AskedOf<N>, store: Store): Promise<AnswerOf<N>> {
  const found = (await loadQuestion(name)) as (asked: AskedOf<N>, store: Store, watch: object) => Promise<unknown>;
  // the answer is that of the question of this name
  return (await found(asked, store, {})) as AnswerOf<N>;
}
