import { createHash } from 'node:crypto';
import { type Router } from 'express';
import { PickMark } from '@longheron/contract/requests';
import { parseSystem } from '@longheron/formats/crs';
import { planFigures } from '@longheron/operations/plan-check';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { contentOf, revise } from '../../trail';
import { type Services } from '../../services';
import { heldOf } from '../datasets/find';
import { projectOf } from '../projects';

/** Places of marks that a person points at in the pictures of a plan check; each is a revision of the check. */
export function pickRoutes(api: Router, { queue }: Services): void {
  api.patch('/projects/:projectId/datasets/:id/picks', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const refusal = 'This dataset is no check of plan.';
    const { dataset } = await heldOf(request, projectId, 'plan-check', refusal);
    const body = bodyOf(request, PickMark);
    await revise(Number(dataset.id), async (_dataset, revision) => {
      const content = contentOf('plan-check', revision!);
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
      return {
        contentHash: createHash('sha256').update(JSON.stringify(figures)).digest('hex'),
        runId: revision!.runId === null ? undefined : Number(revision!.runId),
        madeBy: 'edit',
        version: revision!.operationVersion,
        inputs: revision!.inputs,
        content: { ...content, picks, figures },
        notices,
      };
    });
    queue.tell(projectId, 'datasets', Number(dataset.id));
    response.status(204).end();
  });
}
