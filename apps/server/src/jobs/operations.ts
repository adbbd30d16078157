import { parseSelection, THING_DEFAULTS } from '@longheron/core/cloud';
import { LIMIT_DEFAULTS } from '@longheron/core/laser';
import { Problem } from '@longheron/core/shared';
import { Dataset, Project, Revision } from '../database/models';
import { type ObjectStore } from '../storage';
import { assembleReport, assembleTrajectoryReport } from '../features/report/assemble';
import { classNamer } from '../features/classes/kept';
import { afterPosition, gnssPayload, networkPayload } from './gnssPayload';
import { PLANS } from './plans';

export interface Current {
  dataset: Dataset;
  revision: Revision;
}

export async function current(datasetId: number): Promise<Current> {
  const dataset = await Dataset.findByPk(datasetId);
  const revision = dataset?.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
  if (!dataset || !revision)
    throw new Problem('There is no such dataset.', { code: 'dataset', remedy: 'Reload the page.' });
  return { dataset, revision };
}

/**
 * Marks that helped to make a cloud, by name: those that it was placed by, or that a height correction was taken from,
 * anywhere before it. They cannot prove it.
 */
export async function marksUsedFor(cloud: Revision): Promise<Record<string, string>> {
  const out: Record<string, string> = {};
  let at: Revision | null = cloud;
  for (let step = 0; at && step < LONGEST_TRAIL; step++) {
    const { corrected, aligned } = at.content as {
      corrected?: { marks: string[]; valueM: number };
      aligned?: { points: Array<{ mark: string }> };
    };
    for (const { mark } of aligned?.points ?? []) out[mark] ??= 'the cloud was placed by it';
    for (const name of corrected?.marks ?? [])
      out[name] ??= `the height correction of ${(100 * corrected!.valueM).toFixed(1)} cm was taken from it`;
    const before: number | undefined = at.inputs.find((i) => i.role === 'cloud')?.revisionId;
    at = before === undefined ? null : await Revision.findByPk(before);
  }
  return out;
}

const LONGEST_TRAIL = 30;

function refuseUnready(name: string, cloud: Record<string, unknown>): void {
  if (!cloud.las)
    throw new Problem(`"${name}" is still being prepared.`, {
      code: 'cloud-not-ready',
      remedy: 'Wait until its job has ended, or run that job again.',
    });
}

/** The file of areas and lines that a run was given, if any. */
function outlinesOf(inputs: Record<string, Current[]>, store: ObjectStore): { path: string; name: string } | undefined {
  const given = inputs.outlines?.[0];
  return given && { path: store.path(String(given.revision.content.object)), name: given.dataset.name };
}

/** The system of a project as text for `parseSystem`. */
export function systemText(project: Project): string {
  const r = project.reference as { horizontal: number; vertical: number } | null;
  if (!r)
    throw new Problem('The project has no coordinate system yet.', {
      code: 'reference',
      remedy: 'Set it in the reference line.',
    });
  return `EPSG:${r.horizontal}${r.vertical ? `+${r.vertical}` : ''}`;
}

/** System that a cloud is in, for what is cut out of it or found in it; empty when nothing says so. */
function systemOfCloud(cloud: Record<string, unknown>): string {
  const { crs, facts } = cloud as { crs?: string; facts?: { extent?: { crs?: string | null } | null } };
  return crs ?? facts?.extent?.crs ?? '';
}

