import { type ReferenceDto } from '@longheron/contract/api';
import { Dataset, Project, Revision } from '../../database/models';
import { HttpError } from '../../http/errors';
import { addRevision, inTransaction, objectOf } from '../../trail';

type NamedFile = NonNullable<ReferenceDto['geoid']>;

/**
 * The reference line of another project as it would be in this one. Grids and systems that it needs are copied: they share
 * their bytes with those of the other project. Nothing is set.
 * @throws HttpError when that project has none.
 */
export async function takenFrom(projectId: number, from: number): Promise<ReferenceDto> {
  const line = (await Project.findByPk(from))?.reference as ReferenceDto | null | undefined;
  if (!line)
    throw new HttpError(404, 'That project has no reference line.', {
      code: 'not-found',
      remedy: 'Choose another project.',
    });
  const own = (file: NamedFile | undefined) => file && copied(projectId, file);
  const [plan, geoid, shift] = [await own(line.plan), await own(line.geoid), await own(line.shift)];
  return {
    ...line,
    ...(plan ? { plan } : {}),
    ...(geoid ? { geoid } : {}),
    ...(shift ? { shift } : {}),
  };
}

/** The same file as a dataset of this project; made when it is not there yet. */
async function copied(projectId: number, file: NamedFile): Promise<NamedFile> {
  const source = await Dataset.findByPk(file.dataset);
  const revision = source?.currentRevisionId ? await Revision.findByPk(source.currentRevisionId) : null;
  if (!source || !revision || !objectOf(revision)?.startsWith(file.sha12))
    throw new HttpError(404, `The file ${file.name} of that project is not there any more.`, {
      code: 'grid-missing',
      remedy: 'Import it in Gather.',
    });
  return inTransaction(async (transaction) => {
    // of two who take it over at once one copies it
    await Project.findByPk(projectId, { transaction, lock: true });
    for (const d of await Dataset.findAll({ where: { projectId, kind: source.kind }, transaction })) {
      const now = d.currentRevisionId ? await Revision.findByPk(d.currentRevisionId, { transaction }) : null;
      if (now && objectOf(now) === objectOf(revision)) return { ...file, dataset: Number(d.id) };
    }
    const { kind, name } = source;
    const made = await Dataset.create(
      { projectId, kind, name, stage: 'gather', createdAt: new Date() },
      { transaction },
    );
    const contentHash = revision.contentHash.toString('hex');
    await addRevision(made, { contentHash, madeBy: 'intake', content: revision.content }, transaction);
    return { ...file, dataset: Number(made.id) };
  });
}
