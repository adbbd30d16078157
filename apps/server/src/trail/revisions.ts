import { type Contents, type DatasetKind } from '@longheron/contract/api';
import { type FileFacts } from '@longheron/contract/kinds';
import { Problem, type Notice } from '@longheron/core/shared';
import { Dataset, NoticeRow, Revision, type RevisionInput } from '../database/models';

type Transaction = NonNullable<Parameters<typeof Dataset.create>[1]>['transaction'];

/** The content of a revision: the kind of its dataset tells the type, which the database cannot. */
export const contentOf = <K extends DatasetKind>(_kind: K, revision: Pick<Revision, 'content'>): Contents[K] =>
  revision.content as Contents[K];

/** Facts of the file behind a revision; undefined for what was made here. */
export const factsOf = ({ content }: Pick<Revision, 'content'>): FileFacts | undefined =>
  'facts' in content ? content.facts : undefined;

/** Object of the file behind a revision. */
export const objectOf = ({ content }: Pick<Revision, 'content'>): string | undefined =>
  'object' in content ? content.object : undefined;

interface Made {
  contentHash: string;
  runId?: number;
  madeBy: string;
  version?: number;
  inputs?: RevisionInput[];
  content: Contents[DatasetKind];
}

/** Codes of the database for two that wait for each other, and for one that waited too long. */
const CLASHES = ['ER_LOCK_DEADLOCK', 'ER_LOCK_WAIT_TIMEOUT', 'ER_CHECKREAD', 'ER_DUP_ENTRY'];
const MAX_TRIES = 8;

/** Work in one transaction, begun anew when it clashed with another's. */
export async function inTransaction<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++)
    try {
      return await Dataset.sequelize!.transaction(work);
    } catch (error) {
      const { code } = ((error as { original?: { code?: string } }).original ?? {}) as { code?: string };
      if (tries === MAX_TRIES || !code || !CLASHES.includes(code)) throw error;
      await new Promise((resolve) => setTimeout(resolve, 20 * tries * Math.random()));
    }
}

/**
 * Changes a dataset by its content as it is at that moment: two who change it at once do so one after the other, and
 * neither's change is lost.
 * @param change the revision to add, from the present one; the notices of it are written in the same step.
 */
export function revise(
  datasetId: number,
  change: (
    dataset: Dataset,
    revision: Revision | null,
    transaction: Transaction,
  ) => Promise<Made & { notices?: Notice[] }>,
): Promise<Revision> {
  return inTransaction(async (transaction) => {
    const dataset = await Dataset.findByPk(datasetId, { transaction, lock: true });
    if (!dataset)
      throw new Problem('This dataset is not there any more.', { code: 'not-found', remedy: 'Reload the page.' });
    const revision = dataset.currentRevisionId
      ? await Revision.findByPk(dataset.currentRevisionId, { transaction })
      : null;
    const { notices, ...made } = await change(dataset, revision, transaction);
    const added = await addRevision(dataset, made, transaction);
    if (notices) await replaceNotices(Number(dataset.projectId), Number(dataset.id), notices, transaction);
    return added;
  });
}

/** Appends a revision and makes it current; in a transaction that has its dataset to itself. */
export async function addRevision(dataset: Dataset, made: Made, transaction?: Transaction): Promise<Revision> {
  if (!transaction) return inTransaction((own) => addRevision(dataset, made, own));
  await dataset.reload({ transaction, lock: true });
  const last =
    ((await Revision.max('number', { where: { datasetId: dataset.id }, transaction })) as number | null) ?? 0;
  const revision = await Revision.create(
    {
      datasetId: dataset.id,
      number: last + 1,
      contentHash: Buffer.from(made.contentHash, 'hex'),
      runId: made.runId ?? null,
      parentId: dataset.currentRevisionId,
      madeBy: made.madeBy,
      operationVersion: made.version ?? 0,
      inputs: made.inputs ?? [],
      content: made.content,
      createdAt: new Date(),
    },
    { transaction },
  );
  await dataset.update({ currentRevisionId: revision.id }, { transaction });
  return revision;
}

/** The findings of a dataset's current revision; answers already given to the same finding are kept. */
export async function replaceNotices(
  projectId: number,
  datasetId: number,
  notices: Notice[],
  transaction?: Transaction,
): Promise<void> {
  const before = await NoticeRow.findAll({ where: { datasetId }, transaction });
  const answer = new Map(before.filter((n) => n.state === 'accepted').map((n) => [`${n.code} ${n.text}`, n.reason]));
  await NoticeRow.destroy({ where: { datasetId }, transaction });
  for (const n of notices)
    await NoticeRow.create(
      {
        projectId,
        datasetId,
        code: n.code,
        severity: n.severity,
        text: n.text,
        detail: { effect: n.effect, remedy: n.remedy, file: n.file, place: n.place },
        state: answer.has(`${n.code} ${n.text}`) ? 'accepted' : 'open',
        reason: answer.get(`${n.code} ${n.text}`) ?? null,
        createdAt: new Date(),
      },
      { transaction },
    );
}
