import { basename } from 'node:path';
import { type Mark } from '@longheron/core/accuracy';
import { ecefToGeodetic, ecefToNed, geodeticToEcef, GRS80, type ReferenceSystem } from '@longheron/core/frames';
import {
  type Antenna,
  GNSS_NOISE_DEFAULTS,
  KINEMATIC_DEFAULTS,
  kinematicPositions,
  overMarker,
  underAntenna,
  staticMean,
  type KinematicSettings,
  type Orbits,
} from '@longheron/core/gnss';
import {
  adjustNetwork,
  loopsOf,
  turned,
  type Adjustment,
  type Loop,
  type NetworkObservation,
  type NetworkPoint,
} from '@longheron/core/network';
import { part, Problem, tick, type Watch } from '@longheron/core/shared';
import { dayOfYear, unixFromGps } from '@longheron/core/time';
import { parseSystem } from '@longheron/formats/crs';
import { marksCsv } from '@longheron/formats/marks';
import { writeFileWhole } from '@longheron/formats/bytes';
import { type Measurement } from '@longheron/formats/measurements';
import { openAs } from '@longheron/formats/registry';
import { ReportBuilder, type Report } from '../shared/report';
import { placeByCodes } from '../position/base';
import { checkMotion, checkOrbits } from '../position/checks';
import { correctionsOf, readCompanions } from '../position/corrections';
import { networkNotices } from './notices';
import { type ComputedVector, type HeldPoint, type NetworkRequest } from './types';
import { independentPairs, readRecordings, type Pair, type Recording } from './recordings';

export { type ComputedVector, type HeldPoint, type NetworkRequest } from './types';

export interface NetworkResult {
  report: Report;
  vectors: ComputedVector[];
  adjustment: Adjustment;
  loops: Loop[];
  /** Points that were found, as marks of the project. */
  marks: Mark[];
}

const SHORTEST_SESSION_S = 120;
/** What levelling and taping to a mark of the list is held by when the list states nothing, metres. */
const MARK_SD_M = 0.01;

/**
 * Static vectors between recordings at rest, adjusted with what was taped and levelled, and with the points that are
 * held: coordinates of a base from stations around it, or a network of marks.
 */
export async function adjustRecordings(r: NetworkRequest, watch?: Watch): Promise<NetworkResult> {
  const name = (path: string) => r.names?.[path] ?? basename(path);
  const builder = new ReportBuilder('network', {});
  if (r.recordings.length < 2)
    throw new Problem('A vector needs two recordings at rest.', {
      code: 'network-recordings',
      remedy: 'Choose the base and at least one station nearby.',
    });
  const recordings = await readRecordings(r, name, builder);
  const { orbits, antennas } = await readCompanions(
    r.navPaths,
    r.orbitPaths ?? [],
    r.antennaPaths ?? [],
    name,
    recordings[0].startGps,
  );
  const orbitNames = [...(r.orbitPaths ?? []), ...r.navPaths].map(name).join(', ');
  const places = new Map<string, Float64Array>();
  for (const rec of recordings) {
    checkOrbits(rec.obs, orbits, 0, rec.obs.sow.length, orbitNames);
    checkMotion(rec.obs, orbits, rec.file, 'a receiver at rest');
    if (!places.has(rec.point)) places.set(rec.point, underAntenna(roughPlace(rec, orbits), rec.antennaDeltaM));
  }
  const held = r.held.map((h) => heldPlace(h, recordings));
  for (const h of held) {
    checkHeld(h, places.get(h.name)!, recordings.find((x) => x.point === h.name)!.file);
    places.set(h.name, Float64Array.from(h.heldM!));
  }
  const pairs = independentPairs(recordings, places, r.leastS ?? SHORTEST_SESSION_S);
  const vectors: ComputedVector[] = [];
  // outward from what is held, so that each base is known well when it is needed
  const known = new Set(held.map((h) => h.name));
  const left = [...pairs];
  while (left.length) {
    const at = Math.max(
      0,
      left.findIndex((p) => known.has(p.a.point) || known.has(p.b.point)),
    );
    const [pair] = left.splice(at, 1);
    const vector = computeVector(
      outward(pair, held, known),
      places,
      orbits,
      antennas,
      r.settings ?? {},
      builder,
      part(watch, vectors.length / pairs.length, (vectors.length + 1) / pairs.length),
    );
    vectors.push({ ...vector, session: pair.session, observation: { ...vector.observation, session: pair.session } });
    if (!known.has(vector.to)) {
      const from = places.get(vector.from)!;
      places.set(
        vector.to,
        from.map((v, k) => v + vector.observation.deltaM[k]),
      );
      known.add(vector.to);
    }
  }
  tick(watch, 1, 'Adjusting');
  const system = parseSystem(r.crs);
  const measured = r.measurementsPath ? await openAs('measurements', r.measurementsPath, name(r.measurementsPath)) : [];
  const found = [...new Set(recordings.map((x) => x.point))].filter((p) => !held.some((h) => h.name === p));
  const points: NetworkPoint[] = [...held, ...found.map((n) => ({ name: n }))];
  const terrestrial = joinMeasured(measured, points, r.marks ?? [], places, system, builder);
  const observations: NetworkObservation[] = [...vectors.map((v) => v.observation), ...terrestrial];
  const adjustment = adjustNetwork(points, observations);
  const loops = loopsOf(
    points,
    vectors.map((v) => v.observation),
  );
  const marks = adjustment.points.filter((p) => !p.held).map((p) => toMark(p, system, adjustment));
  networkNotices(builder, vectors, adjustment, loops);
  if (r.outPath) await writeFileWhole(r.outPath, (out) => out.write(marksCsv(marks, r.crs)));
  const report = builder.finish(r.crs, {
    settings: { ...r.settings, held: r.held.map((h) => h.name), shortest_session_s: r.leastS ?? SHORTEST_SESSION_S },
    freedom: adjustment.freedom,
    variance_factor: adjustment.varianceFactor,
    expected: adjustment.expected,
    scale: adjustment.scale,
  });
  return { report, vectors, adjustment, loops, marks };
}

