import { createHash } from 'node:crypto';
import { type Router } from 'express';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, EGM96, formatAngle, parseAngle } from '@longheron/core/frames';
import { type Contents, type LocatedDto } from '@longheron/contract/api';
import { type FileFacts } from '@longheron/contract/kinds';
import { AddMark, EditMark, GiveRoles, Locate, MarkColumns } from '@longheron/contract/requests';
import { parseSystem } from '@longheron/formats/crs';
import { suspectMarks, type MarkContext } from '@longheron/core/accuracy';
import { Dataset, Revision } from '../../database/models';
import { bodyOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { addRevision, contentOf, factsOf, objectOf, replaceNotices, systemText } from '../../trail';
import { type Services } from '../../services';
import { datasetOf, heldOf } from '../datasets/find';
import { projectOf } from '../projects';

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
  return { marks, extent, undulationM };
}

/** Adds a revision with other marks and judges them anew. @param how what was done, for the trail. */
export async function changeMarks(
  services: Services,
  projectId: number,
  dataset: Dataset,
  before: Omit<Contents['marks'], 'marks' | 'how'>,
  marks: Mark[],
  how?: string,
): Promise<void> {
  const content = { ...before, marks, how };
  await addRevision(dataset, { contentHash: hash(marks), madeBy: 'edit', content });
  const judged = marks.filter((m) => !m.leftOutReason);
  const found = suspectMarks(judged, dataset.name, await markContext(projectId, Number(dataset.id)));
  await replaceNotices(projectId, Number(dataset.id), found);
  services.queue.tell(projectId, 'datasets', Number(dataset.id));
}

export function markRoutes(api: Router, services: Services): void {
  const { queue } = services;
  api.patch('/projects/:projectId/datasets/:id/marks', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await heldOf(request, Number(project.id), 'marks', NO_MARKS);
    const edit = bodyOf(request, EditMark);
    const marks = structuredClone(content.marks);
    const mark = marks.find((m) => m.name === edit.name);
    if (!mark) throw new HttpError(404, `There is no mark ${edit.name} in this list.`, { code: 'not-found' });
    if (edit.role) mark.role = edit.role;
    if (edit.leftOutReason !== undefined) mark.leftOutReason = edit.leftOutReason || undefined;
    const how = edit.role
      ? `${mark.name} to ${mark.role}`
      : `${mark.name} ${mark.leftOutReason ? `left out: ${mark.leftOutReason}` : 'taken in again'}`;
    await changeMarks(services, Number(project.id), dataset, content, marks, how);
    response.status(204).end();
  });

  api.post('/projects/:projectId/datasets/:id/roles', async (request, response) => {
    const project = await projectOf(request);
    const { dataset, content } = await heldOf(request, Number(project.id), 'marks', NO_MARKS);
    const { roles, by } = bodyOf(request, GiveRoles);
    const marks = structuredClone(content.marks);
    const byName = new Map(marks.map((m) => [m.name, m]));
    const unknown = roles.find((r) => !byName.has(r.name));
    if (unknown) throw new HttpError(404, `There is no mark ${unknown.name} in this list.`, { code: 'not-found' });
    for (const { name, role } of roles) byName.get(name)!.role = role;
    await changeMarks(services, Number(project.id), dataset, content, marks, by);
    response.status(204).end();
  });

  /** Reads a typed latitude and longitude and shows it back in every form. */
  api.post('/projects/:projectId/locate', async (request, response) => {
    const project = await projectOf(request);
    const typed = bodyOf(request, Locate);
    const system = parseSystem(systemText(project));
    const [latDeg, lonDeg] = [parseAngle(typed.latitude, 'latitude'), parseAngle(typed.longitude, 'longitude')];
    const [lat, lon] = [latDeg * DEG, lonDeg * DEG];
    const undulationM = system.definition.verticalCode ? EGM96.undulation(lat, lon) : 0;
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
    const name = 'Marks typed in';
    const dataset =
      (await Dataset.findOne({ where: { projectId, kind: 'marks', name } })) ??
      (await Dataset.create({ projectId, kind: 'marks', name, stage: 'gather', createdAt: new Date() }));
    const revision = dataset.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
    const before = revision ? contentOf('marks', revision).marks : [];
    if (before.some((m) => m.name === mark.name))
      throw new HttpError(409, `There is a mark ${mark.name} in this list already.`, { code: 'double', field: 'name' });
    const marks = [...before, { ...mark }];
    const facts: FileFacts = {
      ...{ kind: 'marks', name, bytes: 0, count: marks.length, startGps: null, endGps: null, rateHz: null, gaps: [] },
      ...{ extent: null, details: [['Marks', String(marks.length)]] },
    };
    await changeMarks(services, projectId, dataset, { object: '', facts, crs: null }, marks, `${mark.name} typed in`);
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
