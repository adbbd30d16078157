import { readFile } from 'node:fs/promises';
import { DEG, ecefToGeodetic, GRS80 } from '@longheron/core/frames';
import { bandColumns, observationQuality, systemOf, type Observations, type System } from '@longheron/core/gnss';
import { WEEK_S } from '@longheron/core/time';
import { findGaps, nominalStepS } from '@longheron/core/trajectory';
import { toGaps, type FileFacts, type Inspect } from '../format/facts';
import { readObservations } from './observation';
import { SYSTEM_NAMES } from './systems';

const USED: readonly System[] = ['G', 'E'];

/** Facts and findings of RINEX observations. */
export const inspectObservations: Inspect = async ({ path, name }, out) => {
  const { observations: o, notices } = readObservations(await readFile(path), name);
  out.findings.push(...notices);
  out.count = o.sow.length;
  out.startGps = o.week * WEEK_S + o.sow[0];
  out.endGps = o.week * WEEK_S + o.sow[o.sow.length - 1];
  const step = o.sow.length > 1 ? nominalStepS(o.sow) : 0;
  out.rateHz = step > 0 ? Number((1 / step).toFixed(3)) : null;
  // where fewer than four satellites are seen there is nothing to compute with
  const usable = o.sow.filter((_, k) => o.start[k + 1] - o.start[k] >= 4);
  if (usable.length > 1) out.gaps = toGaps(findGaps(usable), o.week);
  const systems = [...new Set(o.satellites.map(systemOf))];
  out.details.push(
    ['Epochs', String(o.sow.length)],
    ['Satellites', `${o.satellites.length}, ${(o.satellite.length / o.sow.length).toFixed(1)} at a time`],
    ...systems.map((s) => [SYSTEM_NAMES[s] ?? s, (o.types[s] ?? []).join(' ')] as [string, string]),
    ['Observer', o.observer || 'not named'],
    ['Marker', o.marker || 'not named'],
    ['Receiver', o.receiver || 'not named'],
    ['Antenna', o.antenna || 'not named'],
    ['Antenna height', `${o.antennaDeltaM[0].toFixed(4)} m, marker to reference point`],
  );
  quality(out, o);
  findings(out, o, systems);
};

/** Codes of a good antenna scatter by less; slips beyond this say that something stands in the way, one in so many. */
const MAX_MULTIPATH_M = 1.5;
const SLIPS_ONE_IN = 150;
const MIN_SATELLITES = 7;

/** Slips, multipath and completeness, from the file alone. */
function quality(out: FileFacts, o: Observations): void {
  const q = observationQuality(o);
  const paths = Object.entries(q.multipathM);
  const metres = (v: number) => v.toFixed(2);
  out.details.push(
    [
      'Both bands',
      `${((100 * q.complete) / Math.max(1, q.rows)).toFixed(1)} %, ${q.mean.toFixed(1)} satellites at a time`,
    ],
    ['Weakest minute', `${q.fewest.toFixed(1)} satellites with both bands`],
    ['Cycle slips', q.slips ? `${q.slips}, one in ${Math.round(q.complete / q.slips)} observations` : 'none'],
    ...paths.map(([s, m]): [string, string] => [
      `Code noise and multipath, ${SYSTEM_NAMES[s] ?? s}`,
      `${metres(m[0])} and ${metres(m[1])} m RMS`,
    ]),
    ...(Number.isFinite(q.strengthDbHz)
      ? [['Signal strength', `${q.strengthDbHz.toFixed(1)} dB-Hz`] as [string, string]]
      : []),
  );
  const warn = (code: string, text: string, effect: string, remedy: string) =>
    out.findings.push({ code, severity: 'warning', text, effect, remedy, place: 'whole file', file: out.name });
  const worst = Math.max(0, ...paths.flatMap(([, m]) => m));
  if (worst > MAX_MULTIPATH_M)
    warn(
      'rinex-multipath',
      `Codes scatter by ${metres(worst)} m.`,
      'Integers take longer to find, and float positions are weaker.',
      'As a base, look for something near the antenna that reflects, or take another.',
    );
  if (q.complete && q.slips * SLIPS_ONE_IN > q.complete)
    warn(
      'rinex-slips',
      `Phases lose count ${q.slips} times, once in ${Math.round(q.complete / q.slips)} observations.`,
      'Positions fall back to float more often.',
      'As a base, take another; of a rover, see where in the computed trajectory.',
    );
  if (q.complete && q.fewest < MIN_SATELLITES)
    warn(
      'rinex-sparse',
      `In its weakest minute ${q.fewest.toFixed(1)} satellites have both bands.`,
      'Positions may be float or missing then.',
      'As a base, take another.',
    );
}

function findings(out: FileFacts, o: Observations, systems: System[]): void {
  const warn = (code: string, text: string, effect: string, remedy: string, place = 'header') =>
    out.findings.push({ code, severity: 'warning', text, effect, remedy, place, file: out.name });
  if (o.approximateM) {
    const [lat, lon, h] = ecefToGeodetic(GRS80, ...o.approximateM);
    const p: [number, number, number] = [lon / DEG, lat / DEG, h];
    out.extent = { min: p, max: p, crs: 'EPSG:4979' };
    out.details.push(['Position in the header', `${p[1].toFixed(6)}° ${p[0].toFixed(6)}° ${h.toFixed(1)} m`]);
  } else
    warn(
      'rinex-position',
      'The header states no position.',
      'It is computed from the codes when needed.',
      'As a base, give its position.',
    );
  if (!o.antenna)
    warn(
      'rinex-antenna',
      'No antenna is named.',
      'Its phase centre is unknown: heights may be off by centimetres.',
      'Enter it from the field record.',
    );
  const unused = systems.filter((s) => !USED.includes(s));
  if (unused.length)
    out.findings.push({
      code: 'rinex-unused',
      severity: 'info',
      file: out.name,
      text: `${unused.map((s) => SYSTEM_NAMES[s] ?? s).join(', ')} are read but not used.`,
    });
  const dual = USED.filter((s) => {
    const types = o.types[s] ?? [];
    return ['2', '5', '7'].some((b) => bandColumns(types, s, b)) && bandColumns(types, s, '1');
  });
  if (dual.length === 0)
    warn(
      'rinex-single',
      'There are no observations on two bands of GPS or Galileo.',
      'Positions to centimetres need two bands here.',
      'Export the file with all signals.',
    );
}
