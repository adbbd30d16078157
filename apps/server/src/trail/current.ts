import { systemTextOf, type ReferenceDto } from '@longheron/contract/api';
import { Problem } from '@longheron/core/shared';
import { Dataset, Revision, type Project } from '../database/models';
import { contentOf } from './revisions';

/** A dataset at one of its revisions. */
export interface Held {
  dataset: Dataset;
  revision: Revision;
}

export async function current(datasetId: number): Promise<Held> {
  const dataset = await Dataset.findByPk(datasetId);
  const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  if (!dataset || !revision)
    throw new Problem('There is no such dataset.', { code: 'dataset', remedy: 'Reload the page.' });
  return { dataset, revision };
}

/** The system of a project as text for `parseSystem`. */
export function systemText(project: Project): string {
  const r = project.reference;
  if (!r)
    throw new Problem('The project has no coordinate system yet.', {
      code: 'reference',
      remedy: 'Set it in the reference line.',
    });
  return systemTextOf(r as ReferenceDto);
}

const LONGEST_TRAIL = 30;

/** Control marks of the adjustment that the trajectory or the mounting of a cloud is from. */
async function marksAdjustedTo(cloud: Revision): Promise<string[]> {
  const out: string[] = [];
  for (const { role, revisionId } of cloud.inputs) {
    if (role !== 'trajectory' && role !== 'mounting') continue;
    const made = await Revision.findByPk(revisionId);
    const from = made?.inputs.find((i) => i.role === 'adjustment');
    const adjustment = from && (await Revision.findByPk(from.revisionId));
    if (adjustment) out.push(...contentOf('adjustment', adjustment).marks);
  }
  return out;
}

/**
 * Marks that helped to make a cloud, by name: those that it was placed by, that a height correction was taken from, or that
 * entered the adjustment of its strips, anywhere before it. They cannot prove it.
 */
export async function marksUsedFor(cloud: Revision): Promise<{ [mark: string]: string }> {
  const out: { [mark: string]: string } = {};
  let at: Revision | null = cloud;
  for (let step = 0; at && step < LONGEST_TRAIL; step++) {
    const { corrected, aligned } = contentOf('point-cloud', at);
    for (const { mark } of aligned?.points ?? []) out[mark] ??= 'the cloud was placed by it';
    for (const name of corrected?.marks ?? [])
      out[name] ??= `the height correction of ${(100 * corrected!.valueM).toFixed(1)} cm was taken from it`;
    for (const name of await marksAdjustedTo(at)) out[name] ??= 'the strips were adjusted to it';
    const before: number | undefined = at.inputs.find((i) => i.role === 'cloud')?.revisionId;
    at = before === undefined ? null : await Revision.findByPk(before);
  }
  return out;
}
