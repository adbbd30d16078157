import { type Notice } from '@longheron/core/shared';
import { decimalYear, unixFromGps } from '@longheron/core/time';
import { planNameOf, systemTextOf, type ReferenceDto } from '@longheron/contract/api';
import { findSystem, systemParts, type NamedParts } from '@longheron/formats/crs';
import { contentOf, factsOf, objectOf } from '../../trail';
import { areaFinding, frameFinding, gridFinding, type Site } from './frameFindings';
import { Dataset, NoticeRow, Project, Revision } from '../../database/models';

interface Facts {
  startGps: number | null;
  endGps: number | null;
  gaps: Array<{ startGps: number; endGps: number }>;
  extent: { min: number[]; max: number[]; crs: string | null } | null;
}
interface Around {
  extent: [number, number, number, number];
  undulationM: number;
  heightM: [number, number];
}
interface Seen {
  dataset: Dataset;
  object: string | undefined;
  facts: Facts;
  /** The system that marks are in now: they may have been carried since they were imported. */
  carriedTo?: string | null;
  around?: Around;
}

/** Findings that only several files together can show. */
const CODES = [
  'time-outside',
  'place-far',
  'height-ellipsoidal',
  'other-system',
  'marks-other-system',
  'grid-elsewhere',
  'geoid-off',
  'system-area',
  'frame-apart',
];
const FAR_M = 5000;
/** Kinds whose numbers are easting and northing of a system that they name. */
const PLACED = ['point-cloud', 'raster', 'marks'];

/** Seconds of [start, end] that lie within one of the spans. */
export function coveredSeconds(start: number, end: number, spans: Array<[number, number]>): number {
  const sorted = spans
    .map(([a, b]) => [Math.max(a, start), Math.min(b, end)] as const)
    .filter(([a, b]) => b > a)
    .sort((a, b) => a[0] - b[0]);
  let at = start;
  let covered = 0;
  for (const [a, b] of sorted) {
    const from = Math.max(a, at);
    if (b > from) covered += b - from;
    at = Math.max(at, b);
  }
  return covered;
}

function timeFinding(s: Seen, trajectories: Seen[]): Notice | undefined {
  const { startGps, endGps } = s.facts;
  if (startGps === null || endGps === null || trajectories.length === 0) return undefined;
  const spans = trajectories.map((t): [number, number] => [t.facts.startGps!, t.facts.endGps!]);
  const length = Math.max(1e-3, endGps - startGps);
  const outside = length - coveredSeconds(startGps, endGps, spans);
  if (outside < 0.05) return undefined;
  const all = outside > length - 0.05;
  const hours = Math.round((startGps - trajectories[0].facts.startGps!) / 3600);
  const wholeHours = all && Math.abs(startGps - trajectories[0].facts.startGps! - 3600 * hours) < 900 && hours !== 0;
  return {
    code: 'time-outside',
    severity: all ? 'error' : 'warning',
    file: s.dataset.name,
    text: all
      ? `No trajectory covers the time of this recording${wholeHours ? `; it is off by about ${hours} h, as local time would be` : ''}.`
      : `${outside.toFixed(1)} s of ${length.toFixed(1)} s of this recording lie outside every trajectory.`,
    effect: 'Returns there cannot be placed.',
    remedy: 'Compare the time lanes; take in the trajectory of this session.',
  };
}

