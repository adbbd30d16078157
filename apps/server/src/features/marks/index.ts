import { createHash } from 'node:crypto';
import { type Router } from 'express';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, formatAngle, parseAngle } from '@longheron/core/frames';
import { type Contents, type LocatedDto } from '@longheron/contract/api';
import { type FileFacts } from '@longheron/contract/kinds';
import { AddMark, EditMark, GiveRoles, Locate, MarkColumns } from '@longheron/contract/requests';
import { parseSystem } from '@longheron/formats/crs';
import { suspectMarks, type MarkContext } from '@longheron/core/accuracy';
import { Dataset, Project, Revision } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import {
  addRevision,
  contentOf,
  factsOf,
  inTransaction,
  objectOf,
  replaceNotices,
  revise,
  systemText,
} from '../../trail';
import { type Services } from '../../services';
import { datasetOf, heldOf } from '../datasets/find';
import { projectOf } from '../projects';

const TYPED_IN = 'Marks typed in';
const NO_MARKS = 'This dataset holds no marks.';
const hash = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');

/** What is known of the site beside a list of marks, to judge it by. @param except list that is judged. */
export async function markContext(projectId: number, except?: number): Promise<MarkContext> {
  const datasets = await Dataset.findAll({ where: { projectId } });
  const marks: Mark[] = [];
  let extent: [number, number, number, number] | undefined;
  let undulationM: number | undefined;
  for (const d of datasets) {
    if (d.currentRevisionId === null) continue;
    if (d.kind === 'marks' && Number(d.id) !== except) {
      const r = await Revision.findByPk(d.currentRevisionId);
      if (r) marks.push(...contentOf('marks', r).marks);
    } else if (d.kind === 'trajectory') {
      const r = await Revision.findByPk(d.currentRevisionId);
      const around = r ? contentOf('trajectory', r).around : undefined;
      if (!around) continue;
      const e = around.extent;
      extent = extent
        ? [Math.min(extent[0], e[0]), Math.min(extent[1], e[1]), Math.max(extent[2], e[2]), Math.max(extent[3], e[3])]
        : e;
      undulationM = around.undulationM;
    }
  }
  const project = await Project.findByPk(projectId);
  const metresPerUnit = project?.reference ? parseSystem(systemText(project)).definition.metresPerUnit : undefined;
  return { marks, extent, undulationM, metresPerUnit };
}

/**
 * Changes a list of marks as it is at that moment, and judges it anew.
 * @param change the list as it shall be, with what was done for the trail.
 */
export async function changeMarks(
  services: Services,
  projectId: number,
  datasetId: number,
  change: (before: Contents['marks'] | undefined) => Contents['marks'],
): Promise<void> {
  const context = await markContext(projectId, datasetId);
  await revise(datasetId, async (dataset, revision) => {
    // what somebody has changed is no longer what was carried here
    const { carriedFrom: _carried, ...content } = change(revision ? contentOf('marks', revision) : undefined);
    const judged = content.marks.filter((m) => !m.leftOutReason);
    const notices = suspectMarks(judged, dataset.name, context);
    return { contentHash: hash(content.marks), madeBy: 'edit', content, notices };
  });
  services.queue.tell(projectId, 'datasets', datasetId);
}

/** A mark of a list that may be changed. @throws HttpError when there is none of that name. */
function markNamed(marks: Mark[], name: string): Mark {
  const mark = marks.find((m) => m.name === name);
  if (!mark) throw new HttpError(404, `There is no mark ${name} in this list.`, { code: 'not-found' });
  return mark;
}

/** The list named "Marks typed in" of a project; made when there is none yet. */
const typedIn = (projectId: number) =>
  inTransaction(async (transaction) => {
    // of two who type the first mark at once one makes the list
    await Project.findByPk(projectId, { transaction, lock: true });
    const where = { projectId, kind: 'marks' as const, name: TYPED_IN };
    return (
      (await Dataset.findOne({ where, transaction })) ??
      Dataset.create({ ...where, stage: 'gather', createdAt: new Date() }, { transaction })
    );
  });

