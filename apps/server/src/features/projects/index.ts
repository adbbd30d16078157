import { type Request, type Router } from 'express';
import { type ChangedDto, type ListedProject, type ProjectDto, type ReferenceDto } from '@longheron/contract/api';
import { CreateProject, ReferenceLine, TakeReference, UpdateProject } from '@longheron/contract/requests';
import { gridNameOf, planFactor } from '@longheron/core/frames';
import { parseSystem } from '@longheron/formats/crs';
import { Dataset, Project, Revision } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { objectOf, systemText, toleranceOf } from '../../trail';
import { type Services } from '../../services';
import { describeReference } from '../systems';
import { judgeTogether } from '../files/crossFindings';
import { deleteProject, holdingsOf } from './holdings';
import { refreshPreviews } from './previews';
import { referenceOf } from '../../trail';
import { suggestReferences } from './suggestions';
import { carryOver, changeTo } from './change';
import { takenFrom } from './taken';

export async function projectOf(request: Request): Promise<Project> {
  const project = await Project.findByPk(idOf(request, 'projectId'));
  if (!project) throw new HttpError(404, 'There is no such project.', { code: 'not-found' });
  return project;
}

function dto(p: Project): ProjectDto {
  return {
    id: Number(p.id),
    name: p.name,
    toleranceM: p.toleranceM,
    planToleranceM: toleranceOf(p, 'plan'),
    classTolerance: p.classTolerance,
    surfaceToleranceM: p.surfaceToleranceM,
    purpose: p.purpose ?? '',
    reference: p.reference as ReferenceDto | null,
    putAway: Boolean(p.putAway),
    createdAt: p.createdAt.toISOString(),
  };
}

/** Kinds of files that a part of the reference line can be, what it is called, and what is imported for it. */
const FILES_OF = {
  geoid: { kinds: ['geoid', 'system'], name: 'geoid grid or height system', bring: 'the grid, GTX or GeoTIFF,' },
  shift: { kinds: ['datum-grid'], name: 'datum grid', bring: 'the grid, NTv2 or GeoTIFF,' },
  plan: { kinds: ['system'], name: 'coordinate system', bring: 'its well-known text' },
} as const;

/** A file of a project's reference line by its dataset. @throws HttpError when it has no such file. */
async function fileOf(
  projectId: number,
  id: number | undefined,
  part: keyof typeof FILES_OF,
): Promise<ReferenceDto['geoid']> {
  if (id === undefined) return undefined;
  const { kinds, name, bring } = FILES_OF[part];
  const dataset = await Dataset.findOne({ where: { id, projectId, kind: [...kinds] } });
  const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  const sha = revision && objectOf(revision);
  if (!dataset || !sha)
    throw new HttpError(400, `There is no such ${name} in this project.`, {
      code: 'grid-missing',
      remedy: `Import ${bring} in Gather.`,
    });
  return { dataset: Number(dataset.id), ...gridNameOf(dataset.name, sha) };
}

/** A reference line as it is asked for, with its files. @throws HttpError, Problem when it cannot be used. */
export async function referenceAsked(projectId: number, line: ReferenceLine): Promise<ReferenceDto> {
  return describeReference(line, {
    plan: await fileOf(projectId, line.plan, 'plan'),
    geoid: await fileOf(projectId, line.geoid, 'geoid'),
    shift: await fileOf(projectId, line.shift, 'shift'),
  });
}

/** Makes the demo project anew; refuses while there is one. */
export interface DemoMaker {
  again(): Promise<Project>;
}

export function projectRoutes(api: Router, services: Services, demo: DemoMaker): void {
  const { queue, lists } = services;
  api.get('/projects', (request, response) =>
    lists.send(request, response, async () => {
      const projects = await Project.findAll({ order: [['id', 'ASC']] });
      return Promise.all(
        projects.map(async (p): Promise<ListedProject> => ({ ...dto(p), holds: await holdingsOf(services, p) })),
      );
    }),
  );
  api.post('/projects', async (request, response) => {
    const { name } = bodyOf(request, CreateProject);
    response.status(201).json(dto(await Project.create({ name, createdAt: new Date() })));
  });
  api.post('/demo', async (_request, response) => {
    response.status(202).json(dto(await demo.again()));
  });
  api.get('/projects/:projectId', async (request, response) => {
    response.json(dto(await projectOf(request)));
  });
  api.patch('/projects/:projectId', async (request, response) => {
    const project = await projectOf(request);
    await project.update({ ...bodyOf(request, UpdateProject) });
    queue.tell(Number(project.id), 'project', Number(project.id));
    response.json(dto(project));
  });
  api.delete('/projects/:projectId', async (request, response) => {
    const project = await projectOf(request);
    await deleteProject(project);
    queue.tell(Number(project.id), 'project', Number(project.id));
    response.status(204).end();
  });
  api.put('/projects/:projectId/reference', async (request, response) => {
    const project = await projectOf(request);
    const line = bodyOf(request, ReferenceLine);
    const reference = await referenceAsked(Number(project.id), line);
    const before = project.reference as ReferenceDto | null;
    // marks first: were it cut off, a list that is in the new system already stays as it is when it is done again
    if (before) await carryOver(Number(project.id), before, reference);
    await project.update({ reference });
    await referenceOf(project);
    await refreshPreviews(services, project);
    await judgeTogether(Number(project.id));
    queue.tell(Number(project.id), 'project', Number(project.id));
    response.json(dto(project));
  });

  /** What a reference line would change, and by how much; nothing is changed. */
  api.post('/projects/:projectId/reference/preview', async (request, response) => {
    const project = await projectOf(request);
    const next = await referenceAsked(Number(project.id), bodyOf(request, ReferenceLine));
    const before = project.reference as ReferenceDto | null;
    const none: ChangedDto = { moved: null, items: [] };
    response.json(before ? await changeTo(Number(project.id), before, next) : none);
  });

  /** Copies the files that another project's reference line needs, and gives that line as it would be here. */
  api.post('/projects/:projectId/reference/take', async (request, response) => {
    const project = await projectOf(request);
    const { from } = bodyOf(request, TakeReference);
    response.json(await takenFrom(Number(project.id), from));
  });

  /** What lengths on the ground are multiplied with in the plan of the project, at a place of it (?at=E,N,H in metres). */
  api.get('/projects/:projectId/plan-factor', async (request, response) => {
    const project = await projectOf(request);
    const at = String(request.query.at ?? '')
      .split(',')
      .map(Number);
    if (at.length !== 3 || !at.every(Number.isFinite))
      throw new HttpError(400, 'A place is three numbers: easting, northing, height.', {
        code: 'invalid',
        field: 'at',
      });
    const factor = planFactor(parseSystem(systemText(project)), [at[0], at[1], at[2]]);
    response.json({ factor: Number.isFinite(factor) ? factor : null });
  });

  /** Systems that the files taken in so far speak for, each with its reason. */
  api.get('/projects/:projectId/suggested-reference', async (request, response) => {
    const project = await projectOf(request);
    response.json(await suggestReferences(Number(project.id)));
  });
}
