import { type Router } from 'express';
import { type Mark } from '@longheron/core/accuracy';
import { METRES_PER } from '@longheron/core/frames';
import { type NoticeDto } from '@longheron/contract/api';
import { AcceptNotice } from '@longheron/contract/requests';
import { Dataset, NoticeRow, Revision } from '../../database/models';
import { bodyOf, idOf } from '../../http/body';
import { HttpError } from '../../http/errors';
import { type Services } from '../../services';
import { changeMarks } from '../marks';
import { contentOf, systemText, wordsOf } from '../../trail';
import { judgeTogether } from '../files/crossFindings';
import { projectOf } from '../projects';
import { carryList } from '../projects/change';

/** Fixes that are one action away, by the code of the notice. They edit the list of marks; undo brings it back. */
const FIXES: Record<string, { label: string; fix: (mark: Mark) => void }> = {
  'mark-exchanged': {
    label: 'Exchange easting and northing',
    fix: (m) => ([m.eastingM, m.northingM] = [m.northingM, m.eastingM]),
  },
  'mark-feet': { label: 'Convert the height from feet', fix: (m) => (m.heightM *= METRES_PER.foot) },
  'mark-far': { label: 'Set its role to unused', fix: (m) => (m.role = 'unused') },
};

/** Fixes of a whole list of marks. */
const LIST_FIXES: Record<string, { label: string; fix: (datasetId: number, project: string) => Promise<boolean> }> = {
  'marks-other-system': {
    label: "Carry the list into the project's system",
    fix: (datasetId, project) => carryList(datasetId, project, project),
  },
};

const nameOf = (n: NoticeRow) => String((n.detail as { place?: string }).place ?? '').replace(/^mark /, '');

export function noticeRoutes(api: Router, services: Services): void {
  const { queue, lists } = services;
  api.get('/projects/:projectId/notices', (request, response) =>
    lists.send(request, response, async () => {
      const project = await projectOf(request);
      const rows = await NoticeRow.findAll({ where: { projectId: project.id }, order: [['id', 'ASC']] });
      return rows.map((n): NoticeDto => {
        const { file, place } = n.detail;
        return {
          id: Number(n.id),
          datasetId: n.datasetId === null ? null : Number(n.datasetId),
          code: n.code,
          severity: n.severity as NoticeDto['severity'],
          file,
          place,
          ...wordsOf(n, project),
          state: n.state as NoticeDto['state'],
          reason: n.reason,
          fix: (FIXES[n.code] ?? LIST_FIXES[n.code])?.label ?? null,
        };
      });
    }),
  );

  const find = async (request: Parameters<typeof projectOf>[0]) => {
    const project = await projectOf(request);
    const notice = await NoticeRow.findOne({ where: { id: idOf(request), projectId: project.id } });
    if (!notice) throw new HttpError(404, 'There is no such notice.', { code: 'not-found' });
    return { projectId: Number(project.id), notice };
  };

  api.post('/projects/:projectId/notices/:id/accept', async (request, response) => {
    const { reason } = bodyOf(request, AcceptNotice);
    const { projectId, notice } = await find(request);
    await notice.update({ state: 'accepted', reason });
    queue.tell(projectId, 'notices', Number(notice.id));
    response.status(204).end();
  });

  api.post('/projects/:projectId/notices/:id/fix', async (request, response) => {
    const { projectId, notice } = await find(request);
    const whole = LIST_FIXES[notice.code];
    if (whole && notice.datasetId !== null) {
      await whole.fix(Number(notice.datasetId), systemText(await projectOf(request)));
      await judgeTogether(projectId);
      queue.tell(projectId, 'datasets', Number(notice.datasetId));
      response.status(204).end();
      return;
    }
    const fix = FIXES[notice.code];
    const dataset = notice.datasetId === null ? null : await Dataset.findByPk(notice.datasetId);
    const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
    const content = revision && dataset?.kind === 'marks' ? contentOf('marks', revision) : undefined;
    const name = nameOf(notice);
    if (!fix || !dataset || !content?.marks.some((m) => m.name === name))
      throw new HttpError(409, 'This notice has no fix of its own.', {
        code: 'no-fix',
        remedy: 'Do what the notice says, or accept it with a reason.',
      });
    await changeMarks(services, projectId, Number(dataset.id), (before) => {
      const marks = structuredClone(before!.marks);
      const mark = marks.find((m) => m.name === name);
      if (mark) fix.fix(mark);
      return { ...before!, marks, how: undefined };
    });
    response.status(204).end();
  });
}
