import { type Mark } from '@longheron/core/accuracy';
import { DEG, ecefToGeodetic, geodeticToEcef, GRS80 } from '@longheron/core/frames';
import { Problem, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { inspectFile } from '@longheron/operations/inspect';
import { adjustRecordings, localOf, localSd, type HeldPoint, type NetworkResult } from '@longheron/operations/network';
import { objectPath, Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

interface Payload {
  recordings: string[];
  navigation: string[];
  orbits: string[];
  calibrations: string[];
  measured?: string;
  known: Mark[];
  names: Record<string, string>;
  crs: string;
  settings: {
    maskDeg: number;
    leastS: number;
    held: Array<{ name: string; mark?: string; sdPlanM: number; sdHeightM: number }>;
    /** Antenna heights that replace those of headers, by place in the list of recordings. */
    antennaHeights?: Array<{ recording: number; heightM: number }>;
  };
}

/** Static vectors and their adjustment; the points found are marks of the project. */
export async function network(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as unknown as Payload;
  const { settings } = p;
  const shelf = new Shelf(r.storeFolder);
  let made!: NetworkResult;
  const csv = await shelf.file(async (path) => {
    made = await adjustRecordings(
      {
        recordings: p.recordings.map((file, i) => ({
          paths: [file],
          antennaHeightM: settings.antennaHeights?.find((a) => a.recording === i)?.heightM,
        })),
        ...{ navPaths: p.navigation, orbitPaths: p.orbits, antennaPaths: p.calibrations, names: p.names, crs: p.crs },
        ...{ measurementsPath: p.measured, marks: p.known },
        held: settings.held.map((h) => heldPoint(h, p.known, p.crs)),
        settings: { maskDeg: settings.maskDeg },
        ...{ leastS: settings.leastS, outPath: path },
      },
      watch,
    );
  }, 'marks');
  const facts = await inspectFile(objectPath(r.storeFolder, csv.sha256), 'Network');
  return {
    name: made.marks.length ? `Network, ${made.marks.map((m) => m.name).join(', ')}` : undefined,
    content: {
      object: csv.sha256,
      facts: { ...facts, path: undefined, findings: undefined },
      marks: made.marks,
      crs: p.crs,
      network: networkContent(made, p.crs),
    },
    contentHash: csv.sha256,
    objects: shelf.objects,
    notices: made.report.notices.map((n) => ({ ...n, place: n.place ?? '' })),
    log: [`${made.vectors.length} vectors, ${made.marks.length} points found.`],
  };
}

function heldPoint(h: Payload['settings']['held'][number], known: Mark[], crs: string): HeldPoint {
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
  return { name: h.name, xyzM: Array.from(geodeticToEcef(GRS80, geo[0], geo[1], geo[2])) as never, sdM };
}

/** What the screen and reports show of an adjustment: metres, north, east, down. */
function networkContent({ vectors, adjustment, loops }: NetworkResult, crs: string): Record<string, unknown> {
  const system = parseSystem(crs);
  const placeOf = new Map(adjustment.points.map((p) => [p.name, p.xyzM]));
  const rounded = (v: ArrayLike<number>, digits = 5) => Array.from(v, (x) => Number(x.toFixed(digits)));
  return {
    points: adjustment.points.map((p) => {
      const geo = ecefToGeodetic(GRS80, p.xyzM[0], p.xyzM[1], p.xyzM[2]);
      const at = new Float64Array(3);
      system.project(geo[0], geo[1], geo[2], at);
      return {
        ...{ name: p.name, held: p.held, checked: p.checked, eastingM: at[0], northingM: at[1], heightM: at[2] },
        ...{ latDeg: geo[0] / DEG, lonDeg: geo[1] / DEG, hEllM: geo[2] },
        ...{ sdM: rounded(p.sdM), movedM: p.movedM ? rounded(p.movedM) : null },
        ellipse: { ...p.ellipse },
      };
    }),
    observations: adjustment.observations.map(({ observation: o, lengthM, residualM, redundancy, test }, i) => {
      const v = vectors[i];
      return {
        ...{ kind: o.kind, from: o.from, to: o.to, lengthM, residualM: rounded(residualM), redundancy },
        test: Number.isNaN(test) ? null : test,
        ...(v
          ? {
              ...{ solution: v.mean.solution, fixedShare: v.mean.fixedShare, epochs: v.mean.epochs, used: v.mean.used },
              ...{ spanS: v.mean.spanS, startGps: v.startGps, files: v.files, scatterM: v.mean.scatterM },
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
