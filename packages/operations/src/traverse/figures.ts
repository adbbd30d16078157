import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { type Mark } from '@longheron/core/accuracy';
import { ecefToGeodetic, type ReferenceSystem } from '@longheron/core/frames';
import { isAngle } from '@longheron/core/network';
import {
  gridFactor,
  type AdjustedJob,
  type InstrumentErrors,
  type JobRequest,
  type Rejected,
  type Suspect,
  type Traverse,
} from '@longheron/core/terrestrial';
import { type OpenJob, unitSaid } from '@longheron/formats/terrestrial-job';

const DEG = Math.PI / 180;
/** A closure within so many of its deviations is as good as the instrument. */
const CLOSES = 3;

interface From {
  job: OpenJob;
  request: JobRequest;
  adjusted: AdjustedJob;
  traverses: Traverse[];
  errors: InstrumentErrors;
  single: number;
  angleFrom: TraverseFigures['instrument']['angle_sd_from'];
  marks: readonly Mark[];
  system: ReferenceSystem;
}

/** All that an adjusted job is told by. */
export function figuresOf(from: From): TraverseFigures {
  const { job, request, adjusted, errors, system } = from;
  const { adjustment } = adjusted;
  const { instrument } = request;
  const sigma = (v: number) => (Number.isFinite(v) ? Math.sqrt(v) : null);
  const expected = adjustment.expected.map(sigma) as [number | null, number | null];
  const { varianceFactor } = adjustment;
  const pointing = Math.hypot(errors.pointingRad.direction, errors.pointingRad.zenith) / Math.SQRT2 / DEG;
  return {
    job: job.name ?? null,
    set_ups: job.setUps.length,
    readings: job.readings.length,
    sightings: request.sightings.length,
    angular_unit: unitSaid(job.angularUnit),
    linear_unit: job.linearUnit,
    example: job.example
      ? {
          set_up: job.example.setUp,
          target: job.example.target,
          written: job.example.written,
          understood: job.example.understood,
        }
      : null,
    instrument: {
      collimation_deg: errors.collimationRad / DEG,
      index_deg: errors.indexRad / DEG,
      pairs: errors.pairs,
      single_face: from.single,
      pointing_deg: Number.isFinite(pointing) ? pointing : null,
      angle_sd_deg: instrument.angleRad / DEG,
      angle_sd_from: from.angleFrom,
      distance_sd_m: instrument.distanceM,
      distance_ppm: instrument.distanceShare * 1e6,
      place_sd_m: adjusted.placeM,
      place_sd_from: adjusted.placeFound ? 'residuals' : 'given',
    },
    applied: { refraction: request.refraction!, ...gridOf(from) },
    sigma0: sigma(varianceFactor),
    chi2_ok:
      adjustment.freedom > 0
        ? varianceFactor >= adjustment.expected[0] && varianceFactor <= adjustment.expected[1]
        : null,
    sigma0_expected: expected[0] === null ? null : (expected as [number, number]),
    freedom: adjustment.freedom,
    scale: adjustment.scale,
    closures: from.traverses.map(closureOf),
    points: pointsOf(from),
    set_up_list: job.setUps.map((s) => {
      const zero = adjustment.zeros.get(s.id);
      const grid = zero && zero.bearingRad - convergenceAt(system, adjustment, s.station);
      return {
        id: s.id,
        station: s.station,
        backsight: s.backsight ?? null,
        bearing_deg: grid === undefined ? null : (((grid / DEG) % 360) + 360) % 360,
        sd_deg: zero ? zero.sdRad / DEG : null,
        instrument_height_m: s.instrumentHeightM,
        scans: job.files.filter((f) => f.what === 'scan' && f.setUp === s.id).map((f) => baseName(f.location)),
      };
    }),
    observations: adjustment.observations.map((o, k) => {
      const { observation } = o;
      const sighting = adjusted.sightingOf[k];
      return {
        set_up: sighting === undefined ? '' : request.sightings[sighting].setUp,
        from: observation.from,
        to: observation.to,
        kind: observation.kind as 'direction' | 'zenith' | 'distance' | 'height',
        length_m: o.lengthM,
        residual_m: o.residualM[0],
        residual_deg: isAngle(observation) ? o.residualRad! / DEG : null,
        redundancy: o.redundancy,
        test: Number.isNaN(o.test) ? null : o.test,
      };
    }),
    rejected: adjusted.rejected.map((r) => ({
      what: r.what,
      set_up: r.setUp ?? null,
      station: r.station ?? null,
      target: r.target ?? null,
      off_m: r.offM,
      sd_m: r.sdM,
      apart_m: r.apartM ?? null,
      test: r.test,
      instead: r.instead.map(saidOf),
      says: sentence(r),
    })),
    unplaced: [...adjusted.unplaced.setUps, ...adjusted.unplaced.points],
  };
}

const geodeticOf = (xyz: ArrayLike<number>, system: ReferenceSystem) =>
  ecefToGeodetic(system.ellipsoid, xyz[0], xyz[1], xyz[2]);

function convergenceAt(system: ReferenceSystem, { points }: AdjustedJob['adjustment'], name: string): number {
  const p = points.find((q) => q.name === name);
  if (!p) return 0;
  const geo = geodeticOf(p.xyzM, system);
  return system.convergenceAndScale(geo[0], geo[1]).convergenceRad;
}

