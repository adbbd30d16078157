import { type CloudEditEntry } from '@longheron/contract/api';
import { complete } from '@longheron/contract/declare';
import classify from '@longheron/contract/operations/classify';
import { type RecipeStep } from '@longheron/core/cloud';
import { part } from '@longheron/core/shared';
import { howOf } from '../../classify';
import { question } from '../../computation/question';
import { cloudOf, figuresOf, packRuns, refuseForFormat, withAct, type EditedCloud } from '../../shared/stored';
import { editedHash, type ActFigures } from '../edit';
import { runRecipe, type RecipeOutcome } from './recipe';

interface Asked {
  cloud: EditedCloud;
  steps: RecipeStep[];
  /** Steps in words. */
  words: string[];
}

/** Does the steps of a recipe to one cloud: its acts follow those that were done before. */
export default question<Asked, ActFigures & { acts: number; outcomes: RecipeOutcome[] }>(
  async ({ cloud, steps, words }, store, watch) => {
    for (const step of steps) if (step.kind === 'act') await refuseForFormat(store.path(cloud.las), step.act);
    const { acts, outcomes } = await runRecipe(
      await cloudOf(store, cloud),
      steps,
      (step) => howOf(complete(classify.settings, step.settings)),
      part(watch, 0, 0.97),
    );
    const at = new Date().toISOString();
    let after = cloud;
    for (const { step, act, runs, counts } of acts) {
      const object = await store.bytes(packRuns(runs), 'cloud-edit');
      const source = steps[step];
      const how: CloudEditEntry['how'] = source.kind === 'act' ? source.selection : { classify: source.settings };
      after = withAct(after, { object, act, points: counts.count, at, how }, counts);
    }
    return {
      content: { ...figuresOf(after), acts: acts.length, outcomes },
      hash: editedHash(after),
      log: words.map((w, i) => `${w}: ${outcomes[i].points} points.${outcomes[i].note ? ` ${outcomes[i].note}` : ''}`),
    };
  },
);
