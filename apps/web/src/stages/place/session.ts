import { factsOf, type DatasetDto } from '@longheron/contract/api';
import { type useProject } from '../../stores/project';

type Store = ReturnType<typeof useProject>;

/** What was recorded together: a trajectory, the returns of its time, and the mounting that knows their scanners. */
export interface Session {
  trajectory: number;
  returns: number[];
  mounting: number;
}

/** Share of a recording that lies in the time of another, 0 to 1. */
function covered(recording: DatasetDto, by: DatasetDto): number {
  const [r, t] = [factsOf(recording), factsOf(by)];
  if (!r || !t || r.startGps === null || r.endGps === null || t.startGps === null || t.endGps === null) return 0;
  const both = Math.min(r.endGps, t.endGps) - Math.max(r.startGps, t.startGps);
  return Math.max(0, both) / Math.max(1e-3, r.endGps - r.startGps);
}

const sensorOf = (d: DatasetDto) => factsOf(d)?.details.find(([key]) => key === 'Sensor')?.[1] ?? '';

/** Returns of the time of a trajectory; all of them when none is. */
export function returnsOf(store: Store, trajectory: number): number[] {
  const all = store.ofKind('laser-returns');
  const chosen = store.ofKind('trajectory').find((d) => d.id === trajectory);
  const own = chosen ? all.filter((d) => covered(d, chosen) > 0.2) : [];
  return (own.length ? own : all).map((d) => d.id);
}

/** The chosen mounting while it knows the scanners of the returns, else the latest that does, else the latest. */
export function mountingFor(store: Store, returns: readonly number[], chosen: number): number {
  const wanted = store
    .ofKind('laser-returns')
    .filter((d) => returns.includes(d.id))
    .map(sensorOf)
    .filter(Boolean);
  const able = store.ofKind('mounting').filter((d) => {
    const { sensors } = d.revision.content.mounting;
    return wanted.every((name) => sensors && name in sensors);
  });
  const best = able.find((d) => d.id === chosen) ?? able.at(-1);
  return best?.id ?? (chosen || store.latest('mounting')?.id || 0);
}

/**
 * The session to adjust the strips of: the one with an attitude whose returns are the most, the trajectory as it was before
 * it was corrected by another adjustment.
 */
export function sessionOf(store: Store): Session | undefined {
  const found = store
    .ofKind('trajectory')
    .filter((t) => t.revision.madeBy !== 'adjusted-trajectory')
    .map((t) => ({ t, returns: store.ofKind('laser-returns').filter((r) => covered(r, t) > 0.2) }))
    .filter((s) => s.returns.length);
  const usual = store.trajectory()?.id;
  const best = found.find((s) => s.t.id === usual) ?? found.at(-1);
  if (!best) return undefined;
  const returns = best.returns.map((r) => r.id);
  return { trajectory: best.t.id, returns, mounting: mountingFor(store, returns, 0) };
}