/** What the grid does to lengths and bearings, least and most of all stations. */
function gridOf({ adjusted, job, system }: From): Pick<TraverseFigures['applied'], 'grid_factor' | 'convergence_deg'> {
  const stations = adjusted.adjustment.points.filter((p) => job.setUps.some((s) => s.station === p.name));
  const of = (find: (geo: Float64Array) => number): [number, number] => {
    const all = stations.map((p) => find(geodeticOf(p.xyzM, system)));
    return [Math.min(...all), Math.max(...all)];
  };
  return {
    grid_factor: of((geo) => gridFactor(system, geo)),
    convergence_deg: of((geo) => system.convergenceAndScale(geo[0], geo[1]).convergenceRad / DEG),
  };
}

function pointsOf({ adjusted, job, request, marks, system }: From): TraverseFigures['points'] {
  const at = new Float64Array(3);
  return adjusted.adjustment.points.map((p) => {
    const geo = geodeticOf(p.xyzM, system);
    system.project(geo[0], geo[1], geo[2], at);
    const station = job.setUps.some((s) => s.station === p.name);
    const given = marks.find((m) => m.name === p.name);
    const rays = new Set(request.sightings.flatMap((s) => (s.target === p.name ? [s.setUp] : []))).size;
    return {
      name: p.name,
      kind: p.held ? 'control' : given?.role === 'check' ? 'check' : station ? 'station' : 'sighted',
      code: request.sightings.find((s) => s.target === p.name)?.code ?? null,
      easting_m: at[0],
      northing_m: at[1],
      height_m: at[2],
      sd_e_m: p.sdM[1],
      sd_n_m: p.sdM[0],
      sd_h_m: p.sdM[2],
      major_m: p.ellipse.majorM,
      minor_m: p.ellipse.minorM,
      bearing_deg: p.ellipse.bearingRad / DEG,
      redundancy: p.redundancy,
      // a station is told by what it sights, another point by more than one ray
      checked: p.checked && (p.held || station || rays > 1),
      rays,
      moved_m: given ? [at[0] - given.eastingM, at[1] - given.northingM, at[2] - given.heightM] : null,
    };
  });
}

function closureOf(t: Traverse): TraverseFigures['closures'][number] {
  const parts: boolean[] = [];
  if (t.angleRad !== undefined) parts.push(Math.abs(t.angleRad) <= CLOSES * t.sdAngleRad!);
  if (t.planM) parts.push(Math.hypot(...t.planM) <= CLOSES * t.sdPlanM);
  if (t.heightM !== undefined) parts.push(Math.abs(t.heightM) <= CLOSES * t.sdHeightM);
  return {
    stations: t.stations,
    kind: t.kind,
    length_m: t.lengthM,
    angle_deg: t.angleRad === undefined ? null : t.angleRad / DEG,
    angle_sd_deg: t.sdAngleRad === undefined ? null : t.sdAngleRad / DEG,
    de_m: t.planM?.[0] ?? null,
    dn_m: t.planM?.[1] ?? null,
    dh_m: t.heightM ?? null,
    plan_sd_m: t.sdPlanM,
    height_sd_m: t.sdHeightM,
    both_ways_length_m: t.bothWaysM?.length ?? null,
    both_ways_height_m: t.bothWaysM?.height ?? null,
    ok: parts.length ? parts.every(Boolean) : null,
  };
}

/** What a suspect is, within a sentence. */
export function saidOf(s: Suspect): string {
  const from = s.setUp === undefined ? '' : `from ${s.setUp} (${s.station})`;
  switch (s.what) {
    case 'target height':
      return `the target height over ${s.target} ${from}`;
    case 'instrument height':
      return `the instrument height of ${s.setUp} (${s.station})`;
    case 'control height':
      return `the given height of ${s.target}`;
    case 'control plan':
      return `the given place of ${s.target} in plan`;
    case 'levelled':
      return `the levelled difference from ${s.station} to ${s.target}`;
    case 'taped':
      return `the taped distance from ${s.station} to ${s.target}`;
    case 'sighting':
      return `the sighting of ${s.target} ${from}`;
    default:
      return `the ${s.what} to ${s.target} ${from}`;
  }
}

const length = (m: number) =>
  Math.abs(m) < 1 ? `${(1000 * Math.abs(m)).toFixed(0)} mm` : `${Math.abs(m).toFixed(2)} m`;
const capital = (t: string) => t[0].toUpperCase() + t.slice(1);

function sentence(r: Rejected): string {
  const what = capital(saidOf(r));
  const sd = `(1 SD ${length(r.sdM)})`;
  const or = r.instead.length ? ` As well it may be ${r.instead.map(saidOf).join(', or ')}.` : '';
  const off = length(r.offM);
  switch (r.what) {
    case 'target height':
    case 'instrument height':
      return `${what} is ${off} too ${r.offM > 0 ? 'large' : 'small'} ${sd}.${or}`;
    case 'control height':
      return `${what} is ${off} too ${r.offM > 0 ? 'high' : 'low'} ${sd}.${or}`;
    case 'levelled':
      return `${what} is ${off} too ${r.offM > 0 ? 'large' : 'small'} ${sd}.${or}`;
    case 'taped':
    case 'distance':
      return `${what} is ${off} too ${r.offM > 0 ? 'long' : 'short'} ${sd}.${or}`;
    case 'direction':
      return `${what} is off by ${off} to the ${r.offM > 0 ? 'right' : 'left'} at the target ${sd}.${or}`;
    case 'sighting':
      return `${what} led to another point, ${off} away ${sd}.${or}`;
    default:
      return `${what} is ${off} off ${sd}.${or}`;
  }
}

/** Name of a file without folders and ending. */
const baseName = (location: string) =>
  location
    .replace(/\\/g, '/')
    .replace(/^.*\//, '')
    .replace(/\.[^.]+$/, '');
