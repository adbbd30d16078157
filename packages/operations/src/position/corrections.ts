import { readFile } from 'node:fs/promises';
import {
  type Antenna,
  BroadcastOrbits,
  findAntenna,
  type Observations,
  type Orbits,
  PreciseOrbits,
  type ReceiverCorrections,
} from '@longheron/core/gnss';
import { leapSecondsAtUnix, unixFromGps, WEEK_S } from '@longheron/core/time';
import { readAntennas } from '@longheron/formats/antex';
import { readNavigation } from '@longheron/formats/navigation';
import { joinOrbits, readOrbits } from '@longheron/formats/sp3';
import { type ReportBuilder } from '../shared/report';

/** From this length on what both ends do not share matters: tide, and air that changes; metres. */
export const LONG_BASELINE_M = 10_000;

export interface Companions {
  orbits: Orbits;
  antennas: Antenna[];
}

/** Reads navigation files, precise orbits and antenna calibrations. */
export async function readCompanions(
  navPaths: string[],
  orbitPaths: string[],
  antennaPaths: string[],
  name: (path: string) => string,
  gps: number,
): Promise<Companions> {
  const all = <T>(paths: string[], read: (bytes: Uint8Array, file: string) => T) =>
    Promise.all(paths.map(async (p) => read(await readFile(p), name(p))));
  const antennas = (await all(antennaPaths, readAntennas)).flat();
  const broadcast = new BroadcastOrbits((await all(navPaths, (b, f) => readNavigation(b, f).records)).flat());
  if (orbitPaths.length === 0) return { orbits: broadcast, antennas };
  const table = joinOrbits(await all(orbitPaths, readOrbits));
  return { orbits: new PreciseOrbits(table, antennas, broadcast, leapSecondsAtUnix(unixFromGps(gps))), antennas };
}

/** What both receivers are corrected for, and what cannot be, said. */
export function correctionsOf(
  rover: Observations,
  base: Observations,
  antennas: Antenna[],
  baselineM: number,
  builder: ReportBuilder,
): { rover: ReceiverCorrections; base: ReceiverCorrections } {
  const unixS = unixFromGps(rover.week * WEEK_S + rover.sow[0]);
  const tide = baselineM > LONG_BASELINE_M ? { utcOffsetS: leapSecondsAtUnix(unixS) } : undefined;
  const ends = [
    { who: 'base', header: base.antenna, found: findAntenna(antennas, base.antenna) },
    { who: 'rover', header: rover.antenna, found: findAntenna(antennas, rover.antenna) },
  ];
  const missing = ends.filter((e) => !e.found);
  if (missing.length === 0) {
    for (const e of ends)
      if (e.found!.instead)
        builder.notice({
          code: 'position-radome',
          severity: 'warning',
          text: `Antenna of the ${e.who}, ${e.header.trim()}: ${e.found!.instead}.`,
          effect: 'A radome moves the phase centre by millimetres.',
        });
    return {
      rover: { antenna: ends[1].found!.antenna, tide },
      base: { antenna: ends[0].found!.antenna, pointsNorth: true, tide },
    };
  }
  const same = rover.antenna !== '' && rover.antenna === base.antenna;
  const names = missing.map((e) => `${e.header.trim() || 'an unnamed antenna'} at the ${e.who}`).join(', ');
  builder.notice({
    code: 'position-antenna',
    severity: same ? 'info' : 'warning',
    text: antennas.length
      ? `No calibration is known for ${names}: computed without phase centres at either end.`
      : `Without antenna calibrations phase centres are not applied (${names}).`,
    effect: same
      ? 'Alike antennas take each other out over short distances.'
      : 'Unlike antennas may differ by centimetres in height.',
    remedy: same ? undefined : 'Give calibrations of both antennas (ANTEX).',
  });
  return { rover: { tide }, base: { tide } };
}
