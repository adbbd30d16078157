import { createHash } from 'node:crypto';
import { type Router } from 'express';
import { PickMark } from '@longheron/contract/requests';
import { parseSystem } from '@longheron/formats/crs';
import { type Measurement } from '@longheron/formats/measurements';
import { planFigures, type KeptSight, type Pick } from '@longheron/operations/plan';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { addRevision, replaceNotices } from '../../jobs/queue';
import { type Services } from '../../services';
import { datasetOf } from '../datasets/find';
import { projectOf } from '../projects';

/** What a plan check keeps, from which its figures are made anew after each pick. */
interface PlanContent {
  sights: KeptSight[];
  picks: Pick[];
  measured: Measurement[];
  cloudSdM: number;
  cloudSdHM: number;
  toleranceM: number;
  crs: string;
}

/** Places of marks that a person points at in the pictures of a plan check; each is a revision of the check. */
export function pickRoutes(api: Router, { queue }: Services): void {
  api.patch('/projects/:projectId/datasets/:id/picks', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset, revision } = await datasetOf(request, projectId);
    if (dataset.kind !== 'plan-check') throw new HttpError(409, 'This dataset is no check of plan.', { code: 'kind' });
    const body = bodyOf(request, PickMark);
    const content = revision.content as unknown as PlanContent;
    const sight = content.sights.find((s) => s.mark.name === body.name);
    if (!sight) throw new HttpError(404, `There is no mark ${body.name} in this check.`, { code: 'not-found' });
    const picks = content.picks.filter((p) => p.name !== body.name);
    if (body.dE !== undefined && body.dN !== undefined)
      picks.push({
        name: body.name,
        eastingM: sight.mark.eastingM + body.dE,
        northingM: sight.mark.northingM + body.dN,
        sdM: body.sdM ?? 0.01,
      });
    const { sights, measured, cloudSdM, cloudSdHM, toleranceM } = content;
    const { figures, notices } = planFigures(
      sights,
      picks,
      measured,
      cloudSdM,
      cloudSdHM,
      toleranceM,
      parseSystem(content.crs),
    );
    await addRevision(dataset, {
      contentHash: createHash('sha256').update(JSON.stringify(figures)).digest('hex'),
      runId: revision.runId === null ? undefined : Number(revision.runId),
      madeBy: 'edit',
      version: revision.operationVersion,
      inputs: revision.inputs,
      content: { ...revision.content, picks, figures },
    });
    await replaceNotices(projectId, Number(dataset.id), notices);
    queue.tell(projectId, 'datasets', Number(dataset.id));
    response.status(204).end();
  });
}
