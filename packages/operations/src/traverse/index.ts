import declaration from '@longheron/contract/operations/traverse';
import { type Mark } from '@longheron/core/accuracy';
import { METRES_PER } from '@longheron/core/frames';
import { Problem, tick } from '@longheron/core/shared';
import {
  adjustJob,
  lengthRatio,
  reduceFaces,
  traversesOf,
  type ControlPoint,
  type InstrumentSd,
  type JobRequest,
} from '@longheron/core/terrestrial';
import { writeFileWhole } from '@longheron/formats/bytes';
import { parseSystem } from '@longheron/formats/crs';
import { fileFacts } from '@longheron/formats/format';
import { openAs } from '@longheron/formats/registry';
import { openJob, type OpenJob } from '@longheron/formats/terrestrial-job';
import { computation } from '../computation/types';
import { factsOf } from '../shared/inspect';
import { ReportBuilder } from '../shared/report';
import { crsFrom } from '../shared/words';
import { figuresOf } from './figures';
import { noticesOf, tallyNotices } from './notices';
import { pointsCsv } from './pointsCsv';
import { stationsCsv } from './stationsCsv';
import { traverseChapter } from './chapter';

const DEG = Math.PI / 180;
/** Of known marks that state none, 1 SD, metres. */
const MARK_SD_M = 0.01;
/** Control that is held as given. */
const FIXED_SD_M = 1e-4;
/** Of a pointing where nothing shows it: of instruments for survey control, about three seconds. */
const USUAL_ANGLE_DEG = 0.0008;
/** From so many pairs in both faces on they show how good a pointing is. */
const ENOUGH_PAIRS = 8;
/** Known distances over measured ones differ by no more than this, unless a unit is wrong. */
const SAME_UNIT = 0.02;

/** A total-station job adjusted to known marks; the points found are marks of the project. */
export default computation(
  declaration,
  async ({ job: file, known, measured }, settings, context, out, watch) => {
    const builder = new ReportBuilder('traverse', settings);
    const crs = crsFrom(context);
    const system = parseSystem(crs);
    const unit = settings.angularUnit === 'stated' ? undefined : settings.angularUnit;
    const { job, tally } = await openJob(file.path, file.name, unit, !out.keeps);
    if (unit && job.unitStated && job.angularUnit !== unit)
      builder.notice({
        code: 'job-angular-unit',
        severity: 'info',
        file: file.name,
        text: 'The unit of angles is taken from the file, which states it.',
      });
    tallyNotices(builder, job, tally, file.name);
    for (const list of known)
      if (list.crs && parseSystem(list.crs).label !== system.label)
        throw new Problem(`The marks are in ${list.crs}; the job is adjusted in ${system.label}.`, {
          code: 'crs-differs',
          file: list.name,
          place: 'comment lines',
          remedy: 'Transform the list, or choose the marks of this system.',
        });
    const marks = known.flatMap((k) => k.marks).filter((m) => !m.leftOutReason);
    const control = controlOf(marks, job, settings.fixControl);
    const { sightings, instrument: errors, single } = reduceFaces(job);
    refuseUnit(job, lengthRatio(job.setUps, sightings, control), file.name);
    const byFaces = Math.hypot(errors.pointingRad.direction, errors.pointingRad.zenith) / Math.SQRT2;
    const shown = errors.pairs >= ENOUGH_PAIRS && byFaces > 0;
    const angleDeg = settings.angleSdDeg ?? undefined;
    const placeM = settings.placeSdM ?? undefined;
    const angleFrom = angleDeg !== undefined ? 'given' : shown ? 'faces' : 'usual';
    const instrument: InstrumentSd = {
      angleRad: angleDeg !== undefined ? angleDeg * DEG : shown ? byFaces : USUAL_ANGLE_DEG * DEG,
      distanceM: settings.distanceSdM,
      distanceShare: settings.distancePpm * 1e-6,
      ...(placeM === undefined ? {} : { placeM }),
    };
    tick(watch, 0.05, 'Adjusting');
    const request: JobRequest = {
      setUps: job.setUps,
      sightings,
      rough: job.points,
      control,
      measured: measured ? await openAs('measurements', measured.path, measured.name) : [],
      instrument,
      system,
      refraction: settings.refraction,
    };
    const adjusted = adjustJob(request, watch);
    const traverses = traversesOf(
      job.setUps,
      sightings,
      control,
      { ...instrument, placeM: adjusted.placeM },
      system,
      settings.refraction,
    );
    const figures = figuresOf({ job, request, adjusted, traverses, errors, single, angleFrom, marks, system });
    noticesOf(builder, figures);
    const made = await out.file('marks', 'marks', (path) =>
      writeFileWhole(path, (o) => o.write(pointsCsv(figures, marks, crs))),
    );
    if (out.wanted('stations'))
      await out.file('stations', 'csv', (path) => writeFileWhole(path, (o) => o.write(stationsCsv(figures, crs))));
    const found = figures.points.filter((p) => p.kind === 'station' || p.kind === 'sighted');
    const title = declaration.resultName;
    return {
      name: `${title}, ${job.name ?? file.name}`,
      content: {
        object: made.sha256,
        facts: out.keeps ? await factsOf(out.store.path(made.sha256), title) : fileFacts(title, made.bytes, 'marks'),
        marks: found.map((p): Mark => ({
          name: p.name,
          role: 'unused',
          eastingM: p.easting_m,
          northingM: p.northing_m,
          heightM: p.height_m,
          sdEM: p.sd_e_m,
          sdNM: p.sd_n_m,
          sdHM: p.sd_h_m,
          note: `total station, ${p.rays} ${p.rays === 1 ? 'ray' : 'rays'}`,
        })),
        crs,
        traverse: figures,
      },
      hash: made.sha256,
      report: builder.finish(crs, { ...figures }),
      log: logOf(figures),
    };
  },
  { chapter: traverseChapter },
);

