import { type NetworkContent } from '@longheron/contract/kinds';
import declaration from '@longheron/contract/operations/network';
import { type SettingsOf } from '@longheron/contract/declare';
import { type Mark } from '@longheron/core/accuracy';
import { DEG, ecefToGeodetic, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { isAngle } from '@longheron/core/network';
import { Problem } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { computation, placed } from '../computation/types';
import { fileFacts } from '@longheron/formats/format';
import { factsOf } from '../shared/inspect';
import { crsFrom, namesOf } from '../shared/words';
import { adjustRecordings, localOf, localSd, type HeldPoint, type NetworkResult } from './network';

export { adjustRecordings, localOf, localSd, type HeldPoint, type NetworkResult } from './network';

type Held = SettingsOf<(typeof declaration)['settings']>['held'][number];

/** Static vectors and their adjustment; the points found are marks of the project. */
export default computation(declaration, async (inputs, settings, context, out, watch) => {
  const { recordings, navigation, orbits, calibrations, measured } = inputs;
  const crs = crsFrom(context);
  const known = inputs.known.flatMap((k) => k.marks);
  const pathsOf = (list: Array<{ path: string }>) => list.map((f) => f.path);
  if (navigation.length === 0 && orbits.length === 0)
    throw new Problem('Neither navigation nor precise orbits were given.', {
      code: 'input',
      place: 'navigation',
      remedy: 'Choose a navigation file of the sessions.',
    });
  let made!: NetworkResult;
  const csv = await out.file('marks', 'marks', async (outPath) => {
    made = await adjustRecordings(
      {
        recordings: recordings.map(({ path }, i) => ({
          paths: [path],
          antennaHeightM: settings.antennaHeights.find((a) => a.recording === i)?.heightM,
        })),
        navPaths: pathsOf(navigation),
        orbitPaths: pathsOf(orbits),
        antennaPaths: pathsOf(calibrations),
        crs,
        measurementsPath: measured?.path,
        marks: known,
        outPath,
        leastS: settings.leastS,
        names: namesOf([...recordings, ...navigation, ...orbits, ...calibrations, measured]),
        held: settings.held.map((h) => heldPoint(h, known, crs)),
        settings: { maskDeg: settings.maskDeg },
      },
      watch,
    );
  });
  const { report, marks, vectors } = made;
  const title = declaration.resultName;
  return {
    name: marks.length ? `${title}, ${marks.map((m) => m.name).join(', ')}` : undefined,
    content: {
      object: csv.sha256,
      facts: out.keeps ? await factsOf(out.store.path(csv.sha256), title) : fileFacts(title, csv.bytes, 'marks'),
      marks,
      crs,
      network: networkContent(made, crs),
    },
    hash: csv.sha256,
    report: { ...report, notices: placed(report.notices) },
    log: [`${vectors.length} vectors, ${marks.length} points found.`],
    lines: linesOf(made),
  };
});

function heldPoint(h: Held, known: Mark[], crs: string): HeldPoint {
  const sdM: [number, number, number] = [h.sdPlanM, h.sdPlanM, h.sdHeightM];
  if (!h.mark) return { name: h.name, sdM };
  const mark = known.find((m) => m.name === h.mark);
  if (!mark)
    throw new Problem(`There is no mark ${h.mark} to hold ${h.name} by.`, {
      code: 'input',
      place: h.name,
      remedy: 'Choose one of the marks of the project.',
    });
  const geo = new Float64Array(3);
  parseSystem(crs).unproject(mark.eastingM, mark.northingM, mark.heightM, geo);
  const [x, y, z] = geodeticToEcef(GRS80, geo[0], geo[1], geo[2]);
  return { name: h.name, xyzM: [x, y, z], sdM };
}

/** What the screen and reports show of an adjustment: metres, north, east, down. */
function networkContent({ vectors, adjustment, loops }: NetworkResult, crs: string): NetworkContent {
  const system = parseSystem(crs);
  const placeOf = new Map(adjustment.points.map((p) => [p.name, p.xyzM]));
  const rounded = (v: ArrayLike<number>, digits = 5) => Array.from(v, (x) => Number(x.toFixed(digits)));
  return {
    points: adjustment.points.map((p) => {
      const geo = ecefToGeodetic(GRS80, p.xyzM[0], p.xyzM[1], p.xyzM[2]);
      const at = new Float64Array(3);
      system.project(geo[0], geo[1], geo[2], at);
      return {
        name: p.name,
        held: p.held,
        checked: p.checked,
        eastingM: at[0],
        northingM: at[1],
        heightM: at[2],
        latDeg: geo[0] / DEG,
        lonDeg: geo[1] / DEG,
        hEllM: geo[2],
        sdM: rounded(p.sdM),
        movedM: p.movedM ? rounded(p.movedM) : null,
        ellipse: { ...p.ellipse },
      };
    }),
    observations: adjustment.observations.flatMap(({ observation: o, lengthM, residualM, redundancy, test }, i) => {
      if (isAngle(o)) return [];
      const v = vectors[i];
      return {
        kind: o.kind,
        from: o.from,
        to: o.to,
        lengthM,
        residualM: rounded(residualM),
        redundancy,
        test: Number.isNaN(test) ? null : test,
        ...(v
          ? {
              solution: v.mean.solution,
              fixedShare: v.mean.fixedShare,
              epochs: v.mean.epochs,
              used: v.mean.used,
              spanS: v.mean.spanS,
              startGps: v.startGps,
              files: v.files,
              scatterM: v.mean.scatterM,
              valueM: rounded(localOf(placeOf.get(v.from)!, v.observation.deltaM), 4),
              sdM: rounded(localSd(placeOf.get(v.from)!, v.observation.covariance)),
            }
          : { valueM: o.kind === 'vector' ? null : o.valueM, sdM: o.kind === 'vector' ? null : [o.sdM] }),
      };
    }),
    loops: loops.map((l) => ({ ...l, misclosureM: rounded(l.misclosureM), sdM: rounded(l.sdM) })),
    freedom: adjustment.freedom,
    varianceFactor: Number.isNaN(adjustment.varianceFactor) ? null : adjustment.varianceFactor,
    expected: adjustment.freedom > 0 ? adjustment.expected : null,
    scale: adjustment.scale,
  };
}

function linesOf({ vectors, adjustment, loops, marks }: NetworkResult): string[] {
  const mm = (m: number) => (1000 * m).toFixed(1);
  return [
    ...vectors.map((v) => {
      const { deltaM, covariance } = v.observation;
      const km = (Math.hypot(deltaM[0], deltaM[1], deltaM[2]) / 1000).toFixed(2);
      const sd = localSd(adjustment.points.find((p) => p.name === v.to)!.xyzM, covariance);
      return `${v.from} to ${v.to}: ${v.mean.solution}, ${v.mean.used} of ${v.mean.epochs} epochs, ${km} km, 1 SD ${sd.map(mm).join(', ')} mm (N, E, D)`;
    }),
    ...loops.map(
      (l) =>
        `Loop ${l.names.join(' – ')}: ${l.misclosureM.map(mm).join(', ')} mm left over (N, E, D) in ${(l.lengthM / 1000).toFixed(2)} km`,
    ),
    `${adjustment.freedom} observations beyond those needed; variance factor ${adjustment.varianceFactor.toFixed(2)}, expected ${adjustment.expected.map((v) => v.toFixed(2)).join(' to ')}.`,
    ...marks.map((m) => {
      const p = adjustment.points.find((q) => q.name === m.name)!;
      return `${m.name}: E ${m.eastingM.toFixed(4)} N ${m.northingM.toFixed(4)} H ${m.heightM.toFixed(4)}, 1 SD ${mm(m.sdEM!)}, ${mm(m.sdNM!)}, ${mm(m.sdHM!)} mm${p.checked ? '' : '; unchecked'}`;
    }),
  ];
}
