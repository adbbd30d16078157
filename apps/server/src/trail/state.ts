import { createHash } from 'node:crypto';
import { type Contents, type DatasetDto, type DatasetKind, type RevisionDto } from '@longheron/contract/api';
import { kindOf } from '@longheron/contract/kinds';
import { operationOf, OPERATIONS } from '@longheron/contract/operations';
import { type Declaration } from '@longheron/contract/declare';
import { Dataset, Project, Revision } from '../database/models';
import { toleranceOf, toleranceWords } from './tolerances';
import { contentOf } from './revisions';

export function revisionDto(r: Revision): RevisionDto {
  return {
    id: Number(r.id),
    number: r.number,
    contentHash: r.contentHash.toString('hex'),
    runId: r.runId === null ? null : Number(r.runId),
    madeBy: r.madeBy,
    inputs: r.inputs,
    createdAt: r.createdAt.toISOString(),
    content: r.content,
  };
}

/** Roles of marks that a local system is found from. */
const SYSTEM_ROLES: readonly string[] = Object.keys(OPERATIONS['local-system'].roles);

/**
 * What an input is compared by. Computations look at the reference line's systems only: another unit or time display
 * changes no result, but it does change a report, which takes the whole line under its own role. Of some kinds a role
 * looks at a part only, as their declaration says.
 */
export function hashFor(role: string, revision: Revision, kind: DatasetKind): string {
  if (role === 'reference' && kind === 'reference') return contentOf('reference', revision).frameHash;
  // a local system is what it is also when its marks were carried into it since
  if (kind === 'marks' && SYSTEM_ROLES.includes(role)) {
    const { carriedFrom } = contentOf('marks', revision);
    if (carriedFrom) return carriedFrom.hash;
  }
  const part = partOf(kind, role, contentOf(kind, revision));
  if (part === undefined) return revision.contentHash.toString('hex');
  return createHash('sha256').update(JSON.stringify(part)).digest('hex');
}

const partOf = <K extends DatasetKind>(kind: K, role: string, content: Contents[K]): unknown =>
  kindOf(kind).comparedBy?.(role, content);

/** Why a verdict is out of date when it was given by another tolerance than the project's; null when it was not. */
function toleranceChanged(project: Project, kind: DatasetKind, revision: Revision): string | null {
  const used = judgedBy(kind, contentOf(kind, revision));
  if (used === null || used === undefined) return null;
  // a pick by hand makes a revision too: the kind tells whose verdict it is
  const name = Object.values<Declaration>(OPERATIONS).find((o) => o.result === kind)?.tolerance;
  const now = toleranceOf(project, name);
  if (Math.abs(used - now) < 1e-9) return null;
  return `the tolerance has changed since, from ${toleranceWords(used, name)} to ${toleranceWords(now, name)}`;
}

const judgedBy = <K extends DatasetKind>(kind: K, content: Contents[K]) => kindOf(kind).judgedBy?.(content);

/**
 * All datasets of a project with their state. A revision is out of date when the content of an input's current
 * revision differs from what it was made with, when an input is itself out of date, when its verdict used another
 * tolerance, or when the operation has changed its results since.
 */
export async function datasetsOf(projectId: number): Promise<DatasetDto[]> {
  const project = await Project.findByPk(projectId);
  const datasets = await Dataset.findAll({ where: { projectId }, order: [['id', 'ASC']] });
  const revisions = await Revision.findAll({
    where: { id: datasets.map((d) => d.currentRevisionId).filter((v) => v !== null) },
  });
  const counts = new Map<number, number>();
  const parents = new Set<number>();
  for (const r of await Revision.findAll({
    attributes: ['id', 'datasetId', 'parentId'],
    where: { datasetId: datasets.map((d) => d.id) },
    raw: true,
  })) {
    counts.set(Number(r.datasetId), (counts.get(Number(r.datasetId)) ?? 0) + 1);
    if (r.parentId !== null) parents.add(Number(r.parentId));
  }
  const byDataset = new Map(revisions.map((r) => [Number(r.datasetId), r]));
  const names = new Map(datasets.map((d) => [Number(d.id), d.name]));
  const kinds = new Map(datasets.map((d) => [Number(d.id), d.kind]));
  const memo = new Map<number, string | null>();
  const because = (id: number): string | null => {
    if (memo.has(id)) return memo.get(id)!;
    memo.set(id, null);
    const r = byDataset.get(id);
    let reason: string | null = null;
    for (const input of r?.inputs ?? []) {
      const now = byDataset.get(input.datasetId);
      if (!now) reason = `an input is gone`;
      else if (hashFor(input.role, now, kinds.get(input.datasetId)!) !== input.contentHash)
        reason = `"${names.get(input.datasetId)}" has changed since`;
      else if (because(input.datasetId)) reason = `"${names.get(input.datasetId)}" is itself out of date`;
      if (reason) break;
    }
    const plan = r && operationOf(r.madeBy);
    if (!reason && r && project) reason = toleranceChanged(project, kinds.get(id)!, r);
    if (!reason && plan && r.operationVersion !== plan.version) reason = 'the method has been improved since';
    memo.set(id, reason);
    return reason;
  };
  return datasets
    .filter((d) => byDataset.has(Number(d.id)))
    .map((d) => {
      const id = Number(d.id);
      const dto = {
        id,
        kind: d.kind,
        name: d.name,
        stage: d.stage,
        revision: revisionDto(byDataset.get(id)!),
        revisions: counts.get(id) ?? 1,
        canUndo: byDataset.get(id)!.parentId !== null,
        canRedo: parents.has(Number(byDataset.get(id)!.id)),
        outOfDate: because(id) !== null,
        outOfDateBecause: because(id),
      };
      // the kind of the row tells the type of its content
      return dto as DatasetDto;
    });
}
