import { createHash } from 'node:crypto';
import { Dataset, Revision, type Project } from '../database/models';

const hash = (value: unknown) => createHash('sha256').update(JSON.stringify(value)).digest('hex');

/** The reference line as a dataset of the trail, with its current revision; undefined while it is not set. */
export async function referenceOf(project: Project): Promise<{ dataset: Dataset; revision: Revision } | undefined> {
  const line = project.reference;
  if (!line) return undefined;
  const dataset =
    (await Dataset.findOne({ where: { projectId: project.id, kind: 'reference' } })) ??
    (await Dataset.create({
      projectId: project.id,
      kind: 'reference',
      name: 'Reference line',
      stage: 'gather',
      createdAt: new Date(),
    }));
  const contentHash = hash(line);
  let revision = dataset.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  if (revision?.contentHash.toString('hex') !== contentHash) {
    const last = ((await Revision.max('number', { where: { datasetId: dataset.id } })) as number | null) ?? 0;
    revision = await Revision.create({
      datasetId: dataset.id,
      number: last + 1,
      parentId: dataset.currentRevisionId,
      contentHash: Buffer.from(contentHash, 'hex'),
      madeBy: 'edit',
      inputs: [],
      content: {
        reference: line,
        frameHash: hash([
          line.horizontal,
          line.vertical,
          ...(line.geoid ? [line.geoid.sha12] : []),
          ...(line.shift ? [`~${line.shift.sha12}`] : []),
          ...(line.plan ? [`plan ${line.plan.sha12}`, line.fileHeights ?? ''] : []),
        ]),
      },
      createdAt: new Date(),
    });
    await dataset.update({ currentRevisionId: revision.id });
  }
  return { dataset, revision: revision! };
}