/** Marks that hold the job. */
function controlOf(marks: readonly Mark[], job: OpenJob, fixed: boolean): ControlPoint[] {
  const named = new Set([...job.setUps.map((s) => s.station), ...job.readings.map((r) => r.target)]);
  const own = marks.filter((m) => named.has(m.name));
  const control = own.filter((m) => m.role === 'control');
  if (!control.length)
    throw new Problem(
      own.length
        ? `None of the marks that the job names is control: ${own.map((m) => m.name).join(', ')}.`
        : 'The job names none of the known marks.',
      {
        code: 'terrestrial-control',
        place: [...named].slice(0, 12).join(', '),
        remedy: own.length
          ? 'Give those that shall hold it the role control.'
          : 'Choose the list that the job was tied to; names in both must agree.',
      },
    );
  const twice = control.find((m, k) => control.findIndex((o) => o.name === m.name) !== k);
  if (twice)
    throw new Problem(`The mark ${twice.name} is given twice.`, {
      code: 'marks-twice',
      place: twice.name,
      remedy: 'Leave one of them out.',
    });
  const sd = (v: number | undefined) => (fixed ? FIXED_SD_M : (v ?? MARK_SD_M));
  return control.map((m) => ({
    name: m.name,
    eastingM: m.eastingM,
    northingM: m.northingM,
    heightM: m.heightM,
    sdM: [sd(m.sdEM), sd(m.sdNM), sd(m.sdHM)],
  }));
}

function refuseUnit(job: OpenJob, found: { ratio: number; pairs: number } | undefined, file: string): void {
  if (!found || Math.abs(found.ratio - 1) < SAME_UNIT) return;
  const foot = METRES_PER.foot;
  const near = (factor: number) => Math.abs(found.ratio / factor - 1) < SAME_UNIT;
  const really = near(foot) ? 'feet' : near(1 / foot) ? 'metres' : undefined;
  if (!really) return;
  throw new Problem(
    `Distances are said to be in ${job.linearUnit}, but known distances are ${found.ratio.toFixed(4)} times as long as measured ones: they look like ${really}.`,
    {
      code: 'job-linear-unit',
      file,
      place: 'Units',
      remedy: 'Correct the unit in the file, or look whether the marks are in metres.',
    },
  );
}

function logOf(f: ReturnType<typeof figuresOf>): string[] {
  const found = f.points.filter((p) => p.kind === 'station' || p.kind === 'sighted').length;
  const range = f.sigma0_expected;
  return [
    `${found} points found from ${f.set_ups} set-ups and ${f.readings} readings; ${f.rejected.length} left out.`,
    f.sigma0 === null
      ? 'No observation to spare: nothing is checked.'
      : `Sigma nought ${f.sigma0.toFixed(2)}, expected ${range![0].toFixed(2)} to ${range![1].toFixed(2)} with ${f.freedom} observations to spare.`,
    ...f.closures.map((c) => {
      const mm = (m: number | null) => (m === null ? '–' : `${(1000 * m).toFixed(0)} mm`);
      const angle = c.angle_deg === null ? '–' : `${(3600 * c.angle_deg).toFixed(0)}″`;
      return `Traverse ${c.stations.join(' – ')}: ${angle}, ${mm(c.de_m)} east, ${mm(c.dn_m)} north, ${mm(c.dh_m)} in height over ${c.length_m.toFixed(0)} m.`;
    }),
    ...f.rejected.map((r) => r.says),
  ];
}
