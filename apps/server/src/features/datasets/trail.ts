import { createHash } from 'node:crypto';
import { type Mark } from '@longheron/core/accuracy';
import { parseMounting } from '@longheron/core/frames';
import { type DatasetDto, type RevisionDto } from '@longheron/contract/api';
import { Dataset, Revision } from '../../database/models';
import { PLANS } from '../../jobs/plans';

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

/** Role of a mounting of which one sensor alone counts; the sensor's name follows. */
export const SENSOR_ROLE = 'sensor ';

/**
 * What an input is compared by. Computations look at the reference line's systems only: another unit or time display
 * changes no result, but it does change a report, which takes the whole line under its own role. A trajectory looks at
 * a mounting only for the antenna and the wheels: a scanner's boresight changes nothing in it.
 */
export function hashFor(role: string, revision: Revision): string {
  const { frameHash: frame, mounting } = revision.content as { frameHash?: string; mounting?: unknown };
  if (role === 'antenna' && mounting) {
    const { gnssLeverArmM, gnssLeverArmSdM, vehicle } = parseMounting(mounting);
    const text = JSON.stringify([gnssLeverArmM, gnssLeverArmSdM, vehicle]);
    return createHash('sha256').update(text).digest('hex');
  }
  if (role.startsWith(SENSOR_ROLE) && mounting) {
    const sensor = parseMounting(mounting).sensors[role.slice(SENSOR_ROLE.length)];
    return createHash('sha256')
      .update(JSON.stringify(sensor ?? null))
      .digest('hex');
  }
  if (role === 'known') {
    // only compared with: roles and notes change nothing
    const marks = (revision.content.marks as Mark[] | undefined) ?? [];
    const text = JSON.stringify(marks.map((m) => [m.name, m.eastingM, m.northingM, m.heightM]));
    return createHash('sha256').update(text).digest('hex');
  }
  return role === 'reference' && frame ? frame : revision.contentHash.toString('hex');
}

/**
 * All datasets of a project with their state. A revision is out of date when the content of an input's current
 * revision differs from what it was made with, when an input is itself out of date, or when the operation has changed
 * its results since.
 */
export async function datasetsOf(projectId: number): Promise<DatasetDto[]> {
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
  const memo = new Map<number, string | null>();
  const because = (id: number): string | null => {
    if (memo.has(id)) return memo.get(id)!;
    memo.set(id, null);
    const r = byDataset.get(id);
    let reason: string | null = null;
    for (const input of r?.inputs ?? []) {
      const now = byDataset.get(input.datasetId);
      if (!now) reason = `an input is gone`;
      else if (hashFor(input.role, now) !== input.contentHash)
        reason = `"${names.get(input.datasetId)}" has changed since`;
      else if (because(input.datasetId)) reason = `"${names.get(input.datasetId)}" is itself out of date`;
      if (reason) break;
    }
    const plan = r && PLANS[r.madeBy];
    if (!reason && plan && r.operationVersion !== plan.version) reason = 'the method has been improved since';
    memo.set(id, reason);
    return reason;
  };
  return datasets
    .filter((d) => byDataset.has(Number(d.id)))
    .map((d) => {
      const id = Number(d.id);
      return {
        id,
        kind: d.kind as DatasetDto['kind'],
        name: d.name,
        stage: d.stage as DatasetDto['stage'],
        revision: revisionDto(byDataset.get(id)!),
        revisions: counts.get(id) ?? 1,
        canUndo: byDataset.get(id)!.parentId !== null,
        canRedo: parents.has(Number(byDataset.get(id)!.id)),
        outOfDate: because(id) !== null,
        outOfDateBecause: because(id),
      };
    });
}
