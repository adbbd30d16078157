import { type Contents, type DatasetKind } from '@longheron/contract/api';
import { type FileFacts } from '@longheron/contract/kinds';
import { type Notice } from '@longheron/core/shared';
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

/** Appends a revision and makes it current. */
export async function addRevision(
  dataset: Dataset,
  made: {
    contentHash: string;
    runId?: number;
    madeBy: string;
    version?: number;
    inputs?: RevisionInput[];
    content: Contents[DatasetKind];
  },
  transaction?: Transaction,
): Promise<Revision> {
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
