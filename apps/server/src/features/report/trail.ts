import { Dataset, NoticeRow, Revision, Run, type Project } from '../../database/models';
import { type Account } from '@longheron/operations/shared/pages';
import { datasetsOf, wordsOf, type Held } from '../../trail';

/** The trail of some results. */
export interface GatheredTrail {
  trail: Account['trail'];
  notices: Account['notices'];
  /** Everything behind the results and these themselves, inputs before what depends on them. */
  ordered: Held[];
  label(h: Held | undefined): string;
}

/** Follows the trail of results up to raw files, with what was said of each and how it was answered. */
export async function gatherTrail(project: Project, roots: Held[]): Promise<GatheredTrail> {
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
  for (const root of roots) await walk(root);
  const label = (h: Held | undefined) =>
    h ? `${h.dataset.name}, revision ${h.revision.number}` : 'a discarded revision';
  const trail: Account['trail'] = [];
  for (const h of ordered) {
    const run = h.revision.runId ? await Run.findByPk(h.revision.runId) : null;
    const { outputDataset: _slot, ...settings } = run?.settings ?? {};
    const { content } = h.revision;
    const now = states.get(Number(h.dataset.id));
    trail.push({
      name: h.dataset.name,
      kind: h.dataset.kind,
      revision: h.revision.number,
      hash: h.revision.contentHash.toString('hex'),
      madeBy: h.revision.madeBy,
      madeAt: h.revision.createdAt.toISOString().slice(0, 16).replace('T', ' ') + ' UTC',
      bytes: ('bytes' in content ? content.bytes : undefined) ?? null,
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
  const notices = rows
    .filter((n) => n.datasetId !== null && ids.has(Number(n.datasetId)))
    .map((n) => ({
      dataset: names.get(Number(n.datasetId))!,
      severity: n.severity,
      ...wordsOf(n, project),
      state: n.state,
      reason: n.reason,
    }));
  return { trail, notices, ordered, label };
}