export function markRoutes(api: Router, services: Services): void {
  const { queue } = services;
  api.patch('/projects/:projectId/datasets/:id/marks', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await heldOf(request, Number(project.id), 'marks', NO_MARKS);
    const edit = bodyOf(request, EditMark);
    await changeMarks(services, Number(project.id), Number(dataset.id), (before) => {
      const marks = structuredClone(before!.marks);
      const mark = markNamed(marks, edit.name);
      if (edit.role) mark.role = edit.role;
      if (edit.leftOutReason !== undefined) mark.leftOutReason = edit.leftOutReason || undefined;
      const out = mark.leftOutReason ? `left out: ${mark.leftOutReason}` : 'used again';
      return { ...before!, marks, how: `${mark.name} ${edit.role ? `to ${mark.role}` : out}` };
    });
    response.status(204).end();
  });

  api.post('/projects/:projectId/datasets/:id/roles', async (request, response) => {
    const project = await projectOf(request);
    const { dataset } = await heldOf(request, Number(project.id), 'marks', NO_MARKS);
    const { roles, by } = bodyOf(request, GiveRoles);
    await changeMarks(services, Number(project.id), Number(dataset.id), (before) => {
      const marks = structuredClone(before!.marks);
      const byName = new Map(marks.map((m) => [m.name, m]));
      for (const { name, role } of roles) (byName.get(name) ?? markNamed(marks, name)).role = role;
      return { ...before!, marks, how: by };
    });
    response.status(204).end();
  });

  /** Reads a typed latitude and longitude and shows it back in every form. */
  api.post('/projects/:projectId/locate', async (request, response) => {
    const project = await projectOf(request);
    const typed = bodyOf(request, Locate);
    const system = parseSystem(systemText(project));
    const [latDeg, lonDeg] = [parseAngle(typed.latitude, 'latitude'), parseAngle(typed.longitude, 'longitude')];
    const [lat, lon] = [latDeg * DEG, lonDeg * DEG];
    const undulationM = system.geoid.undulation(lat, lon);
    const typedM = typed.heightM;
    const hEllM = typedM === undefined ? null : typed.heightIs === 'ellipsoidal' ? typedM : typedM + undulationM;
    const place = new Float64Array(3);
    system.project(lat, lon, hEllM ?? undulationM, place);
    const { extent } = await markContext(Number(project.id));
    const answer: LocatedDto = {
      latDeg,
      lonDeg,
      latText: formatAngle(latDeg, 'latitude'),
      lonText: formatAngle(lonDeg, 'longitude'),
      eastingM: place[0],
      northingM: place[1],
      heightM: hEllM === null ? null : place[2],
      hEllM,
      undulationM,
      distanceM: extent
        ? Math.hypot(place[0] - (extent[0] + extent[2]) / 2, place[1] - (extent[1] + extent[3]) / 2)
        : null,
    };
    response.json(answer);
  });

  /** Adds a mark typed in by hand, to the list named "Marks typed in" or to the one addressed. */
  api.post('/projects/:projectId/marks', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const mark = bodyOf(request, AddMark);
    const dataset = await typedIn(projectId);
    await changeMarks(services, projectId, Number(dataset.id), (before) => {
      const held = before?.marks ?? [];
      if (held.some((m) => m.name === mark.name))
        throw new HttpError(409, `There is a mark ${mark.name} in this list already.`, {
          code: 'double',
          field: 'name',
        });
      const marks = [...held, { ...mark }];
      const facts: FileFacts = {
        kind: 'marks',
        name: TYPED_IN,
        bytes: 0,
        count: marks.length,
        startGps: null,
        endGps: null,
        rateHz: null,
        gaps: [],
        extent: null,
        details: [['Marks', String(marks.length)]],
      };
      return { object: '', facts, crs: null, marks, how: `${mark.name} typed in` };
    });
    response.status(201).json({ datasetId: Number(dataset.id) });
  });

  /** Gives the columns of a foreign table their meaning; the table becomes a list of marks. */
  api.post('/projects/:projectId/datasets/:id/columns', async (request, response) => {
    const project = await projectOf(request);
    const projectId = Number(project.id);
    const { dataset, revision } = await datasetOf(request, projectId);
    const mapping = bodyOf(request, MarkColumns);
    const object = objectOf(revision);
    const before = factsOf(revision);
    if (!object || !before || !['table', 'marks'].includes(dataset.kind))
      throw new HttpError(409, 'This dataset is no table.', { code: 'kind' });
    const { run, result } = await queue.background(projectId, 'intake', `Read marks of ${dataset.name}`, 'map-marks', {
      object,
      name: dataset.name,
      mapping: { ...mapping },
      context: await markContext(projectId, Number(dataset.id)),
    });
    const { marks, mapping: read } = result.content;
    const facts = { ...before, kind: 'marks', count: marks.length };
    await dataset.update({ kind: 'marks' });
    await addRevision(dataset, {
      contentHash: hash(marks),
      runId: run.id,
      madeBy: 'edit',
      content: {
        ...contentOf('table', revision),
        marks,
        mapping: read,
        facts,
        crs: contentOf('table', revision).crs ?? null,
      },
    });
    await replaceNotices(projectId, Number(dataset.id), result.notices);
    await queue.succeed(run, [Number(dataset.id)]);
    response.json({ marks: marks.length });
  });
}
