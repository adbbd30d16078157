import { type Router } from 'express';
import { type EditAnswer } from '@longheron/contract/api';
import { EditCloud, FindPoints, SelectPoints } from '@longheron/contract/requests';
import { type Selection, FINDERS, finderSettings, parseAct, parseSelection, repeatable } from '@longheron/core/cloud';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { classNamer } from '../classes/kept';
import { datasetOf } from '../datasets/find';
import { contentOf } from '../../trail';
import { projectOf } from '../projects';
import { editableOf, findersOf, keepActs } from './kept';

const thousands = (n: number) => String(n).replace(/\B(?=(\d{3})+$)/g, ' ');

function titleOf(act: ReturnType<typeof parseAct>, name: string, classOf: (code: number) => string): string {
  if (act.kind === 'reject') return `Reject points of ${name}`;
  if (act.kind === 'restore') return `Take points of ${name} back`;
  return `Set points of ${name} to ${classOf(act.to)}`;
}

/** A selection in words, for the log; its rows are kept exactly. */
const wordsOf = (s: Selection) =>
  [
    ...s.regions.map(({ mode, shape }) => `${mode} ${shape.kind === 'rows' ? shape.name : shape.kind}`),
    ...(s.regions.length ? [] : ['all that was shown']),
    ...(s.inverted ? ['turned inside out'] : []),
  ].join(', ');

/** Selecting points of a stored cloud, and acts on them: each is a revision, so undo and redo are those of any dataset. */
export function editRoutes(api: Router, { queue }: Services): void {
  /** How many points a selection holds, by class. */
  api.post('/projects/:projectId/datasets/:id/select', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const selection = parseSelection(bodyOf(request, SelectPoints).selection);
    const result = await queue.ask(
      'select',
      { cloud: editableOf(dataset, revision), selection },
      `selection ${dataset.id}`,
    );
    response.json(result.content);
  });

  /** Finds points by themselves: a job; what it found is a shape of a selection. */
  api.post('/projects/:projectId/datasets/:id/find', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const { finder, settings, row } = bodyOf(request, FindPoints);
    const checked = finderSettings(finder, settings ?? {});
    const title = `${FINDERS[finder].title} of ${dataset.name}`;
    const { run, result } = await queue.background(
      Number(project.id),
      'find',
      title,
      'find',
      { cloud: editableOf(dataset, revision), finder, settings: checked, row },
      { finder, ...checked },
    );
    // kept with the job, so that an act on what was found can be done to other clouds
    await run.update({ settings: { ...run.settings, object: result.content.object } });
    await queue.succeed(run, []);
    response.json(result.content);
  });

  /** The ground under the cloud as it is now, for filters and colours by height above it; made once a revision. */
  api.post('/projects/:projectId/datasets/:id/ground', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, revision } = await datasetOf(request, Number(project.id));
    const id = Number(revision.id);
    // a revision that was made of this one carries its content on, but not its ground
    const cloud = editableOf(dataset, revision);
    const content = contentOf('point-cloud', revision);
    const known = content.groundHeights;
    if (known?.revision === id) {
      response.json(known);
      return;
    }
    const title = `Ground under ${dataset.name}`;
    const { run, result } = await queue.background(Number(project.id), 'find', title, 'ground-heights', { cloud }, {});
    const made = { revision: id, ...result.content };
    await revision.update({ content: { ...content, groundHeights: made } });
    await queue.succeed(run, []);
    response.json(made);
  });

  /** Does an act on what a selection holds. */
  api.post('/projects/:projectId/datasets/:id/edit', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset, revision } = await datasetOf(request, projectId);
    const id = Number(dataset.id);
    const body = bodyOf(request, EditCloud);
    const [selection, act] = [parseSelection(body.selection), parseAct(body.act)];
    const cloud = editableOf(dataset, revision);
    if (body.revision !== Number(revision.id))
      throw new HttpError(409, 'The cloud has changed since the selection was made.', {
        code: 'stale',
        remedy: 'Look at it again, then act.',
      });
    const title = titleOf(act, dataset.name, await classNamer(projectId));
    await queue.refuseWhenBusy(projectId, id);
    const { run, result } = await queue.background(
      projectId,
      'edit',
      title,
      'edit',
      { cloud, selection, act, how: repeatable(selection, await findersOf(projectId, selection)) },
      { outputDataset: id, act, shapes: wordsOf(selection) },
    );
    const { counts } = result.content;
    await run.update({ title: `${title}: ${thousands(counts.count)} points` });
    const made = await keepActs(queue, run, dataset, revision, result);
    response.json({ revision: Number(made.id), counts } satisfies EditAnswer);
  });
}
