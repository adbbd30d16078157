import { type CloudEditEntry } from '@longheron/contract/api';
import { type RecipeStep } from '@longheron/core/cloud';
import { part, type Watch } from '@longheron/core/shared';
import { packRuns, runRecipe, type ClassifyHow } from '@longheron/operations/edit';
import { cloudOf, editedHash, figuresOf, refuseForFormat, withAct, type EditedCloud } from './edit';
import { Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

/** Does the steps of a recipe to one cloud: its acts follow those that were done before. */
export async function recipe(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as {
    cloud: EditedCloud;
    steps: RecipeStep[];
    /** Steps in words, and how each of kind classify is done. */
    words: string[];
    classify: Record<number, ClassifyHow>;
  };
  for (const step of p.steps) if (step.kind === 'act') await refuseForFormat(r.storeFolder, p.cloud.las, step.act);
  const { acts, outcomes } = await runRecipe(
    await cloudOf(r.storeFolder, p.cloud),
    p.steps,
    (step) => p.classify[p.steps.indexOf(step)],
    part(watch, 0, 0.97),
  );
  const shelf = new Shelf(r.storeFolder);
  const at = new Date().toISOString();
  let after = p.cloud;
  for (const { step, act, runs, counts } of acts) {
    const object = await shelf.bytes(packRuns(runs), 'cloud-edit');
    const source = p.steps[step];
    const how: CloudEditEntry['how'] = source.kind === 'act' ? source.selection : { classify: source.settings };
    after = withAct(after, { object, act, points: counts.count, at, how }, counts);
  }
  return {
    content: { ...figuresOf(after), acts: acts.length, outcomes },
    contentHash: editedHash(after),
    objects: shelf.objects,
    notices: [],
    log: p.words.map((w, i) => `${w}: ${outcomes[i].points} points.${outcomes[i].note ? ` ${outcomes[i].note}` : ''}`),
  };
}
