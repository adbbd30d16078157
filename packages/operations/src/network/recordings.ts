import { joinObservations, type Observations } from '@longheron/core/gnss';
import { Problem } from '@longheron/core/shared';
import { openAs } from '@longheron/formats/registry';
import { type ReportBuilder } from '../shared/report';
import { type NetworkRequest } from './types';

/** A static recording of the network. */
export interface Recording {
  /** Marker in capitals: recordings of one marker are sessions at one point. */
  point: string;
  file: string;
  obs: Observations;
  /** Marker to antenna reference point: up, east, north, metres. */
  antennaDeltaM: [number, number, number];
  startGps: number;
  endGps: number;
}

/** Reads the recordings; a marker without a name cannot be told from others. */
export async function readRecordings(
  r: NetworkRequest,
  name: (path: string) => string,
  builder: ReportBuilder,
): Promise<Recording[]> {
  return Promise.all(
    r.recordings.map(async ({ paths, antennaHeightM }) => {
      const read = await Promise.all(
        paths.map(async (path) => {
          const { observations, notices } = await openAs('gnss-observations', path, name(path));
          for (const n of notices) if (n.severity !== 'info') builder.notice(n);
          return observations;
        }),
      );
      const file = paths.map(name).join(', ');
      const obs = joinObservations(read, paths.map(name), true);
      const point = obs.marker.trim().toUpperCase();
      if (!point)
        throw new Problem('The recording names no marker.', {
          code: 'network-marker',
          file,
          place: 'header, MARKER NAME',
          remedy: 'Write the name of the mark into its header.',
        });
      const [up, east, north] = obs.antennaDeltaM;
      const first = obs.week * 604800;
      return {
        point,
        file,
        obs,
        antennaDeltaM: [antennaHeightM ?? up, east, north] as Recording['antennaDeltaM'],
        startGps: first + obs.sow[0],
        endGps: first + obs.sow[obs.sow.length - 1],
      };
    }),
  );
}

/** Two recordings of two points with the time that they share. */
export interface Pair {
  a: Recording;
  b: Recording;
  startGps: number;
  endGps: number;
  lengthM: number;
}

/**
 * The vectors to compute: of recordings that overlap, those that join all of their points without following from each
 * other, the shortest first; what only repeats others at the same time would be counted twice.
 * @param places rough marks, Earth-centred metres. @param leastS shorter overlaps are no session, seconds.
 */
export function independentPairs(
  recordings: Recording[],
  places: Map<string, ArrayLike<number>>,
  leastS: number,
): Array<Pair & { session: string }> {
  const pairs: Pair[] = [];
  recordings.forEach((a, i) => {
    for (const b of recordings.slice(i + 1)) {
      const [startGps, endGps] = [Math.max(a.startGps, b.startGps), Math.min(a.endGps, b.endGps)];
      if (a.point === b.point || endGps - startGps < leastS) continue;
      const [p, q] = [places.get(a.point)!, places.get(b.point)!];
      pairs.push({ a, b, startGps, endGps, lengthM: Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) });
    }
  });
  pairs.sort((x, y) => x.lengthM - y.lengthM);
  // recordings are joined as trees: a recording takes part once in each, whatever its point does at other times
  const tree = new Map<Recording, number>(recordings.map((r, i) => [r, i]));
  const out = pairs.filter(({ a, b }) => {
    const [ta, tb] = [tree.get(a)!, tree.get(b)!];
    if (ta === tb) return false;
    for (const [r, t] of tree) if (t === tb) tree.set(r, ta);
    return true;
  });
  return out.map((p) => ({ ...p, session: `session ${tree.get(p.a)! + 1}` }));
}