function placeFinding(s: Seen, around: Around): Notice | undefined {
  const e = s.facts.extent;
  if (!e || !e.crs || /^EPSG:(4937|4979|4326|4258)$/.test(e.crs)) return undefined;
  const [x0, y0, x1, y1] = around.extent;
  const apart = Math.hypot(Math.max(0, x0 - e.max[0], e.min[0] - x1), Math.max(0, y0 - e.max[1], e.min[1] - y1));
  if (apart > FAR_M)
    return {
      code: 'place-far',
      severity: 'warning',
      file: s.dataset.name,
      text: `This lies ${(apart / 1000).toFixed(1)} km from the trajectories.`,
      effect: 'It stretches the extent of the project, or belongs to another one.',
      remedy: 'Check its coordinate system, or take it out.',
    };
  const middle = (e.min[2] + e.max[2]) / 2;
  const path = (around.heightM[0] + around.heightM[1]) / 2;
  if (Math.abs(around.undulationM) > 5 && Math.abs(middle - path - around.undulationM) < 8)
    return {
      code: 'height-ellipsoidal',
      severity: 'error',
      file: s.dataset.name,
      text: `Its heights lie about ${Math.abs(middle - path).toFixed(1)} m ${middle > path ? 'above' : 'below'} the trajectories, as ellipsoidal heights would (the geoid is at ${around.undulationM.toFixed(1)} m).`,
      effect: 'Compared with levelled heights it is off by that much.',
      remedy: 'Say to which surface its heights refer, and import it again.',
    };
  return undefined;
}

const systemName = (code: number) => `${findSystem(code)?.name ?? 'an unknown system'} (${code})`;
const heightName = (code: number) =>
  code ? (findSystem(code)?.name ?? `heights of EPSG:${code}`) : 'ellipsoidal heights';

/** Plan that a file names and the project's, where they differ. */
function planApart(said: NamedParts, r: ReferenceDto): string | undefined {
  if (typeof said.plan === 'object') {
    if (said.plan.sha12 === r.plan?.sha12) return undefined;
    return `plan: the system of ${said.plan.name}, the project ${planNameOf(r)}`;
  }
  if (said.plan === r.horizontal) return undefined;
  return `plan: ${systemName(said.plan)}, the project ${planNameOf(r)}`;
}

/** Heights that a file names and the project's, where they differ; a file that names none says nothing. */
function heightsApart({ heights }: NamedParts, r: ReferenceDto): string | undefined {
  if (heights === undefined || heights === 0) return undefined;
  const grid = typeof heights === 'object';
  if (grid ? r.geoid?.sha12 === heights.sha12 : !r.geoid && heights === r.vertical) return undefined;
  return `heights: ${grid ? `those of ${heights.name}` : heightName(heights)}, the project ${r.verticalName}`;
}

/** A file that names another system than the project's: neither is changed in silence. */
function systemFinding(s: Seen, reference: ReferenceDto | null): Notice | undefined {
  const said = systemParts(s.carriedTo ?? s.facts.extent?.crs ?? '');
  if (!said || !reference) return undefined;
  if (typeof said.plan === 'number' && findSystem(said.plan)?.kind !== 'projected') return undefined;
  const parts = [planApart(said, reference), heightsApart(said, reference)].filter((p) => p !== undefined);
  if (parts.length === 0) return undefined;
  const marks = s.dataset.kind === 'marks';
  return {
    code: marks ? 'marks-other-system' : 'other-system',
    severity: 'warning',
    file: s.dataset.name,
    text: `This names another system than the project's. ${parts.join('; ')}.`,
    effect: marks
      ? 'Its marks lie where their numbers put them in the system of the project.'
      : 'It lies where its numbers put it, beside what is in the system of the project.',
    remedy: marks
      ? "Carry the list into the project's system, or take the list's own in the reference line."
      : s.dataset.kind === 'point-cloud'
        ? "Keep the project's: bring the cloud into it in Clean, under Clouds. Or take this one's in the reference line."
        : "Keep the project's and ask for the file in it, or take this one's in the reference line.",
  };
}

/** Where the first trajectory with a place runs, and when. */
function siteOf(trajectories: Seen[]): Site | undefined {
  const t = trajectories.find((x) => x.facts.extent);
  if (!t) return undefined;
  const { min, max, crs } = t.facts.extent!;
  const [lonDeg, latDeg, hEllM] = [0, 1, 2].map((k) => (min[k] + max[k]) / 2);
  if (![lonDeg, latDeg, hEllM].every(Number.isFinite)) return undefined;
  const date = new Date(1000 * unixFromGps(t.facts.startGps!));
  return { latDeg, lonDeg, hEllM, crs, epoch: decimalYear(date), file: t.dataset.name };
}