const distance = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

function roughPlace(rec: Recording, orbits: Orbits): Float64Array {
  const found = placeByCodes(rec.obs, orbits);
  if (found) return found;
  throw new Problem('No position can be computed from the codes of this recording.', {
    code: 'network-place',
    file: rec.file,
    remedy: 'Leave it out, or choose the navigation data of its day.',
  });
}

function heldPlace(h: HeldPoint, recordings: Recording[]): NetworkPoint {
  const name = h.name.toUpperCase();
  const recording = recordings.find((x) => x.point === name);
  if (!recording)
    throw new Problem(`There is no recording of ${h.name}, which is to be held.`, {
      code: 'network-name',
      place: h.name,
      remedy: `There are ${[...new Set(recordings.map((x) => x.point))].join(', ')}.`,
    });
  const heldM = h.xyzM ?? recording.obs.approximateM;
  if (!heldM)
    throw new Problem(`${h.name} has no coordinates to be held by.`, {
      code: 'network-held',
      file: recording.file,
      remedy: 'Type them, or choose a mark of the project.',
    });
  return { name, heldM, heldSdM: h.sdM };
}

/** A held point further than this from where its codes put it stands elsewhere, metres. */
const PLAUSIBLE_M = 50;

function checkHeld(h: NetworkPoint, byCodes: ArrayLike<number>, file: string): void {
  const off = distance(h.heldM!, byCodes);
  if (off <= PLAUSIBLE_M) return;
  throw new Problem(
    `The coordinates that ${h.name} is held by are ${off > 1e4 ? `${(off / 1000).toFixed(0)} km` : `${off.toFixed(0)} m`} from where its codes put it.`,
    {
      code: 'network-elsewhere',
      file,
      place: h.name,
      remedy: 'Check signs, order, hemisphere and the kind of height, or hold another point.',
    },
  );
}

/** A pair with the end first whose coordinates are known best. */
function outward(pair: Pair, held: NetworkPoint[], known: Set<string>): Pair {
  const rank = (r: Recording) => (held.some((h) => h.name === r.point) ? 2 : known.has(r.point) ? 1 : 0);
  return rank(pair.a) >= rank(pair.b) ? pair : { ...pair, a: pair.b, b: pair.a };
}

function computeVector(
  { a, b, startGps, endGps }: Pair,
  places: Map<string, Float64Array>,
  orbits: Orbits,
  antennas: Antenna[],
  settings: Partial<KinematicSettings>,
  builder: ReportBuilder,
  watch?: Watch,
): Omit<ComputedVector, 'session'> {
  const fromM = places.get(a.point)!;
  const baseM = overMarker(fromM, a.antennaDeltaM);
  const week = b.obs.week * 604800;
  let [from, to] = [0, b.obs.sow.length];
  while (from < to && b.obs.sow[from] + week < startGps - 1e-3) from++;
  while (to > from && b.obs.sow[to - 1] + week > endGps + 1e-3) to--;
  const lengthM = distance(fromM, places.get(b.point)!);
  const corrections = correctionsOf(b.obs, a.obs, antennas, lengthM, builder);
  // both antennas stand still and are set up to north
  if (corrections.rover.antenna) corrections.rover.pointsNorth = true;
  const used = { ...KINEMATIC_DEFAULTS, ...settings, ...corrections };
  const day = dayOfYear(new Date(unixFromGps(startGps) * 1000));
  const epochs = kinematicPositions(b.obs, a.obs, baseM, orbits, { ...used, dayOfYear: day }, watch, from, to);
  const mean = staticMean(epochs, (settings.noise ?? GNSS_NOISE_DEFAULTS).multipathTauS, baseM);
  if (!mean)
    throw new Problem(`${a.point} and ${b.point} see too few satellites together.`, {
      code: 'network-vector',
      file: b.file,
      remedy: 'Leave one of them out, or lower the elevation mask.',
    });
  const markM = underAntenna(mean.xyzM, b.antennaDeltaM);
  const deltaM = [0, 1, 2].map((k) => markM[k] - fromM[k]);
  return {
    from: a.point,
    to: b.point,
    files: [a.file, b.file],
    startGps,
    mean,
    observation: { kind: 'vector', from: a.point, to: b.point, deltaM, covariance: mean.covariance },
  };
}

