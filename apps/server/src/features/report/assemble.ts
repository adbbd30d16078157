import { VERSION } from '@longheron/operations/shared';
import { Dataset, NoticeRow, Picture, Revision, Run, type Project } from '../../database/models';
import { type ReportData } from '../../report/content';
import { datasetsOf } from '../datasets/trail';

interface Held {
  dataset: Dataset;
  revision: Revision;
}

/** Gathers all that the report on a terrain model and its height check prints, following the trail up to raw files. */
export async function assembleReport(project: Project, surface: Held, check: Held): Promise<ReportData> {
  const projectId = Number(project.id);
  const states = new Map((await datasetsOf(projectId)).map((d) => [d.id, d]));
  const held = new Map<number, Held>();
  const ordered: Held[] = [];
  const walk = async (h: Held): Promise<void> => {
    const id = Number(h.revision.id);
    if (held.has(id)) return;
    held.set(id, h);
    for (const input of h.revision.inputs) {
      const dataset = await Dataset.findByPk(input.datasetId);
      const revision = await Revision.findByPk(input.revisionId);
      if (dataset && revision) await walk({ dataset, revision });
    }
    ordered.push(h);
  };
  await walk(check);
  await walk(surface);
  const label = (h: Held | undefined) =>
    h ? `${h.dataset.name}, revision ${h.revision.number}` : 'a discarded revision';
  const trail: ReportData['trail'] = [];
  for (const h of ordered) {
    const run = h.revision.runId ? await Run.findByPk(h.revision.runId) : null;
    const { outputDataset: _slot, ...settings } = (run?.settings ?? {}) as Record<string, unknown>;
    const content = h.revision.content as { bytes?: number };
    const now = states.get(Number(h.dataset.id));
    trail.push({
      name: h.dataset.name,
      kind: h.dataset.kind,
      revision: h.revision.number,
      hash: h.revision.contentHash.toString('hex'),
      madeBy: h.revision.madeBy,
      madeAt: h.revision.createdAt.toISOString().slice(0, 16).replace('T', ' ') + ' UTC',
      bytes: content.bytes ?? null,
      from: h.revision.inputs.map((i) => label(held.get(i.revisionId))),
      settings: h.revision.inputs.length ? settings : null,
      outOfDate:
        now && now.revision.id !== Number(h.revision.id)
          ? 'a newer revision is current'
          : (now?.outOfDateBecause ?? null),
    });
  }
  const ids = new Set(ordered.map((h) => Number(h.dataset.id)));
  const names = new Map(ordered.map((h) => [Number(h.dataset.id), h.dataset.name]));
  const rows = await NoticeRow.findAll({ where: { projectId }, order: [['id', 'ASC']] });
  const place = ordered.find((h) => h.revision.madeBy === 'place');
  const cloud = ordered.find((h) =>
    check.revision.inputs.some((i) => i.role === 'cloud' && i.revisionId === Number(h.revision.id)),
  );
  const s = surface.revision.content as Record<string, never>;
  const density = (
    place?.revision.content as { density?: (ReportData['density'] & { picture: string }) | null } | undefined
  )?.density;
  const views = await Picture.findAll({ where: { projectId }, order: [['id', 'ASC']] });
  return {
    project: { name: project.name, purpose: project.purpose, toleranceM: project.toleranceM },
    reference: project.reference as never,
    trail,
    check: {
      name: check.dataset.name,
      figures: (check.revision.content as Record<string, never>).figures,
      cloud: label(cloud),
    },
    surface: {
      name: surface.dataset.name,
      figures: s.figures,
      exports: s.exports,
      tin: s.tin ?? null,
      layout: s.layout,
    },
    place: place ? { figures: (place.revision.content as Record<string, never>).figures } : null,
    density: density ?? null,
    notices: rows
      .filter((n) => n.datasetId !== null && ids.has(Number(n.datasetId)))
      .map((n) => ({
        dataset: names.get(Number(n.datasetId))!,
        severity: n.severity,
        text: n.text,
        ...(n.detail as { effect?: string; remedy?: string }),
        state: n.state,
        reason: n.reason,
      })),
    pictures: {
      relief: s.picture,
      density: density?.picture ?? null,
      views: views.map((v) => ({ object: v.object.toString('hex'), caption: v.caption })),
    },
    version: VERSION,
    date: new Date().toISOString().slice(0, 10),
  };
}
