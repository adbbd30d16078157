import { Dataset, Revision, type Project } from '../../database/models';
import { contentOf, systemText } from '../../trail';
import { type Services } from '../../services';

/** Draws trajectories anew in the project's system where that has changed; nothing made from them depends on this. */
export async function refreshPreviews(services: Services, project: Project): Promise<void> {
  const crs = systemText(project);
  const projectId = Number(project.id);
  for (const d of await Dataset.findAll({ where: { projectId, kind: 'trajectory' } })) {
    const revision = d.currentRevisionId ? await Revision.findByPk(d.currentRevisionId) : null;
    if (!revision) continue;
    const content = contentOf('trajectory', revision);
    if (content.previewCrs === crs) continue;
    void services.queue
      .background(projectId, 'preview', `Draw ${d.name} in the new system`, 'preview', {
        object: content.object,
        name: d.name,
        crs,
      })
      .then(async ({ run, result }) => {
        await revision.update({ content: { ...content, ...result.content } });
        await services.queue.succeed(run, [Number(d.id)]);
      })
      .catch(() => undefined);
  }
}