/** What was taped and levelled as observations; marks of the list that it names join the network as held. */
function joinMeasured(
  measured: Measurement[],
  points: NetworkPoint[],
  marks: Mark[],
  places: Map<string, Float64Array>,
  system: ReferenceSystem,
  builder: ReportBuilder,
): NetworkObservation[] {
  const inNetwork = (n: string) => points.some((p) => p.name === n);
  const out: NetworkObservation[] = [];
  const strange = new Set<string>();
  const begun = new Set(points.map((p) => p.name));
  for (const m of measured) {
    const ends = [m.from, m.to].map((n) => (begun.has(n.toUpperCase()) ? n.toUpperCase() : n));
    // what joins two marks that are known already says nothing of the network
    if (!ends.some((n) => begun.has(n))) continue;
    const missing = ends.filter((n) => !inNetwork(n) && !marks.some((k) => k.name === n));
    if (missing.length) {
      missing.forEach((n) => strange.add(n));
      continue;
    }
    for (const n of ends) {
      if (inNetwork(n)) continue;
      const mark = marks.find((k) => k.name === n)!;
      const geo = new Float64Array(3);
      system.unproject(mark.eastingM, mark.northingM, mark.heightM, geo);
      const heldM = geodeticToEcef(GRS80, geo[0], geo[1], geo[2]);
      places.set(n, heldM);
      const sd = [mark.sdNM, mark.sdEM, mark.sdHM].map((v) => v ?? MARK_SD_M) as [number, number, number];
      points.push({ name: n, heldM, heldSdM: sd });
    }
    const [from, to] = ends;
    if (m.kind === 'distance') out.push({ kind: 'distance', from, to, valueM: m.valueM, sdM: m.sdM });
    else {
      const [f, t] = [from, to].map((n) => undulationAt(places.get(n)!, system));
      out.push({ kind: 'height', from, to, valueM: m.valueM + t - f, sdM: m.sdM });
    }
  }
  if (strange.size)
    builder.notice({
      code: 'network-measured',
      severity: 'warning',
      place: [...strange].join(', '),
      text: `Measurements to ${[...strange].join(', ')} are not used: neither a recording nor a mark bears that name.`,
    });
  return out;
}

function undulationAt(place: ArrayLike<number>, system: ReferenceSystem): number {
  const geo = ecefToGeodetic(GRS80, place[0], place[1], place[2]);
  return system.geoid.undulation(geo[0], geo[1]);
}

function toMark(p: Adjustment['points'][number], system: ReferenceSystem, adjustment: Adjustment): Mark {
  const geo = ecefToGeodetic(GRS80, p.xyzM[0], p.xyzM[1], p.xyzM[2]);
  const at = new Float64Array(3);
  system.project(geo[0], geo[1], geo[2], at);
  const vectors = adjustment.observations.filter(
    ({ observation: o }) => o.kind === 'vector' && (o.from === p.name || o.to === p.name),
  ).length;
  return {
    name: p.name,
    role: 'unused',
    eastingM: at[0],
    northingM: at[1],
    heightM: at[2],
    sdEM: p.sdM[1],
    sdNM: p.sdM[0],
    sdHM: p.sdM[2],
    note: `static, ${vectors} vector${vectors === 1 ? '' : 's'}`,
  };
}

const axesAt = (place: ArrayLike<number>) => {
  const geo = ecefToGeodetic(GRS80, place[0], place[1], place[2]);
  return ecefToNed(geo[0], geo[1]);
};

/** North, east, down of an Earth-centred difference at a place. */
export function localOf(place: ArrayLike<number>, d: ArrayLike<number>): [number, number, number] {
  const axes = axesAt(place);
  return [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + axes[3 * k + c] * d[c], 0)) as [number, number, number];
}

/** North, east, down, 1 SD, of an Earth-centred covariance (3 × 3) at a place. */
export function localSd(place: ArrayLike<number>, covariance: ArrayLike<number>): [number, number, number] {
  const c = turned(axesAt(place), covariance);
  return [0, 4, 8].map((k) => Math.sqrt(c[k])) as [number, number, number];
}