/** Builds what the worker needs from the inputs of a run. */
export async function payloadOf(
  operation: string,
  project: Project,
  inputs: Record<string, Current[]>,
  settings: Record<string, unknown>,
  store: ObjectStore,
  outputDataset?: number,
): Promise<Record<string, unknown>> {
  const s = { ...PLANS[operation].defaults, ...settings } as Record<string, never>;
  const crs = systemText(project);
  const content = (role: string, i = 0) => inputs[role][i].revision.content as Record<string, never>;
  if (operation === 'position') return { ...gnssPayload(inputs, s, store), crs, settings: s };
  if (operation === 'network') return { ...networkPayload(inputs, store), crs, settings: s };
  if (operation === 'handover' || operation === 'join' || operation === 'stops' || operation === 'events')
    return { ...afterPosition(inputs, store), crs, settings: s };
  if (operation === 'place') {
    const trajectory = store.path(content('trajectory').object);
    const returns = inputs.returns.map((_, i) => store.path(content('returns', i).object));
    const names = Object.fromEntries([
      [trajectory, inputs.trajectory[0].dataset.name],
      ...returns.map((path, i) => [path, inputs.returns[i].dataset.name]),
    ]);
    return {
      trajectory,
      returns,
      names,
      mounting: content('mounting').mounting,
      mountName: inputs.mounting[0].dataset.name,
      crs,
      minLengthM: s.minLengthM,
      turnDegPerS: s.turnDegPerS,
      targetPerM2: s.targetPerM2,
      limits: Object.fromEntries(Object.keys(LIMIT_DEFAULTS).map((k) => [k, s[k]])),
    };
  }
  if (operation === 'trajectory-report') return { data: await assembleTrajectoryReport(project, inputs.trajectory[0]) };
  if (operation === 'report') {
    const { surface, check, plan, strips, coverage, classes } = inputs;
    return {
      data: await assembleReport(project, surface[0], check[0], {
        ...{ plan: plan?.[0], strips: strips?.[0], coverage: coverage?.[0], classes: classes?.[0] },
        before: outputDataset ? await current(outputDataset) : undefined,
      }),
    };
  }
  if (operation === 'merge') {
    const clouds = inputs.clouds.map(({ dataset, revision }) => ({ name: dataset.name, cloud: revision.content }));
    clouds.forEach((c) => refuseUnready(c.name, c.cloud));
    return { clouds, crs, strips: s.strips };
  }
  if (operation === 'delivery') {
    const clouds = inputs.clouds.map(({ dataset, revision }) => ({ name: dataset.name, cloud: revision.content }));
    clouds.forEach((c) => refuseUnready(c.name, c.cloud));
    return { clouds, crs, settings: s, outlines: outlinesOf(inputs, store) };
  }
  const cloud = content('cloud');
  refuseUnready(inputs.cloud[0].dataset.name, cloud);
  if (operation === 'class-check') {
    const [against] = inputs.against;
    const outlines = outlinesOf(inputs, store);
    if (!against === !outlines)
      throw new Problem('The reference is a cloud of the same points, or areas whose class is known: one of them.', {
        ...{ code: 'input', place: 'against' },
        remedy: 'Choose one in the sheet.',
      });
    if (against) refuseUnready(against.dataset.name, content('against'));
    const nameOf = await classNamer(Number(project.id));
    const names = Object.fromEntries(Array.from({ length: 256 }, (_, c) => [c, nameOf(c)]));
    return { cloud, reference: against ? content('against') : undefined, outlines, crs, names };
  }
  if (operation === 'reproject') {
    const edited = { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits };
    return { edited, las: cloud.las, crs, from: s.from, name: inputs.cloud[0].dataset.name };
  }
  if (operation === 'smooth')
    return {
      edited: { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits },
      ...{ cloud, las: cloud.las, crs: systemOfCloud(cloud), name: inputs.cloud[0].dataset.name },
      settings: { radiusM: s.radiusM, thickM: s.thickM, mostM: s.mostM },
    };
  if (operation === 'align')
    return {
      edited: { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits },
      ...{ las: cloud.las, crs, name: inputs.cloud[0].dataset.name },
      ...{ pairs: s.pairs, scale: s.scale, level: s.level },
      marks: inputs.marks.flatMap((_, i) => content('marks', i).marks as unknown[]),
    };
  if (operation === 'plan-check')
    return {
      ...s,
      ...{ las: cloud.las, crs, toleranceM: project.toleranceM },
      edited: { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits },
      marks: inputs.marks.flatMap((_, i) => content('marks', i).marks as unknown[]),
      measured: (inputs.measured ?? []).map((m) => ({
        path: store.path(String(m.revision.content.object)),
        name: m.dataset.name,
      })),
      usedFor: await marksUsedFor(inputs.cloud[0].revision),
    };
  if (operation === 'correct')
    return {
      edited: { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits },
      ...{ las: cloud.las, crs, by: s.by, check: content('check').figures },
    };
  if (operation === 'agreement') return { ...s, cloud, crs, toleranceM: project.toleranceM };
  if (operation === 'coverage') {
    const outlines = outlinesOf(inputs, store);
    return { cloud, crs, toleranceM: project.toleranceM, settings: s, outlines };
  }
  if (operation === 'extract')
    return {
      ...{ cloud, las: cloud.las, crs: systemOfCloud(cloud) },
      ...{ selection: parseSelection(s.selection), thinM: s.thinM, keep: s.keep },
      edited: { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits },
    };
  const edited = { las: cloud.las, index: cloud.index, order: cloud.order, edits: cloud.edits };
  if (operation === 'export-cloud')
    return {
      ...{ edited, las: cloud.las, crs },
      ...{ classes: s.classes, strips: s.strips, withRejected: s.withRejected },
      ...{
        system: s.system,
        format: s.format,
        split: s.split,
        tileM: s.tileM,
        bufferM: s.bufferM,
        capPoints: s.capPoints,
      },
    };
  if (operation === 'classify')
    return {
      ...{ edited, las: cloud.las, order: cloud.order, index: cloud.index },
      ...{ crs: systemOfCloud(cloud), ...classifyHow(s) },
    };
  if (operation === 'check')
    return {
      edited,
      las: cloud.las,
      marks: inputs.marks.flatMap((_, i) => content('marks', i).marks as unknown[]),
      usedFor: await marksUsedFor(inputs.cloud[0].revision),
      crs,
      toleranceM: project.toleranceM,
    };
  return {
    edited,
    las: cloud.las,
    crs,
    name: project.name,
    cellM: s.cellM,
    maxGapM: s.maxGapM,
    contoursM: s.contoursM,
    tinSpacingM: s.tinSpacingM,
  };
}

/** How a cloud is classified, of the operation's settings with its defaults. */
export function classifyHow(s: Record<string, unknown>): Record<string, unknown> {
  return {
    ground: s.ground,
    noise: s.noise,
    cloth:
      s.method === 'cloth'
        ? { clothCellM: s.clothCellM, stiffness: s.stiffness, clothWithinM: s.clothWithinM }
        : undefined,
    things: s.things
      ? { ...THING_DEFAULTS, lowM: s.lowM, mediumM: s.mediumM, wireM: s.wireM, longM: s.longM }
      : undefined,
    groundSettings: {
      largestObjectM: s.largestObjectM,
      steepestDeg: s.steepestDeg,
      cellM: s.cellM,
      withinM: s.withinM,
    },
    straySettings: {
      neighbours: s.neighbours,
      keepWithinM: s.keepWithinM,
      ratio: s.ratio,
      aloneBeyondM: s.aloneBeyondM,
    },
  };
}
