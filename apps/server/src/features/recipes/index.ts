import { type Router } from 'express';
import { type PastStepsDto, type RecipeDto } from '@longheron/contract/api';
import { faultOf } from '@longheron/contract/declare';
import classify from '@longheron/contract/operations/classify';
import { KeepRecipe, RunRecipe } from '@longheron/contract/requests';
import { parseRecipe, stepWords, type RecipeStep } from '@longheron/core/cloud';
import { Dataset, Revision, Run, Style } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { contentOf } from '../../trail';
import { type Services } from '../../services';
import { classNamer } from '../classes/kept';
import { datasetOf } from '../datasets/find';
import { editableOf, keepActs } from '../edits/kept';
import { projectOf } from '../projects';

const KIND = 'recipe';

/** Steps as somebody sent them. @throws HttpError for settings that the operation would refuse. */
function stepsOf(json: unknown): RecipeStep[] {
  const steps = parseRecipe(json);
  for (const s of steps) {
    const fault = s.kind === 'classify' ? faultOf(classify, s.settings) : undefined;
    if (fault) throw new HttpError(400, fault.message, { code: 'setting', field: fault.field });
  }
  return steps;
}

/** What was done to a cloud, as steps: how it was classified when it was made, then its acts. */
async function pastOf(revision: Revision): Promise<PastStepsDto> {
  const steps: RecipeStep[] = [];
  const left: PastStepsDto['left'] = [];
  const { edits = [] } = contentOf('point-cloud', revision);
  const madeBy = await firstRun(revision);
  if (madeBy?.operation === 'classify') {
    const { outputDataset: _output, ...settings } = madeBy.settings as { [setting: string]: string | number | boolean };
    steps.push({ kind: 'classify', settings });
  }
  let classified: unknown;
  for (const { act, points, how } of edits) {
    if (how && 'classify' in how) {
      // a classification came to several acts, one for each class: it is one step
      if (JSON.stringify(how) !== classified) steps.push({ kind: 'classify', settings: how.classify });
      classified = JSON.stringify(how);
      continue;
    }
    classified = undefined;
    if (!how || 'why' in how) left.push({ points, act, why: how?.why ?? 'done before recipes were kept' });
    else steps.push({ kind: 'act', selection: how, act });
  }
  return { steps, left };
}

/** The job that made the cloud's file: acts come after it. */
async function firstRun(revision: Revision): Promise<Run | null> {
  let r: Revision | null = revision;
  while (r && (r.madeBy === 'edit' || r.madeBy === KIND))
    r = r.parentId === null ? null : await Revision.findByPk(r.parentId);
  return r?.runId ? Run.findByPk(r.runId) : null;
}

/** Steps kept under a name, made of what was done to one cloud, and done to others. */
export function recipeRoutes(api: Router, { queue }: Services): void {
  api.get('/recipes', async (_request, response) => {
    const kept = await Style.findAll({ where: { kind: KIND }, order: [['name', 'ASC']] });
    response.json(kept.map((k) => k.content as RecipeDto));
  });

  /** Keeps a recipe under its name; one of the same name is replaced. */
  api.put('/recipes', async (request, response) => {
    const { name, steps } = bodyOf(request, KeepRecipe);
    await Style.upsert({ kind: KIND, name, content: { name, steps: stepsOf(steps) } });
    response.status(204).end();
  });

  api.delete('/recipes/:name', async (request, response) => {
    const gone = await Style.destroy({ where: { kind: KIND, name: request.params.name } });
    if (!gone) throw new HttpError(404, `There is no recipe named ${request.params.name}.`, { code: 'not-found' });
    response.status(204).end();
  });

  api.get('/projects/:projectId/datasets/:id/steps', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    editableOf(dataset, revision);
    response.json(await pastOf(revision));
  });

  /** Does a recipe to clouds, each a job of its own: what fails with one stops none of the others. */
  api.post('/projects/:projectId/recipes/run', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const body = bodyOf(request, RunRecipe);
    const kept = await Style.findOne({ where: { kind: KIND, name: body.name } });
    if (!kept) throw new HttpError(404, `There is no recipe named ${body.name}.`, { code: 'not-found' });
    const steps = stepsOf((kept.content as RecipeDto).steps);
    const namer = await classNamer(projectId);
    const words = steps.map((s) => stepWords(s, namer));
    const items = [];
    for (const id of new Set(body.clouds)) {
      const dataset = await Dataset.findOne({ where: { id, projectId } });
      const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
      if (!dataset || !revision) throw new HttpError(404, `There is no dataset ${id}.`, { code: 'not-found' });
      const cloud = editableOf(dataset, revision);
      await queue.refuseWhenBusy(projectId, id);
      items.push({ dataset, revision, cloud });
    }
    const batch = Date.now();
    for (const { dataset, revision, cloud } of items) {
      const settings = { recipe: body.name, batch, outputDataset: Number(dataset.id), cloud: dataset.name };
      const title = `${body.name}: ${dataset.name}`;
      void queue
        .background(projectId, KIND, title, 'recipe', { cloud, steps, words }, settings)
        .then(async ({ run, result }) => {
          // a recipe that met no point leaves the cloud as it is
          if (result.content.acts === 0) await queue.succeed(run, []);
          else await keepActs(queue, run, dataset, revision, result);
        })
        .catch(() => undefined); // the job says what went wrong
    }
    response.status(202).json({ batch });
  });
}
