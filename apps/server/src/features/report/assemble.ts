import { VERSION } from '@longheron/operations/shared';
import { Picture, Revision, Sheet, type Project } from '../../database/models';
import { type ReportBase, type ReportData, type TrajectoryReportData } from '../../report/content';
import { type ReportSummary } from '../../report/changes';
import { type ClassProof } from '../../report/classes';
import { type CoverageProof } from '../../report/coverage';
import { type PlanProof, type StripProof } from '../../report/proofs';
import { type EditedCloud } from '../../jobs/tasks/edit';
import { looksOf } from '../looks/kept';
import { gatherTrail, type Held } from './trail';

/** What every report says of the project and of itself. */
function headOf(project: Project): Pick<ReportBase, 'project' | 'reference' | 'version' | 'date'> {
  return {
    project: { name: project.name, purpose: project.purpose, toleranceM: project.toleranceM },
    reference: project.reference as never,
    version: VERSION,
    date: new Date().toISOString().slice(0, 10),
  };
}

/** Gathers all that the report on a trajectory prints. */
export async function assembleTrajectoryReport(project: Project, trajectory: Held): Promise<TrajectoryReportData> {
  const { trail, notices, ordered } = await gatherTrail(project, [trajectory]);
  const { figures, preview, sky, point } = trajectory.revision.content as Record<string, never>;
  const role = (name: string) => {
    const ids = trajectory.revision.inputs.filter((i) => i.role === name).map((i) => i.datasetId);
    return ordered.filter((h) => ids.includes(Number(h.dataset.id))).map((h) => h.dataset.name);
  };
  const rovers = trajectory.revision.inputs.filter((i) => i.role === 'rover').map((i) => i.datasetId);
  return {
    ...headOf(project),
    ...{ trail, notices },
    trajectory: {
      sheets: await sheetsOf(ordered.filter((h) => rovers.includes(Number(h.dataset.id)))),
      ...{ name: trajectory.dataset.name, revision: trajectory.revision.number, point: point ?? 'imu' },
      ...{ figures: figures ?? null, preview, sky: sky ?? null, rover: role('rover'), base: role('base') },
    },
  };
}

const SHEET_ROWS = ['crew', 'vehicle', 'instruments', 'weather', 'remarks'];

/** What was noted of recordings. */
async function sheetsOf(recordings: Held[]): Promise<TrajectoryReportData['trajectory']['sheets']> {
  const sheets = await Sheet.findAll({ where: { datasetId: recordings.map((h) => h.dataset.id) } });
  return sheets.map((s) => ({
    name: recordings.find((h) => Number(h.dataset.id) === Number(s.datasetId))!.dataset.name,
    rows: SHEET_ROWS.filter((k) => s.content[k]).map((k): [string, string] => [
      k[0].toUpperCase() + k.slice(1),
      String(s.content[k]),
    ]),
  }));
}

/** Gathers all that the report on a terrain model and its height check prints, following the trail up to raw files. */
export async function assembleReport(
  project: Project,
  surface: Held,
  check: Held,
  {
    plan,
    strips,
    coverage,
    classes,
    before,
  }: { plan?: Held; strips?: Held; coverage?: Held; classes?: Held; before?: Held } = {},
): Promise<ReportData> {
  const proofs = [plan, strips, coverage, classes].filter((h): h is Held => h !== undefined);
  const { trail, notices, ordered, label } = await gatherTrail(project, [check, ...proofs, surface]);
  const cloudOf = (held: Held) =>
    label(
      ordered.find((h) =>
        held.revision.inputs.some((i) => i.role === 'cloud' && i.revisionId === Number(h.revision.id)),
      ),
    );
  const place = ordered.find((h) => h.revision.madeBy === 'place');
  const s = surface.revision.content as Record<string, never>;
  const density = (
    place?.revision.content as { density?: (ReportData['density'] & { picture: string }) | null } | undefined
  )?.density;
  const views = await Picture.findAll({ where: { projectId: Number(project.id) }, order: [['id', 'ASC']] });
  return {
    ...headOf(project),
    before: summaryBefore(before),
    trail,
    check: {
      name: check.dataset.name,
      figures: (check.revision.content as Record<string, never>).figures,
      cloud: cloudOf(check),
    },
    plan: plan
      ? {
          name: plan.dataset.name,
          cloud: cloudOf(plan),
          figures: (plan.revision.content as { figures: PlanProof['figures'] }).figures,
        }
      : null,
    strips: strips ? stripsOf(strips, cloudOf(strips)) : null,
    classes: classes ? { ...classProofOf(classes), cloud: cloudOf(classes) } : null,
    looked: await lookedOf(check, cloudOf(check)),
    coverage: coverage ? coverageProof(coverage, cloudOf(coverage)) : null,
    surface: {
      name: surface.dataset.name,
      figures: s.figures,
      exports: s.exports,
      tin: s.tin ?? null,
      layout: s.layout,
    },
    place: place ? { figures: (place.revision.content as Record<string, never>).figures } : null,
    density: density ?? null,
    notices,
    pictures: {
      relief: s.picture,
      density: density?.picture ?? null,
      coverage:
        (coverage?.revision.content as { pictures?: { density: string } } | undefined)?.pictures?.density ?? null,
      views: views.map((v) => ({ object: v.object.toString('hex'), caption: v.caption })),
    },
  };
}

function summaryBefore(before: Held | undefined): ReportSummary | null {
  const summary = (before?.revision.content as { summary?: ReportSummary } | undefined)?.summary;
  return summary ? { ...summary, revision: before!.revision.number } : null;
}

function stripsOf(strips: Held, cloud: string): StripProof {
  const c = strips.revision.content as unknown as StripProof;
  const { pairs, cells, differences, rmsM, toleranceM } = c;
  return { name: strips.dataset.name, cloud, pairs, cells, differences, rmsM, toleranceM };
}

function coverageProof(coverage: Held, cloud: string): CoverageProof {
  const { ordered, figures, voids, settings } = coverage.revision.content as unknown as CoverageProof;
  return { name: coverage.dataset.name, cloud, ordered, figures, voids, settings };
}

/** Looks at the cloud that was checked, with what its map is made of. */
async function lookedOf(check: Held, label: string): Promise<ReportData['looked']> {
  const input = check.revision.inputs.find((i) => i.role === 'cloud');
  const revision = input && (await Revision.findByPk(input.revisionId));
  if (!revision) return null;
  const looks = await looksOf(Number(revision.datasetId));
  if (looks.length === 0) return null;
  const { las, index, order, edits } = revision.content as unknown as EditedCloud;
  return { cloud: label, edited: { las, index, order, edits }, looks };
}

function classProofOf(held: Held): Omit<ClassProof, 'cloud'> {
  const { figures, names } = held.revision.content as unknown as ClassProof;
  return { name: held.dataset.name, figures, names };
}
