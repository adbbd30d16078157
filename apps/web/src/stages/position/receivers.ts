import { rankBases } from '@longheron/core/gnss';
import { type Platform } from '@longheron/core/inertial';
import { factsOf, type DatasetDto } from '@longheron/contract/api';

/** Facts of a recording that choosing a base needs. */
export interface GnssFacts {
  startGps: number;
  endGps: number;
  gaps: Array<{ startGps: number; endGps: number }>;
  rateHz: number | null;
  extent: { min: [number, number, number] } | null;
  details: Array<[string, string]>;
}

/** Facts of a recording; of none, a recording without time. */
export function recorded(d: DatasetDto | undefined): GnssFacts {
  const f = factsOf(d);
  return {
    startGps: f?.startGps ?? 0,
    endGps: f?.endGps ?? 0,
    gaps: f?.gaps ?? [],
    rateHz: f?.rateHz ?? null,
    extent: f?.extent ?? null,
    details: f?.details ?? [],
  };
}

/** Share of the first recording's time that the second covers. */
export function overlapShare(a: { startGps: number; endGps: number }, b: { startGps: number; endGps: number }): number {
  const shared = Math.min(a.endGps, b.endGps) - Math.max(a.startGps, b.startGps);
  return Math.max(0, shared) / Math.max(1e-9, a.endGps - a.startGps);
}

/** The base to take for a receiver among others. */
export function proposedBase(rover: DatasetDto, others: DatasetDto[]): number | undefined {
  const { startGps, endGps, extent } = recorded(rover);
  const candidates = others.map((d) => {
    const f = recorded(d);
    const antenna = f.details.find(([k]) => k === 'Antenna')?.[1].trim() ?? '';
    return { ...f, id: d.id, name: d.name, place: f.extent?.min, antenna };
  });
  return rankBases({ startGps, endGps, place: extent?.min }, candidates).proposed;
}

/** The mounting whose name begins most like that of the recording; 0 when there is none. */
export function mountingFor(mountings: DatasetDto[], name: string): number {
  const shared = (other: string) => {
    let n = 0;
    while (n < name.length && name[n] === other[n]) n++;
    return n;
  };
  return [...mountings].sort((a, b) => shared(b.name) - shared(a.name))[0]?.id ?? 0;
}

/** What a recording's name says of what carried the receiver. */
export const platformOf = (name: string): Platform =>
  /flight|air|plane|heli|uav|drone/i.test(name)
    ? 'aircraft'
    : /boat|ship|vessel|launch/i.test(name)
      ? 'boat'
      : 'vehicle';
