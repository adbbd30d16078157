import { VERSION } from '@longheron/operations/shared/report';
import { type Account } from '@longheron/operations/shared/pages';
import { Picture, Revision, Sheet, type Project } from '../../database/models';
import { contentOf, toleranceOf, type Held } from '../../trail';
import { looksOf } from '../looks/kept';
import { gatherTrail } from './trail';

/** Gathers all that a report prints beside its parts, following the trail up to raw files. */
export async function accountFor(
  project: Project,
  inputs: { [role: string]: Held[] },
  before: Held | undefined,
): Promise<Account> {
  // proofs first, then what they are about: the order in which the trail is printed
  const { surface = [], ...rest } = inputs;
  const roots = [...Object.values(rest).flat(), ...surface];
  const { trail, notices, ordered, label } = await gatherTrail(project, roots);
  const cloudOf = ({ revision }: Held) =>
    label(
      ordered.find((h) => revision.inputs.some((i) => i.role === 'cloud' && i.revisionId === Number(h.revision.id))),
    );
  const views = await Picture.findAll({ where: { projectId: Number(project.id) }, order: [['id', 'ASC']] });
  const placed = ordered.find((h) => h.revision.madeBy === 'place');
  const summary = before && contentOf('report', before.revision).summary;
  const [check] = inputs.check ?? [];
  return {
    project: {
      name: project.name,
      purpose: project.purpose,
      toleranceM: project.toleranceM,
      planToleranceM: toleranceOf(project, 'plan'),
      classTolerance: project.classTolerance,
      surfaceToleranceM: project.surfaceToleranceM,
    },
    reference: project.reference!,
    version: VERSION,
    date: new Date().toISOString().slice(0, 10),
    trail,
    notices,
    before: summary ? { ...summary, revision: before.revision.number } : null,
    clouds: Object.fromEntries(roots.map((h) => [h.dataset.name, cloudOf(h)])),
    looked: check ? await lookedOf(check, cloudOf(check)) : null,
    density: (placed && contentOf('point-cloud', placed.revision).density) ?? null,
    views: views.map((v) => ({ object: v.object.toString('hex'), caption: v.caption })),
    ...(await sourcesOf(roots[0], ordered)),
    revision: roots[0].revision.number,
  };
}

/** Names of what a result was made of, by role, and what was noted of the recordings. */
async function sourcesOf({ revision }: Held, ordered: Held[]): Promise<Pick<Account, 'sources' | 'sheets'>> {
  const sources: Account['sources'] = {};
  for (const { role, datasetId } of revision.inputs) {
    const held = ordered.find((h) => Number(h.dataset.id) === datasetId);
    if (held) (sources[role] ??= []).push(held.dataset.name);
  }
  const rovers = revision.inputs.filter((i) => i.role === 'rover').map((i) => i.datasetId);
  return { sources, sheets: await sheetsOf(ordered.filter((h) => rovers.includes(Number(h.dataset.id)))) };
}

const SHEET_ROWS = ['crew', 'vehicle', 'instruments', 'weather', 'remarks'];

/** What was noted of recordings. */
async function sheetsOf(recordings: Held[]): Promise<Account['sheets']> {
  const sheets = await Sheet.findAll({ where: { datasetId: recordings.map((h) => h.dataset.id) } });
  return sheets.map((s) => ({
    name: recordings.find((h) => Number(h.dataset.id) === Number(s.datasetId))!.dataset.name,
    rows: SHEET_ROWS.filter((k) => s.content[k]).map((k): [string, string] => [
      k[0].toUpperCase() + k.slice(1),
      String(s.content[k]),
    ]),
  }));
}

/** Looks at the cloud that was checked, with what its map is made of. */
async function lookedOf(check: Held, label: string): Promise<Account['looked']> {
  const input = check.revision.inputs.find((i) => i.role === 'cloud');
  const revision = input && (await Revision.findByPk(input.revisionId));
  if (!revision) return null;
  const looks = await looksOf(Number(revision.datasetId));
  const { las, index, order, edits } = contentOf('point-cloud', revision);
  if (looks.length === 0 || !las || !index || !order) return null;
  return { cloud: label, edited: { las, index, order, edits }, looks };
}
