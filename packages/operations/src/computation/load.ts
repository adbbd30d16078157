import { isOperation } from '@longheron/contract/operations';
import { Problem } from '@longheron/core/shared';
import { type Questions } from '../questions/index.generated';
import { type Computation } from './types';

/** The computation of an operation, loaded when it is first asked for. */
export async function loadComputation(name: string): Promise<Computation> {
  if (!isOperation(name))
    throw new Problem(`There is no operation ${name}.`, { code: 'operation', remedy: 'Reload the page.' });
  const { default: found } = await import(`../${name}/index.ts`);
  return found;
}

/** A question by its name, loaded when it is first asked. */
export async function loadQuestion<N extends keyof Questions>(name: N): Promise<Questions[N]> {
  const { default: found } = await import(`../questions/${name}/index.ts`);
  return found;
}