function frameFindings(s: Seen, site: Site, reference: ReferenceDto | null): Array<Notice | undefined> {
  const { kind, name } = s.dataset;
  if ((kind === 'geoid' || kind === 'datum-grid') && s.object) return [gridFinding(kind, name, s.object, site)];
  if (name !== site.file || !reference) return [];
  return [areaFinding(site, reference), frameFinding(site, reference)];
}

let last: Promise<unknown> = Promise.resolve();

/** Judges all files of a project together and replaces the findings of this kind; one judgement at a time. */
export function judgeTogether(projectId: number): Promise<void> {
  const mine = last.then(() => judgeAll(projectId));
  last = mine.catch(() => undefined);
  return mine;
}

/** Clouds that were brought into a system: what they name themselves is no matter any more. */
async function broughtIn(projectId: number, system: string): Promise<Set<number>> {
  const clouds = await Dataset.findAll({ where: { projectId, kind: 'point-cloud' } });
  const revisions = await Revision.findAll({ where: { id: clouds.map((d) => d.currentRevisionId ?? 0) } });
  const carried = revisions.filter((r) => {
    const { reprojected, crs } = contentOf('point-cloud', r);
    return reprojected && crs === system;
  });
  return new Set(carried.flatMap((r) => r.inputs.filter((i) => i.role === 'cloud').map((i) => Number(i.datasetId))));
}

async function judgeAll(projectId: number): Promise<void> {
  const seen: Seen[] = [];
  const reference = (await Project.findByPk(projectId))?.reference ?? null;
  for (const dataset of await Dataset.findAll({ where: { projectId, stage: 'gather' } })) {
    const revision = dataset.currentRevisionId ? await Revision.findByPk(dataset.currentRevisionId) : null;
    const facts = revision ? factsOf(revision) : undefined;
    const around = revision && dataset.kind === 'trajectory' ? contentOf('trajectory', revision).around : undefined;
    const carriedTo = revision && dataset.kind === 'marks' ? contentOf('marks', revision).crs : undefined;
    if (facts) seen.push({ dataset, object: revision ? objectOf(revision) : undefined, facts, carriedTo, around });
  }
  const brought = reference ? await broughtIn(projectId, systemTextOf(reference)) : new Set<number>();
  const trajectories = seen.filter((s) => s.dataset.kind === 'trajectory' && s.facts.startGps !== null);
  const around = trajectories.find((t) => t.around)?.around;
  const site = siteOf(trajectories);
  for (const s of seen) {
    const found = [
      s.dataset.kind === 'laser-returns' ? timeFinding(s, trajectories) : undefined,
      s.dataset.kind === 'point-cloud' && around ? placeFinding(s, around) : undefined,
      PLACED.includes(s.dataset.kind) && !brought.has(Number(s.dataset.id)) ? systemFinding(s, reference) : undefined,
      ...(site ? frameFindings(s, site, reference) : []),
    ].filter((n) => n !== undefined);
    const datasetId = Number(s.dataset.id);
    const old = await NoticeRow.findAll({ where: { datasetId, code: CODES } });
    const isOld = (n: Notice) => old.some((o) => o.code === n.code && o.text === n.text);
    for (const o of old) if (!found.some((n) => n.code === o.code && n.text === o.text)) await o.destroy();
    for (const n of found)
      if (!isOld(n))
        await NoticeRow.create({
          projectId,
          datasetId,
          code: n.code,
          severity: n.severity,
          text: n.text,
          detail: { effect: n.effect, remedy: n.remedy, file: n.file },
          createdAt: new Date(),
        });
  }
}
